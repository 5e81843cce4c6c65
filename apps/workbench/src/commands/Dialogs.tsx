import { useState, type KeyboardEvent } from 'react';
import { flushSync } from 'react-dom';
import {
  Autocomplete,
  Button,
  Dialog,
  Heading,
  Input,
  ListLayout,
  Menu,
  MenuItem,
  Modal,
  ModalOverlay,
  TextField,
  useFilter,
  Virtualizer,
} from 'react-aria-components';
import { settle } from '../model/session.js';
import { get, set, useStore, type Question } from '../model/store.js';
import { commands } from './commands.js';
import type { Command } from './fixed-commands.js';

const close = () => set({ dialog: undefined });

/** Whichever dialog is open. */
export function Dialogs() {
  const dialog = useStore((state) => state.dialog);
  return (
    <ModalOverlay
      className="veil"
      isOpen={dialog !== undefined}
      onOpenChange={(open) => !open && close()}
      isDismissable={dialog !== 'outside'}
    >
      <Modal className={`modal ${dialog === 'commands' || dialog === 'keys' ? 'is-tall' : ''}`}>
        {dialog === 'commands' && <CommandList />}
        {dialog === 'keys' && <KeyHelp />}
        {dialog === 'outside' && <OutsideChange />}
        {typeof dialog === 'object' && <Asked {...dialog} />}
      </Modal>
    </ModalOverlay>
  );
}

/** What a command is found by. */
const textOf = ({ name, group, words }: Command) => `${name} ${group} ${words}`;

/** Pixels. */
const ROW = 28;

function CommandList() {
  const all = commands(get());
  const { contains } = useFilter({ sensitivity: 'base' });
  // Words in any order: "clip new" finds "New clip".
  const matches = (text: string, typed: string) => typed.split(/\s+/).every((word) => contains(text, word));
  const run = (name: string) => {
    // At once: a key pressed after Enter must come after the command, and before a timer the browser may handle keys first.
    flushSync(close);
    all.find((one) => one.name === name)?.run();
  };
  // The list marks its first row a moment after a letter was typed; Enter before that means the same row.
  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>) => {
    if (event.key !== 'Enter' || event.currentTarget.hasAttribute('aria-activedescendant')) return;
    const typed = event.currentTarget.value;
    const first = all.find((command) => matches(textOf(command), typed));
    if (first) run(first.name);
  };
  return (
    <Dialog className="commands" aria-label="Commands">
      <Autocomplete filter={matches}>
        <TextField aria-label="Find a command" autoFocus>
          <Input placeholder="Search commands" onKeyDown={onKeyDown} />
        </TextField>
        {/* Only the rows in view are made: there are more than a hundred. */}
        <Virtualizer layout={ListLayout} layoutOptions={{ rowHeight: ROW }}>
          <Menu
            ref={(list) => list?.setAttribute('tabindex', '0')} // so that the keyboard can scroll it too
            className="command-list"
            aria-label="Commands"
            onAction={(key) => run(String(key))}
          >
            {all.map((command) => (
              <MenuItem key={command.name} id={command.name} textValue={textOf(command)} className="command">
                <span className="group">{command.group}</span>
                <span className="name">{command.name}</span>
                <Keys command={command} />
              </MenuItem>
            ))}
          </Menu>
        </Virtualizer>
      </Autocomplete>
    </Dialog>
  );
}

const SYMBOLS: Readonly<Record<string, string>> = { ArrowRight: '→', ArrowLeft: '←', ArrowUp: '↑', ArrowDown: '↓' };

function Keys({ command: { keys } }: { readonly command: Command }) {
  return (
    <span className="keys-of">
      {keys.map((key) => (
        <kbd key={key}>{describeKey(key)}</kbd>
      ))}
    </span>
  );
}

/** `Shift →` of `Shift+ArrowRight`. */
function describeKey(key: string): string {
  const parts = key.length === 1 ? [key] : key.split('+');
  return parts.map((part) => SYMBOLS[part] ?? (part.length === 1 ? part.toUpperCase() : part)).join(' ');
}

