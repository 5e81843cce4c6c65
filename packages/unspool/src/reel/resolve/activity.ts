import { KINDS } from '../../value/kind.js';
import type { Activation, ResolvedKey, ResolvedTrack } from './track.js';
import { isActivity } from './track.js';

/** What a key of a shape says of when it is active. */
export interface ActivityKey {
  readonly at: number;
  readonly isActive: boolean;
  readonly data: unknown;
}

type ShapeTrack = ResolvedTrack & { readonly activity?: readonly ActivityKey[] };

const HELD = { kind: 'hold' } as const;

/**
 * Adds a track to each shape that has its activity: from its first key to its last, except where it is keyed `null`. A
 * shape that its last key turns on stays active to the end of the clip. When `active` is keyed, that track decides.
 *
 * Keys continue the previous activation; one with data starts another.
 */
export function withActivity(tracks: readonly ShapeTrack[], duration: number | undefined): readonly ResolvedTrack[] {
  const shapes = new Map<string, ShapeTrack[]>();
  for (const track of tracks) {
    const name = `${track.role}.${track.property}`;
    if (track.activity) shapes.set(name, [...(shapes.get(name) ?? []), track]);
  }
  if (shapes.size === 0) return tracks;
  return tracks.flatMap((track): ResolvedTrack[] => {
    if (!track.activity) return [track];
    if (isActivity(track)) return [{ ...track, keys: keysOf(track.activity, false) }];
    const all = shapes.get(`${track.role}.${track.property}`)!;
    if (all.at(-1) !== track || all.some(isActivity)) return [track];
    const message = all.flatMap(({ activity = [] }) => activity).sort((a, b) => a.at - b.at);
    const { role, property, kind } = track;
    const { channels } = KINDS[kind];
    const end = Math.max(...all.map((one) => one.end));
    const own = { name: `${role}.${property}.active`, channel: channels.length - 1, width: 1 };
    return [track, { ...track, ...own, keys: keysOf(message, true, duration), end }];
  });
}

function keysOf(message: readonly ActivityKey[], between: boolean, duration = Infinity): ResolvedKey[] {
  const keys: ResolvedKey[] = [];
  const off = (at: number): ResolvedKey => ({ at, value: [0], easing: HELD });
  let activation: Activation | undefined;
  let since = 0;
  for (const { at, isActive, data } of message) {
    if (at === keys.at(-1)?.at) continue; // a property of it that is keyed at the same time
    if (!isActive) {
      activation = undefined;
      keys.push(off(at));
      continue;
    }
    if (!activation) since = at;
    if (!activation || data !== undefined) activation = { data };
    keys.push({ at, value: [1], easing: HELD, activation });
  }
  const [first, last] = [keys[0], keys.at(-1)];
  if (between && first && last) {
    if (first.at > 0) keys.unshift(off(0));
    if (last.activation && last.at > since && last.at < duration) keys.push(off(justAfter(last.at)));
  }
  return keys;
}

/** The next number, so that at exactly a time what holds until then still does. */
export function justAfter(time: number): number {
  return time + time * 2 ** -52;
}
