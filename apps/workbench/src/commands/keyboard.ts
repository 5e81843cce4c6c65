import { press } from './commands.js';

/** What a click leaves the focus on, and has no text to be typed. */
const CONTROLS =
  'button, a, select, input[type="checkbox"], input[type="radio"], input[type="color"], input[type="range"], [role="tab"], [role="button"]';

/** Whether an element is in something that has the keyboard: what is asked, until it is answered, and the pad. */
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
  // Controls keep a click to themselves: it is heard before them, and acted on when they are done with it.
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

  /** A list is still open when it is clicked; it is done with when something was chosen in it. */
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
