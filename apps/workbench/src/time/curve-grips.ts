import { KINDS, parseEasing } from 'unspool';
import type { Operation } from 'unspool/edit';
import {
  isSelected,
  keysMoved,
  selectedCount,
  selection,
  selectKeys,
  shiftSelection,
  shown,
  toggled,
  type Shown,
} from '../model/actions.js';
import { writeAt } from '../model/keys.js';
import { showPreview } from '../model/session.js';
import { endOfDrag } from '../model/time-drag.js';
import { perTrack, pickedGrips } from './curve-box.js';
import { get, set } from '../model/store.js';
import { numberOf, type Drawn, type Grip } from './curve.js';
import type { Gesture } from './gestures.js';
import { withNumber } from '../model/values.js';

const REACH = 8;

export function gripUnder({ axis, y, grips }: Drawn, px: number, py: number): Grip | undefined {
  const near = grips
    .map((grip) => ({ grip, off: Math.hypot(axis.x(grip.at) - px, y(grip.value) - py) }))
    .filter(({ off }) => off <= REACH);
  return near.sort((a, b) => a.off - b.off)[0]?.grip;
}

/** Drags keys in time and value, or a handle. */
export function holdGrip(drawn: Drawn, grip: Grip, startX: number, startY: number, add: boolean): Gesture {
  const now = shown()!;
  const { axis, y, value: valueAt } = drawn;
  const { curve, key } = grip;
  const track = curve.row.name;
  if (grip.form === 'key') {
    const { selectedKeys } = get();
    if (!isSelected(selectedKeys, track, key.at)) selectKeys(toggled(add ? selectedKeys : {}, track, key.at));
    set({ row: track, role: curve.row.role });
  }
  const { selectedKeys: before } = get();
  const picked = grip.form === 'key' ? pickedGrips(drawn) : [];
  let isMoved = false;
  const operation = (x: number, py: number, fine: boolean): Operation | undefined => {
    const at = axis.seconds(x);
    const value = valueAt(y(grip.value) + (py - startY));
    if (grip.form !== 'key') return handleMoved(now, grip, at, value);
    const step = fine ? 0.01 : stepFor(valueAt);
    const next = Math.round(value / step) * step;
    const by = Math.abs(py - startY) < 3 ? 0 : next - grip.value;
    const frames = Math.round(((x - startX) / axis.scale) * now.fps);
    const keys = selection(before);
    const moved = frames === 0 || !keys ? [] : [keysMoved(keys, frames, false)];
    set({ selectedKeys: before });
    if (frames !== 0) shiftSelection(frames / now.fps);
    const changed = by === 0 ? undefined : picked.length < 2 ? valueSet(next) : valuesAdded(by);
    const operations = [...(changed ? [changed] : []), ...moved];
    if (operations.length < 2) return operations[0];
    return { do: 'group', said: `moved ${selectedCount(before)} keys in time and value`, operations };
  };
  const valuesAdded = (by: number) =>
    perTrack(picked, now.name, (channels) => {
      const amount = Number(by.toFixed(4));
      return { do: 'add-values', by: channels.length === 1 ? amount : channels.map((is) => (is ? amount : 0)) };
    });
  const valueSet = (next: number): Operation => {
    const written = key.value as Parameters<typeof withNumber>[0];
    const channel = curve.row.channel >= 0 ? 0 : curve.channel;
    return {
      do: 'set-keys',
      clip: now.name,
      keys: { [track]: [key.at] },
      value: withNumber(written, channel, Number(next.toFixed(4))),
    };
  };
  return {
    move(x, py, event) {
      if (!isMoved && Math.hypot(x - startX, py - startY) < 3) return;
      isMoved = true;
      showPreview(operation(x, py, event.altKey));
    },
    ...endOfDrag(
      () => isMoved,
      () => set({ selectedKeys: before }),
    ),
    lengthens: true,
  };
}

/** A round step of about a pixel. */
function stepFor(valueAt: (y: number) => number): number {
  const pixel = Math.abs(valueAt(0) - valueAt(1));
  return 10 ** Math.ceil(Math.log10(pixel));
}

const round = (n: number) => Number(n.toFixed(4));

function handleMoved(
  { name: clip, clip: written, fps }: Shown,
  { curve, key, next, form }: Grip,
  at: number,
  value: number,
): Operation {
  const { row } = curve;
  const track = row.name;
  const [start, end] = [numberOf(key, curve)!, numberOf(next!, curve)!];
  const [length, rise] = [next!.at - key.at, end - start];
  if (key.ease === 'curve') {
    const isOut = form === 'out';
    const [owner, from] = isOut ? [key, start] : [next!, end];
    // To a tenth of a frame: less is not seen.
    const time = (seconds: number) => writeAt(Math.round(seconds * fps * 10) / (10 * fps), fps, written);
    const moved = [time(at - owner.at), round(value - from)] as const;
    const width = row.channel >= 0 ? 1 : KINDS[row.kind].channels.length;
    const was: unknown = isOut ? key.out : next!.in;
    const list = Array.from({ length: width }, (_, k) =>
      k === curve.channel ? moved : ((was as unknown[] | undefined)?.[k] ?? [time((isOut ? length : -length) / 3), 0]),
    );
    return { do: 'set-keys', clip, keys: { [track]: [owner.at] }, [form]: width === 1 ? moved : list };
  }
  const reading = parseEasing(key.ease);
  const points =
    'easing' in reading && reading.easing.kind === 'bezier' ? [...reading.easing.points] : [0.4, 0, 0.6, 1];
  const k = form === 'out' ? 0 : 2;
  points[k] = Number(Math.min(1, Math.max(0, (at - key.at) / length)).toFixed(2));
  points[k + 1] = Number(((value - start) / rise).toFixed(2));
  return { do: 'set-keys', clip, keys: { [track]: [key.at] }, ease: `cubic-bezier(${points.join(', ')})` };
}
