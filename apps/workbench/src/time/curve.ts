import { KINDS, parseEasing, parseTime, type Time } from 'unspool';
import { isSelected } from '../model/actions.js';
import { DEFAULT_FPS, type KeyView } from '../model/keys.js';
import type { TrackRow } from '../model/rows.js';
import { shownClip, type State } from '../model/store.js';
import { numbersOf } from '../model/values.js';
import type { Axis } from '../model/axis.js';

/** One more than there are colors, so that curves of one color have other lines. */
const DASHES: readonly (readonly number[])[] = [[], [6, 3], [2, 3], [9, 3, 2, 3], [12, 4]];

/** One number of a track over time. */
export interface Curve {
  readonly row: TrackRow;
  /** Which number of the property it is. */
  readonly channel: number;
  readonly label: string;
  readonly dash: readonly number[];
}

/** What was drawn, for hit testing: the axes, and everything that can be dragged. */
export interface Drawn {
  readonly axis: Axis;
  readonly y: (value: number) => number;
  readonly value: (y: number) => number;
  readonly grips: readonly Grip[];
}

/** The curves of rows: one for each number that they animate. Colors repeat; their lines and names differ. */
export function curvesOf(rows: readonly TrackRow[]): readonly Curve[] {
  return rows
    .filter(({ kind }) => kind !== 'text')
    .flatMap((row) => {
      const names: readonly string[] = KINDS[row.kind].channels;
      const channels = row.channel >= 0 ? [row.channel] : names.map((_, i) => i);
      return channels.map((channel) => ({
        row,
        channel,
        label: names.length > 1 && row.channel < 0 ? `${row.name} ${names[channel]}` : row.name,
      }));
    })
    .map((curve, i) => ({ ...curve, dash: DASHES[i % DASHES.length]! }));
}

interface Spot {
  readonly at: number;
  readonly value: number;
}

/** Something in a curve that can be dragged: a key, or a handle of the segment that begins or ends at it. */
export interface Grip extends Spot {
  readonly form: 'key' | 'out' | 'in';
  readonly curve: Curve;
  readonly key: KeyView;
  readonly next?: KeyView | undefined;
  /** What it belongs to. */
  readonly from: Spot;
}

/** The number of a key that a curve shows. */
export function numberOf(key: KeyView, { row, channel }: Curve): number | undefined {
  const value = key.value as Parameters<typeof numbersOf>[0];
  if (typeof value === 'boolean') return Number(value);
  const numbers = numbersOf(value);
  return numbers[row.channel >= 0 || numbers.length === 1 ? 0 : channel];
}

/** The keys of a curve, and the handles of the segments that a selected key begins. */
export function gripsOf(curve: Curve, state: State): readonly Grip[] {
  const { selectedKeys } = state;
  const fps = shownClip(state)?.fps ?? DEFAULT_FPS;
  const { row } = curve;
  return row.keys.flatMap((key, i): Grip[] => {
    const value = numberOf(key, curve);
    if (value === undefined || key.frames) return [];
    const here = { at: key.at, value };
    const grip: Grip = { ...here, form: 'key', curve, key, from: here };
    const next = row.keys[i + 1];
    const end = next && numberOf(next, curve);
    if (!next || end === undefined || !isSelected(selectedKeys, row.name, key.at)) return [grip];
    return [...handlesOf(curve, key, next, here, { at: next.at, value: end }, fps), grip];
  });
}

/** Of a cubic-bezier its two points, in time and value; of a curve its handles. */
function handlesOf(curve: Curve, key: KeyView, next: KeyView, start: Spot, end: Spot, fps: number): readonly Grip[] {
  const [length, rise] = [end.at - start.at, end.value - start.value];
  const one = (form: 'out' | 'in', at: number, value: number): Grip => ({
    form,
    at,
    value,
    curve,
    key,
    next,
    from: form === 'out' ? start : end,
  });
  if (key.ease === 'curve') {
    const out = handleOf(key.out, curve, fps) ?? [length / 3, rise / 3];
    const into = handleOf(next.in, curve, fps) ?? [-length / 3, -rise / 3];
    return [one('out', start.at + out[0], start.value + out[1]), one('in', end.at + into[0], end.value + into[1])];
  }
  const reading = parseEasing(key.ease);
  if (!('easing' in reading) || reading.easing.kind !== 'bezier' || rise === 0) return [];
  const [x1, y1, x2, y2] = reading.easing.points;
  return [
    one('out', start.at + x1 * length, start.value + y1 * rise),
    one('in', start.at + x2 * length, start.value + y2 * rise),
  ];
}

/** How far a handle reaches in time, in seconds, and in value. */
function handleOf(handle: unknown, { channel }: Curve, fps: number): readonly [number, number] | undefined {
  if (!Array.isArray(handle)) return undefined;
  const one: unknown = Array.isArray(handle[0]) ? handle[channel] : handle;
  if (!Array.isArray(one)) return undefined;
  const [time, value] = one as unknown as readonly [Time, number];
  return [parseTime(time, fps)!, value];
}
