import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { setStatus } from '../model/store.js';
import { evaluate, shortNumber, VALUE_UNITS, type Units } from './expression.js';

export interface NumberFieldProps {
  readonly label: string;
  readonly value: number;
  /** During a drag: called for each value. */
  readonly onChange: (value: number) => void;
  /** Called at the end of a drag or when Enter was pressed; for values that are only shown until then. */
  readonly onDone?: (() => void) | undefined;
  /** Escape while it is scrubbed. */
  readonly onCancel?: () => void;
  /** By how much an arrow key or a pixel changes it. */
  readonly step?: number;
  readonly units?: Units;
  readonly show?: (value: number) => string;
  readonly className?: string;
  /** A typed number beyond these bounds is refused with a message; arrow keys and scrubbing stop at them. */
  readonly least?: number | undefined;
  readonly most?: number | undefined;
}

/** A number that can be typed, with arithmetic; changed by the arrow keys; or scrubbed by dragging across it. */
export function NumberField({
  label,
  value,
  onChange,
  onDone = () => {},
  onCancel,
  step = 1,
  units = VALUE_UNITS,
  show = shortNumber,
  className = '',
  least = -Infinity,
  most = Infinity,
}: NumberFieldProps) {
  // The typed text; also in a ref, because leaving the field comes before it is rendered again.
  const typed = useRef<string>(undefined);
  const [draft, showDraft] = useState<string>();
  const setDraft = (text: string | undefined) => {
    typed.current = text;
    showDraft(text);
  };
  const drag = useRef<{ x: number; value: number; moved: boolean } | undefined>(undefined);
  const typedNumber = draft === undefined || draft.trim() === '' ? value : evaluate(draft, value, units);
  const fault = typedNumber === undefined || typedNumber < least || typedNumber > most;

  const give = (next: number) => onChange(Math.min(most, Math.max(least, Number(next.toFixed(6)))));
  const take = () => {
    const text = typed.current;
    setDraft(undefined);
    const next = text === undefined ? undefined : evaluate(text, value, units);
    if (next === undefined || Math.abs(next - value) < 1e-9) return;
    if (next < least || next > most) {
      const bounds = most === Infinity ? `${show(least)} or more` : `a value from ${show(least)} to ${show(most)}`;
      setStatus(`${label}: ${text} is out of range. Enter ${bounds}.`, true);
      return;
    }
    give(next);
    onDone();
  };

  /** Cancels a drag and restores the value before it. */
  const cancel = () => {
    drag.current = undefined;
    onCancel?.();
  };

  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>) => {
    const field = event.currentTarget;
    const isAsked = field.closest('[role="dialog"]') !== null;
    if (event.key === 'Enter') {
      take();
      // Its keys are commands again; in a dialog, which has none, it can be typed on.
      if (isAsked) field.select();
      else field.blur();
    } else if (event.key === 'Escape') {
      // The first drops what is typed, the second closes the dialog.
      if (isAsked && draft === undefined && !drag.current) return;
      if (drag.current) cancel();
      setDraft(undefined);
      if (!isAsked) field.blur();
    } else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
      event.preventDefault();
      const by = step * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1);
      setDraft(undefined);
      give(value + (event.key === 'ArrowUp' ? by : -by));
      onDone();
    } else return;
    event.stopPropagation();
  };
  const onPointerDown = (event: PointerEvent<HTMLInputElement>) => {
    if (event.button !== 0 || document.activeElement === event.currentTarget) return;
    drag.current = { x: event.clientX, value, moved: false };
    event.currentTarget.setPointerCapture(event.pointerId);
  };
  const onPointerMove = (event: PointerEvent<HTMLInputElement>) => {
    const from = drag.current;
    if (!from) return;
    const by = event.clientX - from.x;
    if (!from.moved && Math.abs(by) < 4) return;
    from.moved = true;
    give(from.value + Math.round(by / 2) * step * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1));
  };
  const onPointerUp = (event: PointerEvent<HTMLInputElement>) => {
    const from = drag.current;
    drag.current = undefined;
    if (from?.moved) {
      event.currentTarget.blur();
      onDone();
    } else if (from) event.currentTarget.select();
  };
  return (
    <input
      className={`number ${className}`}
      aria-label={label}
      aria-invalid={fault}
      title={`${label}: type a number, +8 or *1.5; drag to change it`}
      inputMode="text"
      spellCheck={false}
      autoComplete="off"
      value={draft ?? show(value)}
      onFocus={(event) => event.currentTarget.select()}
      onChange={(event) => setDraft(event.currentTarget.value)}
      onBlur={take}
      onKeyDown={onKeyDown}
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={onPointerUp}
      onPointerCancel={cancel}
      // Its text, which is selected when it gets the focus, is not what is dragged.
      onDragStart={(event) => event.preventDefault()}
    />
  );
}
