import { formatEasing, parseEasing, type ClipDocument, type LoopDocument, type TrackDocument } from 'unspool';
import type { Notes } from '../report.js';
import { mixOf } from './colors.js';
import { readDeclaration } from './read-values.js';

/** A keyframe of either format: declarations by property, at a share of the animation. */
export interface InKeyframe {
  /** 0 to 1. */
  readonly offset: number;
  /** `undefined`: the default of the animation. */
  readonly easing: string | undefined;
  readonly declarations: readonly (readonly [property: string, value: string])[];
  /** Where it is written, for notes. */
  readonly at: string;
}

/** When and how often an animation plays. */
export interface InTiming {
  /** Seconds. */
  readonly duration: number;
  readonly iterations: number;
  readonly direction: string;
  readonly fill: string;
}

interface Key {
  at: number;
  value: unknown;
  ease?: string;
}

/** The rest values of roles, by role and property: what CSS takes where a keyframe is missing. */
export type Rests = Readonly<Record<string, Readonly<Record<string, unknown>>>>;

/** A jump takes so long: the first of two keyframes at one offset comes earlier. */
const BEFORE_A_JUMP = 1e-8;

/**
 * Keyframes as tracks of a role.
 *
 * @param usual the easing of keyframes that have none
 */
export function tracksOf(
  role: string,
  keyframes: readonly InKeyframe[],
  duration: number,
  usual: string,
  rests: Rests,
  notes: Notes,
): Record<string, TrackDocument> {
  const found = new Map<string, { keys: Key[]; width: number; mix: 'srgb' | 'oklab' }>();
  const dropped = new Set<string>();
  // Keyframes of one offset stay in the order in which they are written.
  const sorted = keyframes.map((one, i) => [one, i] as const).sort(([a, i], [b, j]) => a.offset - b.offset || i - j);
  for (const [{ offset, easing, declarations, at }] of sorted) {
    for (const [property, text] of declarations) {
      const values = readDeclaration(property, text);
      if (!values) {
        if (!dropped.has(property)) notes.dropped(at, `${property}: ${text.slice(0, 60)}`);
        dropped.add(property);
        continue;
      }
      for (const { property: name, value, width = 1 } of values) {
        const track = found.get(name) ?? { keys: [], width: 0, mix: mixOf(text) as 'srgb' | 'oklab' };
        found.set(name, track);
        track.width = Math.max(track.width, width);
        const ease = easeOf(easing ?? usual, at, notes);
        track.keys.push({ at: offset * duration, value, ...(ease !== 'linear' && { ease }) });
      }
    }
  }
  const tracks: Record<string, TrackDocument> = {};
  for (const [name, track] of found) {
    const keys = whole(name, track.keys, duration, rests[role]?.[name], notes, role);
    const isTurn = keys.some(({ value }) => Array.isArray(value) && value.length === 4) && name === 'rotation';
    for (const key of keys) key.value = widened(name, key.value, track.width, isTurn);
    const options = {
      ...(isTurn && { kind: 'quat' }),
      ...(track.mix === 'oklab' && isColor(keys) && { mix: 'oklab' }),
    };
    tracks[`${role}.${name}`] = (Object.keys(options).length > 0 ? { ...options, keys } : keys) as TrackDocument;
  }
  return tracks;
}

const isColor = (keys: readonly Key[]) => Array.isArray(keys[0]!.value) && keys[0]!.value.length === 4;

/** Easings as reels write them. */
function easeOf(text: string, at: string, notes: Notes): string {
  const reading = parseEasing(text);
  if ('problem' in reading) {
    notes.dropped(at, `the easing ${text.slice(0, 60)}: ${reading.problem.message}`);
    return 'linear';
  }
  const { easing } = reading;
  // What holds until the next key is called so.
  return easing.kind === 'steps' && easing.n === 1 && easing.jump.endsWith('end') ? 'hold' : formatEasing(easing);
}

/** Keys from the beginning to the end: where CSS takes the element's own value, that is keyed. */
function whole(name: string, keys: Key[], duration: number, rest: unknown, notes: Notes, role: string): Key[] {
  const own = rest ?? RESTS[name];
  const [first, last] = [keys[0]!, keys.at(-1)!];
  const isOpen = first.at > 0 || last.at < duration - 1e-9;
  if (isOpen && own === undefined) notes.approximated(name, `${role}.${name} has no keyframe at both ends; the nearest one is held`); // prettier-ignore
  if (isOpen && own !== undefined) {
    if (first.at > 0) keys.unshift({ at: 0, value: own });
    if (last.at < duration - 1e-9) keys.push({ at: duration, value: own });
  }
  for (let i = 0; i + 1 < keys.length; i++) {
    const [key, next] = [keys[i]!, keys[i + 1]!];
    if (next.at - key.at > BEFORE_A_JUMP / 2) continue;
    const before = keys[i - 1];
    // The later of two wins; the earlier one is where the segment before it goes.
    const isNeeded = before && next.at - before.at > BEFORE_A_JUMP;
    if (!isNeeded || i === 0) keys.splice(i--, 1);
    else {
      key.at = Math.max(next.at - BEFORE_A_JUMP, (before.at + next.at) / 2);
      key.ease = 'hold';
    }
  }
  // What holds to the end needs no key there.
  const before = keys.at(-2);
  if (before?.ease === 'hold' && JSON.stringify(before.value) === JSON.stringify(keys.at(-1)!.value)) keys.pop();
  delete keys.at(-1)!.ease;
  return keys;
}

const RESTS: Readonly<Record<string, unknown>> = {
  ...{ position: [0, 0], rotation: 0, scale: [1, 1], opacity: 1, visible: true },
};

/** Vectors of one track have one width, and rotations about z become quaternions beside others. */
function widened(name: string, value: unknown, width: number, isTurn: boolean): unknown {
  if (isTurn && typeof value === 'number') {
    const half = (value * Math.PI) / 360;
    return [0, 0, Math.sin(half), Math.cos(half)];
  }
  if (width === 3 && Array.isArray(value) && value.length === 2)
    return [...(value as number[]), name === 'scale' ? 1 : 0];
  return value;
}

/** How a clip repeats, and what it leaves. */
export function playing({ iterations, direction, fill }: InTiming, at: string, notes: Notes): Partial<ClipDocument> {
  const alternates = direction.startsWith('alternate');
  const isBack = direction.endsWith('reverse');
  const mode = alternates ? 'ping-pong' : iterations === 1 ? 'once' : 'loop';
  const loop: LoopDocument | undefined =
    mode === 'once' ? undefined : Number.isFinite(iterations) ? { mode, count: iterations } : mode;
  if (fill === 'backwards' || fill === 'both') notes.kept(at, `fill ${fill}: a playback shows its first pose at once`);
  if (alternates && isBack && Number.isFinite(iterations) && iterations % 2 === 0)
    notes.approximated(at, `${direction} ${iterations} times begins at the start, not at the end`);
  return {
    ...(loop !== undefined && { loop }),
    ...(isBack && { rate: -1 }),
    ...((fill === 'none' || fill === 'backwards' || fill === 'auto') && { after: 'rest' as const }),
  };
}
