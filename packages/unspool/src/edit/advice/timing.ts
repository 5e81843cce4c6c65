import { isActivity } from '../../reel/track.js';
import { parseTime } from '../../time/units.js';
import { isWholeShape } from '../curve-of.js';
import { lengthOf } from '../operations/rows.js';
import { isRow, secondsAt } from '../working.js';
import { saidNumbers, type ClipView, type Finding, type TrackView } from './advice.js';

/** Off by less than this share of a frame, a key was meant to stand on it. */
const HAIR = 0.05;

/** A track that begins after 0: what it shows before is its first value, which is easily forgotten. */
export function lateStart({ fps, name, said, tracks }: ClipView): Finding[] {
  return tracks.flatMap(({ name: track, path, keys, curve }): Finding[] => {
    const first = secondsAt(keys[0]!, fps);
    if (!(first > 0) || isWholeShape(curve.track) || isActivity(curve.track)) return [];
    const value = saidFirst(curve.track.kind, keys[0]!, curve.at(0));
    return [
      {
        code: 'late-start',
        path,
        of: 'name',
        message: `${track} begins at ${said(first)}, and shows ${value} from the start`,
        hint: 'give it a key at 0, so that it is seen',
        fix: [{ do: 'insert-key', clip: name, track, at: 0 }],
        safe: true,
      },
    ];
  });
}

function saidFirst(kind: string, key: TrackView['keys'][number], numbers: readonly number[]): string {
  const isWord = kind === 'text' || kind === 'flag' || kind === 'color';
  return isWord && !isRow(key) ? JSON.stringify(key.value) : saidNumbers(numbers);
}

/** Time at the end in which nothing happens: the animation hangs, or a loop stands still. */
export function deadEnd({ clip, name, path, fps, duration, said, written, tracks }: ClipView): Finding[] {
  if (clip.duration === undefined || tracks.length === 0 || clip.parts?.length) return [];
  const ends = tracks.map(({ keys }) => {
    const last = keys.at(-1)!;
    return secondsAt(last, fps) + (isRow(last) ? lengthOf(last, fps) : 0);
  });
  const cues = (clip.cues ?? []).map(({ at, until }) => parseTime(until ?? at, fps)!);
  const spans = Object.values(clip.spans ?? {}).map(([, until]) => parseTime(until, fps)!);
  const end = Math.max(...ends, ...cues, ...spans);
  if (duration - end <= 1 / fps + 1e-9) return [];
  return [
    {
      code: 'dead-end',
      path: [...path, 'duration'],
      message: `nothing happens in ${name} from ${said(end)} to its end at ${said(duration)}`,
      hint: 'shorten "duration", or move the last keys to the end',
      fix: [{ do: 'change', what: 'clip', name, to: { duration: written(end) } }],
    },
  ];
}

/** Keys that lie beside a frame by so little that they were meant to stand on it. */
export function offGrid({ name, fps, said, tracks }: ClipView): Finding[] {
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
          message: `the key at ${said(secondsAt(key, fps))} of ${track} misses frame ${near.slice(0, -1)} by ${Number(off.toPrecision(2))} of a frame`,
          hint: `write "${near}"`,
          fix: [{ do: 'snap', clip: name, keys: { [track]: [key.at] } }],
        },
      ];
    }),
  );
}
