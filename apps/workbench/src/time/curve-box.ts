import type { Operation } from 'unspool/edit';
import { isSelected, shown } from '../model/actions.js';
import { endOfDrag } from '../model/time-drag.js';
import { showPreview } from '../model/session.js';
import { get, set } from '../model/store.js';
import type { Drawn, Grip } from './curve.js';
import type { Gesture } from './gestures.js';

/** The box around the selected keys of the curves, by whose sides their values are scaled; their times on the ruler too. */

/** How far the box is from the keys, and how near to a side it is grabbed, in pixels. */
const ROOM = 11;
const NEAR = 5;

export interface Box {
  readonly left: number;
  readonly right: number;
  readonly top: number;
  readonly bottom: number;
}

export type Side = keyof Box;

/** The selected keys that the curves show. */
export function pickedGrips({ grips }: Drawn): readonly Grip[] {
  const { selectedKeys } = get();
  return grips.filter(({ form, curve, key }) => form === 'key' && isSelected(selectedKeys, curve.row.name, key.at));
}

/** Around two or more keys that are not one moment. */
export function boxOf(drawn: Drawn): Box | undefined {
  const spots = pickedGrips(drawn).map(({ at, value }) => [drawn.axis.x(at), drawn.y(value)] as const);
  if (spots.length < 2) return undefined;
  const [xs, ys] = [spots.map(([x]) => x), spots.map(([, y]) => y)];
  const [left, right] = [xs.reduce((a, b) => Math.min(a, b)), xs.reduce((a, b) => Math.max(a, b))];
  if (right - left < 1) return undefined;
  const [top, bottom] = [ys.reduce((a, b) => Math.min(a, b)), ys.reduce((a, b) => Math.max(a, b))];
  return { left: left - ROOM, right: right + ROOM, top: top - ROOM, bottom: bottom + ROOM };
}

/** The side of the box under a place. */
export function sideUnder({ left, right, top, bottom }: Box, x: number, y: number): Side | undefined {
  const isBeside = y > top - NEAR && y < bottom + NEAR;
  const isAbove = x > left - NEAR && x < right + NEAR;
  if (isBeside && Math.abs(x - right) < NEAR) return 'right';
  if (isBeside && Math.abs(x - left) < NEAR) return 'left';
  if (isAbove && Math.abs(y - top) < NEAR) return 'top';
  return isAbove && Math.abs(y - bottom) < NEAR ? 'bottom' : undefined;
}

/** Scales the values of the selected keys about the other side. */
export function scaleValues(drawn: Drawn, side: 'top' | 'bottom', startY: number): Gesture | undefined {
  const now = shown();
  const grips = pickedGrips(drawn);
  const values = grips.map(({ value }) => value);
  const [low, high] = [values.reduce((a, b) => Math.min(a, b)), values.reduce((a, b) => Math.max(a, b))];
  if (!now || high - low < 1e-9) return undefined;
  const [about, grabbed] = side === 'top' ? [low, high] : [high, low];
  const { selectedKeys } = get();
  let factor = 1;
  return {
    move(_, y) {
      const to = drawn.value(drawn.y(grabbed) + (y - startY));
      factor = Number(((to - about) / (grabbed - about)).toFixed(3));
      showPreview(
        factor === 1 ? undefined : perTrack(grips, now.name, (channels) => valuesScaled(channels, factor, about)),
      );
    },
    ...endOfDrag(
      () => factor !== 1,
      () => set({ selectedKeys }),
    ),
  };
}

type Change = Readonly<Record<string, unknown>> & { readonly do: 'scale-values' | 'add-values' };
/** Which numbers of a value are meant, of how many; one number where the track is one. */
export type Channels = readonly boolean[];

function valuesScaled(channels: Channels, factor: number, about: number): Change {
  if (channels.length === 1) return { do: 'scale-values', factor, about };
  return {
    do: 'scale-values',
    factor: channels.map((is) => (is ? factor : 1)),
    about: channels.map((is) => (is ? about : 0)),
  };
}

/** One operation for the keys of each track that are shown, for the channels that are. */
export function perTrack(
  grips: readonly Grip[],
  clip: string,
  make: (channels: Channels) => Change,
): Operation | undefined {
  const tracks = new Map<string, { readonly times: Set<number>; readonly channels: boolean[] }>();
  for (const { curve, key } of grips) {
    const { row, channel } = curve;
    const width = row.channel >= 0 ? 1 : Array.isArray(key.value) ? key.value.length : 1;
    let one = tracks.get(row.name);
    if (!one) tracks.set(row.name, (one = { times: new Set(), channels: Array<boolean>(width).fill(false) }));
    one.times.add(key.at);
    one.channels[width === 1 ? 0 : channel] = true;
  }
  const operations = [...tracks].map(
    ([name, { times, channels }]) =>
      ({ ...make(channels), clip, keys: { [name]: [...times] } }) as unknown as Operation,
  );
  if (operations.length < 2) return operations[0];
  return { do: 'group', said: `changed the keys of ${[...tracks.keys()].join(', ')}`, operations };
}
