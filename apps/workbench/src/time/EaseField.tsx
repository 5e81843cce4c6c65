import { memo, useRef, useState } from 'react';
import { Button, Dialog, DialogTrigger, Popover } from 'react-aria-components';
import { EASING_NAMES } from 'unspool';
import { posedOf, changeSelection } from '../model/actions.js';
import { finishPreview, previewSelection } from '../model/session.js';
import { get } from '../model/store.js';
import { BezierField } from './BezierField.js';
import { EasePicture } from './EasePicture.js';

const MORE = ['cubic-bezier(0.7, 0, 0.9, 0.4)', 'steps(4)', 'spring(0.4)'];
const PRESETS = [...EASING_NAMES.filter((name) => !name.startsWith('step-')), ...MORE];

/** The easing of the selected keys: as pictures, as text, or drawn by hand. */
export const EaseField = memo(function EaseField({
  ease,
  several,
}: {
  readonly ease: string;
  readonly several: boolean;
}) {
  const [open, setOpen] = useState(false);
  const take = (next: string) => {
    changeSelection({ ease: next === 'linear' ? null : next });
    setOpen(false);
  };
  return (
    <span className="ease-field">
      <DialogTrigger isOpen={open} onOpenChange={setOpen}>
        <Button className="ease-button" aria-label={`Easing: ${ease || 'several'}. Change it`}>
          <EasePicture ease={ease || 'linear'} />
        </Button>
        <Popover placement="top" className="popover">
          <Dialog className="ease-dialog" aria-label="Easings">
            <div className="ease-list" role="group" aria-label="Easing presets">
              {PRESETS.map((name) => (
                <button key={name} type="button" aria-pressed={name === ease} onClick={() => take(name)}>
                  <EasePicture ease={name} />
                  <span>{name}</span>
                </button>
              ))}
            </div>
            <BezierField
              ease={ease}
              onChange={(next) => previewSelection({ ease: next }, posedOf(get().selectedKeys))}
              onDone={finishPreview}
            />
          </Dialog>
        </Popover>
      </DialogTrigger>
      <EaseText key={ease} ease={ease} several={several} onTake={take} />
    </span>
  );
});

function EaseText({
  ease,
  several,
  onTake,
}: {
  readonly ease: string;
  readonly several: boolean;
  readonly onTake: (ease: string) => void;
}) {
  const [draft, setDraft] = useState(ease);
  /** Leaving the field takes what is typed, but for Escape. */
  const dropped = useRef(false);
  const take = () => {
    if (!dropped.current && draft.trim() && draft !== ease) onTake(draft.trim());
    dropped.current = false;
  };
  return (
    <input
      className="ease-text"
      aria-label="Easing (CSS syntax)"
      placeholder={several ? 'several' : 'linear'}
      value={draft}
      spellCheck={false}
      onChange={(event) => setDraft(event.currentTarget.value)}
      onBlur={take}
      onKeyDown={(event) => {
        if (event.key === 'Enter') take();
        else if (event.key === 'Escape') {
          dropped.current = true;
          setDraft(ease);
          event.currentTarget.blur();
        }
        event.stopPropagation();
      }}
    />
  );
}
