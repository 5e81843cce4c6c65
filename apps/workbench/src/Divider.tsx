import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { useEscape } from './use-escape.js';

interface Props {
  readonly label: string;
  /** Whether what it divides lies side by side, or one above the other. */
  readonly axis: 'x' | 'y';
  /** How much the first side has, in percent. */
  readonly share: number;
  readonly least: number;
  readonly most: number;
  /** Where a double-click goes, and back from there to `most`. */
  readonly usual: number;
  readonly onChange: (share: number) => void;
}

/** Divides what it stands in between two sides: by dragging, with the arrow keys; a double-click makes the first large. */
export function Divider({ label, axis, share, least, most, usual, onChange }: Props) {
  const held = useRef<number>(undefined);
  const give = (next: number) => onChange(Math.min(most, Math.max(least, next)));
  useEscape(() => {
    if (held.current === undefined) return false;
    onChange(held.current);
    held.current = undefined;
    return true;
  });
  const onPointerDown = (event: PointerEvent<HTMLElement>) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    held.current = share;
  };
  const onPointerMove = (event: PointerEvent<HTMLElement>) => {
    if (event.buttons !== 1 || held.current === undefined) return;
    const box = event.currentTarget.parentElement!.getBoundingClientRect();
    give(
      axis === 'x' ? ((event.clientX - box.left) / box.width) * 100 : ((event.clientY - box.top) / box.height) * 100,
    );
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const [less, more] = axis === 'x' ? ['ArrowLeft', 'ArrowRight'] : ['ArrowUp', 'ArrowDown'];
    if (event.key !== less && event.key !== more && event.key !== 'Enter') return;
    event.preventDefault();
    event.stopPropagation();
    if (event.key === 'Enter') toggle();
    else give(share + (event.key === less ? -2 : 2));
  };
  const toggle = () => give(share >= most - 1 ? usual : most);
  return (
    // A separator that can be focused is a widget: https://www.w3.org/TR/wai-aria-1.2/#separator
    // eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions
    <div
      className={`divider is-${axis}`}
      role="separator"
      aria-label={label}
      title={`${label}: drag, or double-click to make it large`}
      aria-orientation={axis === 'x' ? 'vertical' : 'horizontal'}
      aria-valuenow={Math.round(share)}
      aria-valuemin={least}
      aria-valuemax={most}
      tabIndex={0}
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={() => (held.current = undefined)}
      onDoubleClick={toggle}
      onKeyDown={onKeyDown}
    />
  );
}
