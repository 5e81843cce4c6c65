import { press } from './commands.js';

/** What a click leaves the focus on, and has no text to be typed. */
const CONTROLS =
  'button, a, select, input[type="checkbox"], input[type="radio"], input[type="color"], input[type="range"], [role="tab"], [role="button"]';

/** Whether an element is in something that is asked, and has the keyboard until it is answered. */
const isAsked = (element: Element) =>
  element.closest('[role="dialog"], [role="alertdialog"], [role="listbox"]') !== null;

/**
 * Hears the keyboard for the whole page. Keys are commands unless something is being typed: what was clicked with the mouse
 * does not keep them, what was reached with Tab does, and Escape gives them back.
 *
 * @returns what ends it
 */
export function hearKeyboard(): () => void {
  let byPointer = false;
  /** What has the focus by a click. */
  let clicked: EventTarget | null = null;

  const onPointerDown = () => (byPointer = true);
  const onFocusIn = (event: FocusEvent) => (clicked = byPointer ? event.target : null);
  const onClick = ({ target }: Event) => giveBack(target);
  const onChange = ({ target }: Event) => giveBack(target);
  const onKeyDown = (event: KeyboardEvent) => {
    byPointer = false;
    const { target, key } = event;
    if (!(target instanceof HTMLElement) || isAsked(target) || key === 'Tab') return;
    if (target !== clicked || !target.matches(CONTROLS)) return;
    // It is not this control's key, but a command.
    target.blur();
    event.stopPropagation();
    if (press(event)) event.preventDefault();
  };
  const onKey = (event: KeyboardEvent) => {
    const { target, key } = event;
    if (press(event)) event.preventDefault();
    else if (key === 'Escape' && target instanceof HTMLElement && !isAsked(target)) target.blur();
  };

  /** A list is still open when it is clicked; it is done with when something was chosen in it. */
  function giveBack(target: EventTarget | null): void {
    const held = document.activeElement;
    if (!byPointer || !(held instanceof HTMLElement) || held !== clicked || isAsked(held)) return;
    if (held.matches(CONTROLS) && (!held.matches('select') || target === held)) held.blur();
  }

  const onClickButList = (event: Event) => {
    if (!(document.activeElement instanceof HTMLSelectElement)) onClick(event);
  };
  const heard = [
    ['pointerdown', onPointerDown, true],
    ['focusin', onFocusIn, true],
    ['click', onClickButList, false],
    ['change', onChange, false],
    ['keydown', onKeyDown, true],
    ['keydown', onKey, false],
  ] as const;
  for (const [type, listener, capture] of heard) addEventListener(type, listener as EventListener, { capture });
  return () => {
    for (const [type, listener, capture] of heard) removeEventListener(type, listener as EventListener, { capture });
  };
}
