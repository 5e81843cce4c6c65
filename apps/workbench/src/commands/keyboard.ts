import { dropTrial, selectKeys } from '../model/actions.js';
import { get } from '../model/store.js';
import { FIXED } from './fixed-commands.js';

/** What a click leaves the focus on, and has no text to be typed. */
const CONTROLS =
  'button, a, select, input[type="checkbox"], input[type="radio"], input[type="color"], input[type="range"], [role="tab"], [role="button"]';

/**
 * Returns whether an element is in something that takes the keyboard: a dialog, until it is answered, and the try-out
 * panel.
 */
const isAsked = (element: Element) =>
  element.closest('[role="dialog"], [role="alertdialog"], [role="listbox"], .pad') !== null;

/**
 * Hears the keyboard for the whole page. Keys are commands unless something is being typed: what was clicked with the mouse
 * does not keep them, what was reached with Tab does, and Escape gives them back.
 *
 * @returns what ends it
 */
export function hearKeyboard(): () => void {
  let byPointer = false;
  /** What was pressed with the mouse; and that of it which has the focus for that, also when it is given it back. */
  const pressed = new WeakSet<EventTarget>();
  let clicked: EventTarget | null = null;

  const onPointerDown = ({ target }: Event) => {
    byPointer = true;
    const control = target instanceof Element ? target.closest(CONTROLS) : null;
    if (control) pressed.add(control);
  };
  const onFocusIn = ({ target }: Event) => (clicked = byPointer && target && pressed.has(target) ? target : null);
  // Controls handle a click themselves: it is noticed before them and handled after them.
  const onClick = ({ target }: Event) => setTimeout(() => giveBack(target, false));
  const onChange = ({ target }: Event) => giveBack(target, true);
  const onKeyDown = (event: KeyboardEvent) => {
    byPointer = false;
    const { target, key } = event;
    if (!(target instanceof HTMLElement) || isAsked(target) || key === 'Tab') return;
    if (target !== clicked || !target.matches(CONTROLS)) return;
    // It is not this control's key, but a command.
    target.blur();
    event.stopPropagation();
    if (press(event, document.body)) event.preventDefault();
  };
  const onKey = (event: KeyboardEvent) => {
    const { target, key } = event;
    if (press(event)) event.preventDefault();
    else if (key === 'Escape' && target instanceof HTMLElement && !isAsked(target)) target.blur();
  };

  /** A list is still open when it is clicked; it is done when an entry was selected. */
  function giveBack(target: EventTarget | null, isChosen: boolean): void {
    const held = document.activeElement;
    if (!byPointer || !(held instanceof HTMLElement) || held !== clicked || isAsked(held)) return;
    if (held.matches('select') ? isChosen && target === held : held.matches(CONTROLS)) held.blur();
  }

  const heard = [
    ['pointerdown', onPointerDown, true],
    ['focusin', onFocusIn, true],
    ['click', onClick, true],
    ['change', onChange, false],
    ['keydown', onKeyDown, true],
    ['keydown', onKey, false],
  ] as const;
  for (const [type, listener, capture] of heard) addEventListener(type, listener as EventListener, { capture });
  return () => {
    for (const [type, listener, capture] of heard) removeEventListener(type, listener as EventListener, { capture });
  };
}

/** How a press of keys is written: `Ctrl+Shift+Z`. On a Mac the command key counts as Ctrl. */
function keyOf(event: KeyboardEvent): string {
  const { key, ctrlKey, metaKey, shiftKey, altKey } = event;
  const named = key === ' ' ? 'Space' : key;
  // A printed character already includes Shift. For letters, Shift counts only together with Ctrl.
  const isPrinted = named.length === 1;
  const withShift = shiftKey && (!isPrinted || ctrlKey || metaKey || named === '<' || named === '>');
  const plain = !isPrinted ? named : withShift ? named.toUpperCase() : named.toLowerCase();
  return [ctrlKey || metaKey ? 'Ctrl' : '', withShift ? 'Shift' : '', altKey ? 'Alt' : '', plain]
    .filter(Boolean)
    .join('+');
}

const byKey = new Map(FIXED.flatMap((command) => command.keys.map((key) => [key, command] as const)));

/** What takes letters: fields, and lists of the browser's, which go to what begins with them. */
const TYPED = 'input:not([type="checkbox"], [type="radio"], [type="color"], [type="range"]), textarea, select';
/** What Space and Enter do something to, where it was reached with Tab. */
const OWN_SPACE = 'button, [role="button"], a, input';

/**
 * Runs what a press means, unless something that takes text has the focus. Returns whether it meant anything.
 *
 * @param on what has the focus
 */
function press(event: KeyboardEvent, on: EventTarget | null = event.target): boolean {
  const target = on instanceof HTMLElement ? on : undefined;
  const { dialog, trial, selectedKeys, selectedMark } = get();
  if (dialog || target?.closest('[role="dialog"]')) return false;
  const isText = target?.matches(TYPED) ?? false;
  const isModified = event.ctrlKey || event.metaKey || event.altKey;
  if (isText && (!isModified || 'cvxa'.includes(event.key))) return false;
  // A button has its Space and Enter to itself.
  if ((event.key === ' ' || event.key === 'Enter') && target?.closest(OWN_SPACE)) return false;
  if (
    event.key.startsWith('Arrow') &&
    target?.closest('[role="tablist"], [role="listbox"]:not(.key-mirror), [role="slider"]')
  )
    return false;
  if (event.key === 'Escape') {
    if (Object.keys(trial).length > 0) dropTrial();
    else if (Object.keys(selectedKeys).length > 0 || selectedMark) selectKeys({});
    else return false;
    return true;
  }
  const command = byKey.get(keyOf(event));
  command?.run();
  return command !== undefined;
}