function KeyHelp() {
  const all = commands(get()).filter(({ keys }) => keys.length > 0);
  const groups = [...new Set(all.map(({ group }) => group))];
  return (
    <Dialog className="key-help">
      <Heading slot="title">Keyboard shortcuts</Heading>
      <p>
        Tracks: the up and down arrows move between tracks, Enter selects the key at the playhead. Stage: the arrows
        move the selected role, with Shift by 10. Numbers: the arrows change the value; you can also type <kbd>+8</kbd>,{' '}
        <kbd>*1.5</kbd> or <kbd>3f</kbd>. Drag keys to move them, with Alt to move what is later too. Ruler: drag with
        Shift to set a range, drag the tab at the end of the clip to make it longer or shorter, with Alt to scale it;
        drag the brackets to scale the selected keys. Double-click a curve to add a key. Ctrl and the wheel zooms.
      </p>
      <div className="key-groups">
        {groups.map((group) => (
          <section key={group}>
            <h3>{group}</h3>
            <dl>
              {all
                .filter((one) => one.group === group)
                .map((command) => (
                  <div key={command.name}>
                    <dt>{command.name}</dt>
                    <dd>
                      <Keys command={command} />
                    </dd>
                  </div>
                ))}
            </dl>
          </section>
        ))}
      </div>
      <Button slot="close" className="text-button" autoFocus>
        Close
      </Button>
    </Dialog>
  );
}

/** A question with a few fields. When the input is refused, it says why, and the dialog stays open. */
function Asked({ title, action, fields, lines, run }: Question) {
  const [typed, setTyped] = useState(fields.map(({ value }) => value));
  const fault = useStore((state) => (state.status.isFault ? state.status.message : ''));
  return (
    <Dialog>
      <form
        className="question"
        onSubmit={(event) => {
          event.preventDefault();
          if (run(...typed.map((text) => text.trim()))) close();
        }}
      >
        <Heading slot="title">{title}</Heading>
        {fields.map(({ label, options }, i) => (
          <label key={label} className="field is-long">
            <span>{label}</span>
            {options ? (
              <select
                aria-label={label}
                value={typed[i]}
                onChange={({ currentTarget }) => setTyped(typed.with(i, currentTarget.value))}
              >
                {options.map((option) => (
                  <option key={option}>{option}</option>
                ))}
              </select>
            ) : (
              <Input
                autoFocus={i === 0}
                value={typed[i]}
                onChange={(event) => setTyped(typed.with(i, event.currentTarget.value))}
                spellCheck={false}
              />
            )}
          </label>
        ))}
        {lines && (
          <ul className="report" aria-label="Report" ref={(list) => list?.setAttribute('tabindex', '0')}>
            {lines.map((line, i) => (
              <li key={i}>{line}</li>
            ))}
          </ul>
        )}
        <p className="fault" role="alert">
          {fault}
        </p>
        <div className="actions">
          {fields.length > 0 && (
            <Button slot="close" className="text-button">
              Cancel
            </Button>
          )}
          <Button type="submit" className="text-button is-main" autoFocus={fields.length === 0}>
            {action}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

/** The file was changed by somebody else where it was changed here too: both sides, and what becomes of them. */
function OutsideChange() {
  const outside = useStore((state) => state.file.outside);
  if (!outside) return null;
  const take = (what: Parameters<typeof settle>[0]) => {
    settle(what);
    close();
  };
  const list = (items: readonly string[]) => (
    <ul>
      {items.slice(0, 12).map((item) => (
        <li key={item}>{item}</li>
      ))}
      {items.length > 12 && <li>{items.length - 12} more</li>}
    </ul>
  );
  return (
    <Dialog className="outside" role="alertdialog">
      <Heading slot="title">The file was changed by another program</Heading>
      <p>{outside.summary}. Nothing is saved until you decide which version to keep. Your work is kept.</p>
      {outside.why === 'conflict' && (
        <div className="sides">
          <section>
            <h3>Your changes</h3>
            {list(outside.ours)}
          </section>
          <section>
            <h3>Changes in the file</h3>
            {list(outside.theirs)}
          </section>
        </div>
      )}
      <div className="actions">
        {outside.why === 'conflict' && (
          <>
            <Button className="text-button" onPress={() => take('theirs')}>
              Use the file
            </Button>
            <Button className="text-button is-main" onPress={() => take('merged')} autoFocus>
              Merge; keep mine in conflicts
            </Button>
          </>
        )}
        <Button className="text-button" onPress={() => take('ours')}>
          Overwrite the file with mine
        </Button>
        <Button className="text-button" onPress={close}>
          Decide later
        </Button>
      </div>
    </Dialog>
  );
}
