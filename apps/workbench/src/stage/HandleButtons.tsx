import { useEffect, useState, type KeyboardEvent, type RefObject } from 'react';
import { finishTrial, tryValues } from '../model/actions.js';
import type { Handle, Placed } from './handles.js';
import type { Point } from './outline.js';
import type { StageView } from './view.js';

const ARROWS: Readonly<Record<string, Point>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/**
 * Handles as buttons over the stage: they can be dragged, and the arrow keys move them by one unit or rotate them by
 * one degree; with Shift by ten.
 */
export function Handles({ view }: { readonly view: RefObject<StageView | undefined> }) {
  const [placed, setPlaced] = useState<readonly Placed[]>([]);
  useEffect(() => {
    view.current?.tellHandles(setPlaced);
  }, [view]);
  return placed.map(({ handle, x, y }) => (
    <button
      key={handle.label}
      type="button"
      className={`handle is-${handle.form}`}
      aria-label={handle.label}
      title={handle.label}
      style={{ left: x, top: y }}
      onKeyDown={(event) => move(event, handle, placed[0]!.handle)}
    />
  ));
}

function move(event: KeyboardEvent, handle: Handle, origin: Handle): void {
  const arrow = ARROWS[event.key];
  if (!arrow || event.ctrlKey || event.metaKey || event.altKey) return;
  event.preventDefault();
  event.stopPropagation();
  const far = event.shiftKey ? 10 : 1;
  const [x, y] = handle.at;
  const to: Point =
    handle.form === 'turn'
      ? turned(handle.at, origin.at, (arrow[0] - arrow[1]) * far)
      : [x + arrow[0] * far, y + arrow[1] * far];
  tryValues(handle.drag(to, handle.at, true));
  finishTrial();
}

/** A point turned about another, in degrees: toward +y from +x. */
function turned([x, y]: Point, [ox, oy]: Point, degrees: number): Point {
  const angle = (degrees * Math.PI) / 180;
  const [dx, dy] = [x - ox, y - oy];
  return [ox + dx * Math.cos(angle) - dy * Math.sin(angle), oy + dx * Math.sin(angle) + dy * Math.cos(angle)];
}
