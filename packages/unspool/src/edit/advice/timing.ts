import type { ReelDocument } from '../../reel/document/document.js';
import { isActivity, type ResolvedTrack } from '../../reel/resolve/track.js';
import { KINDS, type Kind } from '../../value/kind.js';
import { most } from '../../value/number.js';
import { defaultRest, isMultiplied } from '../../value/property.js';
import { readValue, TextTable } from '../../value/read.js';
import { parseTime } from '../../time/units.js';
import { isWholeShape } from '../track-curve.js';
import { lengthOf } from '../operations/frame-rows.js';
import { isRow, secondsAt } from '../document-access.js';
import { formatNumbers, type ClipView, type Finding, type TrackView } from './advice.js';

/** A key that is off by less than this share of a frame was meant to be on it. */
const HAIR = 0.05;

/** A track that begins after 0: before its first key it shows that key's value, which is easily forgotten. */
export function lateStart({ document, fps, name, formatSeconds, tracks }: ClipView): Finding[] {
  return tracks.flatMap(({ name: track, path, keys, curve }): Finding[] => {
    const first = secondsAt(keys[0]!, fps);
    if (!(first > 0) || isWholeShape(curve.track) || isActivity(curve.track)) return [];
    // It begins with the value that is shown anyway.
    if (isAtRest(curve.track.space, curve.track.property, curve.at(0), restOf(document, curve.track))) return [];
    const value = saidFirst(curve.track.kind, keys[0]!, curve.at(0));
    return [
      {
        code: 'late-start',
        path,
        of: 'name',
        message: `the first key of ${track} is at ${formatSeconds(first)}, so it shows ${value} from the start`,
        hint: 'add a key at 0',
        fix: [{ do: 'insert-key', clip: name, track, at: 0 }],
        safe: true,
      },
    ];
  });
}

/** The rest value of what a track animates. */
function restOf(document: ReelDocument, { role, property, kind, channel, width }: ResolvedTrack): readonly number[] {
  const written = document.roles?.[role]?.rest?.[property];
  const rest =
    (written === undefined ? undefined : readValue(kind, written, new TextTable())) ?? defaultRest(property, kind);
  return channel < 0 ? rest : rest.slice(channel, channel + width);
}

function isAtRest(space: string, property: string, first: readonly number[], rest: readonly number[]): boolean {
  // An offset of nothing is rest, wherever the object is.
  const neutral = space === 'offset' ? first.map(() => (isMultiplied(property) ? 1 : 0)) : rest;
  return first.every((n, k) => Math.abs(n - neutral[k]!) < 1e-9);
}

function saidFirst(kind: string, key: TrackView['keys'][number], numbers: readonly number[]): string {
  const isWord = kind === 'text' || kind === 'flag' || kind === 'color';
  return isWord && !isRow(key) ? JSON.stringify(key.value) : formatNumbers(numbers);
}

/** Time at the end without any change: the animation hangs, or a loop stops. */
export function deadEnd({ clip, name, path, fps, duration, formatSeconds, written, tracks }: ClipView): Finding[] {
  if (clip.duration === undefined || tracks.length === 0 || clip.parts?.length) return [];
  const ends = tracks.map(({ keys, curve }) => endOf(keys, curve.track.kind, fps));
  const cues = (clip.cues ?? []).map(({ at, until }) => parseTime(until ?? at, fps)!);
  const spans = Object.values(clip.spans ?? {}).map(([, until]) => parseTime(until, fps)!);
  const end = most([...ends, ...cues, ...spans]);
  if (duration - end <= 1 / fps + 1e-9) return [];
  return [
    {
      code: 'dead-end',
      path: [...path, 'duration'],
      message: `${name} does not change from ${formatSeconds(end)} to its end at ${formatSeconds(duration)}`,
      hint: 'shorten "duration", or move the last keys to the end',
      fix: [{ do: 'change', what: 'clip', name, to: { duration: written(end) } }],
    },
  ];
}

/**
 * When the last key of a track has been seen. A value that appears at once, such as a drawing, needs as long as the
 * previous one, and at least a frame: cut off at its key, it would never show.
 */
function endOf(keys: TrackView['keys'], kind: Kind, fps: number): number {
  const last = keys.at(-1)!;
  const at = secondsAt(last, fps);
  if (isRow(last)) return at + lengthOf(last, fps);
  const before = keys.at(-2);
  if (!before) return at;
  if (isRow(before) || KINDS[kind].held) return at + Math.max(1 / fps, at - secondsAt(before, fps));
  return /^(hold|step-|steps)/.test(before.ease ?? '') ? at + 1 / fps : at;
}

/** Keys that are so close to a frame that they were meant to be on it. */
export function offGrid({ name, fps, formatSeconds, tracks }: ClipView): Finding[] {
  return tracks.flatMap(({ name: track, keys, at }) =>
    keys.flatMap((key): Finding[] => {
      const frames = secondsAt(key, fps) * fps;
      const off = Math.abs(frames - Math.round(frames));
      if (off > HAIR || off <= 1e-6) return [];
      const near = `${Math.round(frames)}f`;
      return [
        {
          code: 'off-grid',
          path: [...at(key), 'at'],
          message: `the key at ${formatSeconds(secondsAt(key, fps))} of ${track} is ${Number(off.toPrecision(2))} of a frame off frame ${near.slice(0, -1)}`,
          hint: `use "${near}"`,
          fix: [{ do: 'snap', clip: name, keys: { [track]: [key.at] } }],
        },
      ];
    }),
  );
}
