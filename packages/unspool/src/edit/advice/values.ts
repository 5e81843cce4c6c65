import { parseTime } from '../../time/units.js';
import { most } from '../../value/number.js';
import type { Operation } from '../operation.js';
import { isRow, secondsAt, type PoseKey } from '../document-access.js';
import type { ReelDocument } from '../../reel/document/document.js';
import type { ClipView, Finding } from './advice.js';

/** Opacity goes from 0 to 1; 128 is of another scale. */
export function opacityScale({ name, tracks }: ClipView): Finding[] {
  return tracks.flatMap(({ name: track, keys, at, curve }): Finding[] => {
    if (curve.track.property !== 'opacity' || curve.track.space === 'offset') return [];
    const key = keys.find(
      (one): one is PoseKey => !isRow(one) && typeof one.value === 'number' && one.value > 1 + 1e-9,
    );
    if (!key) return [];
    const poses = keys.filter((one): one is PoseKey => !isRow(one) && typeof one.value === 'number');
    const highest = most(poses.map(({ value }) => value as number));
    const scale = highest > 100 ? 255 : highest > 2 ? 100 : undefined;
    const hint = scale
      ? `if the scale is 0 to ${scale}, use ${key.value as number} / ${scale}`
      : 'use 1 for fully opaque';
    // Only values of the other scale: a 1 beside a 128 was written as full opacity.
    const off = poses.filter(({ value }) => (value as number) > 1 + 1e-9).map(({ at: time }) => time);
    const fix: Operation[] = scale
      ? [{ do: 'scale-values', clip: name, keys: { [track]: off }, factor: 1 / scale }]
      : [];
    return [
      {
        code: 'opacity-scale',
        path: [...at(key), 'value'],
        message: `the opacity ${key.value as number} is shown as 1: opacity ranges from 0 to 1`,
        hint,
        ...(fix.length > 0 && { fix }),
      },
    ];
  });
}

/** The same for the rest value of a role. */
export function opacityAtRest({ roles = {} }: ReelDocument): Finding[] {
  return Object.entries(roles).flatMap(([role, { rest = {} }]): Finding[] => {
    const value = rest['opacity'];
    if (typeof value !== 'number' || value <= 1 + 1e-9) return [];
    const message = `the opacity ${value} is shown as 1: opacity ranges from 0 to 1`;
    return [
      {
        code: 'opacity-scale',
        path: ['roles', role, 'rest', 'opacity'],
        message,
        hint: `write ${value} / ${value > 100 ? 255 : 100}`,
      },
    ];
  });
}

/** A rotation of more than half a turn, where the other direction is shorter. */
export function longWay({ name, fps, formatSeconds, tracks }: ClipView): Finding[] {
  return tracks.flatMap(({ name: track, keys, at, curve }): Finding[] => {
    const { kind, turn, space } = curve.track;
    if (kind !== 'angle' || turn === 'shortest' || space === 'offset') return [];
    const poses = keys as readonly PoseKey[];
    const i = poses.findIndex((key, n) => {
      const way = n === 0 ? 0 : Math.abs((key.value as number) - (poses[n - 1]!.value as number));
      return way > 180 + 1e-9 && way < 360 - 1e-9;
    });
    if (i < 0) return [];
    const [from, to] = [poses[i - 1]!.value as number, poses[i]!.value as number];
    const way = to - from;
    const other = way - 360 * Math.sign(way);
    const times = `from ${formatSeconds(secondsAt(poses[i - 1]!, fps))} to ${formatSeconds(secondsAt(poses[i]!, fps))}`;
    return [
      {
        code: 'long-way',
        path: [...at(poses[i]!), 'value'],
        message: `${track} turns ${plain(way)}° ${times}; the shorter turn is ${plain(other)}°`,
        hint: `write ${plain(from + other)}, or "turn": "shortest"`,
        fix: [{ do: 'change', what: 'track', clip: name, name: track, to: { turn: 'shortest' } }],
      },
    ];
  });
}

const plain = (n: number) => Number(n.toPrecision(6));

/** A loop of drawings that shows its first one twice: at its end, and again at its start. */
export function repeatedFrame({ name, fps, repeat, duration, formatSeconds, written, tracks }: ClipView): Finding[] {
  if (repeat.mode !== 'loop' || repeat.count <= 1) return [];
  return tracks.flatMap(({ name: track, keys, at, curve }): Finding[] => {
    const shown = curve.track.keys.filter((key) => key.at < duration - 1e-9);
    const [first, last] = [shown[0], shown.at(-1)];
    const cells = new Set(shown.map(({ value }) => value[0]));
    if (curve.track.property !== 'frame' || !first || !last || cells.size < 2 || first.value[0] !== last.value[0])
      return [];
    // Drawings that go there and back end on the first on purpose; and when shown once, a repeated one is not noticed.
    const key = keys.findLast((one) => secondsAt(one, fps) <= last.at + 1e-9)!;
    const isOwn = !isRow(key) && Math.abs(secondsAt(key, fps) - last.at) < 1e-9;
    const message = `${name} ends on cell ${first.value[0]} from ${formatSeconds(last.at)} and starts on it again, so the cell shows twice as long`;
    const fix: Operation[] = [
      { do: 'remove-keys', clip: name, keys: { [track]: [key.at] } },
      { do: 'change', what: 'clip', name, to: { duration: written(last.at) } },
    ];
    return [
      {
        code: 'repeated-frame',
        path: at(key),
        message,
        hint: 'end the loop with the previous drawing',
        ...(isOwn && { fix }),
      },
    ];
  });
}

/** Cues that the playhead never reaches, and cues that fire twice at the same moment. */
export function cues({ name, clip, path, fps, duration, repeat, formatSeconds }: ClipView): Finding[] {
  const list = clip.cues ?? [];
  const found: Finding[] = [];
  const last = repeat.count < 1 ? repeat.count * duration : clip.rate === 0 ? 0 : duration;
  const keyed = new Map<string, number>();
  list.forEach((cue, i) => {
    const at = parseTime(cue.at, fps)!;
    const here = [...path, 'cues', i];
    if (at > last + 1e-9 && at <= duration) {
      const why = clip.rate === 0 ? 'its rate is 0' : `it plays ${repeat.count} iterations`;
      const message = `the cue ${JSON.stringify(cue.name)} at ${formatSeconds(at)} never fires: ${name} ends at ${formatSeconds(last)}, because ${why}`;
      found.push({ code: 'cue-never', path: [...here, 'at'], message, hint: 'move the cue, or play more of the clip' });
    }
    // At the wrap the end of a loop and its start are one moment.
    const isWrap =
      repeat.mode === 'loop' && repeat.count > 1 && Math.abs(at - duration) < 1e-9 && cue.until === undefined;
    const moment = `${cue.name} ${Math.round((isWrap ? 0 : at) * 1e9)} ${cue.until === undefined ? '' : 'long'}`;
    const other = keyed.get(moment);
    if (other !== undefined) {
      const where = isWrap
        ? 'at the end and the start of the loop, which are the same moment'
        : `at ${formatSeconds(at)}`;
      const message = `the cue ${JSON.stringify(cue.name)} fires twice ${where}`;
      found.push({
        code: 'cue-twice',
        path: [...here, 'at'],
        message,
        hint: 'remove one of the two',
        fix: [{ do: 'remove', what: 'cue', clip: name, name: cue.name, at: cue.at }],
      });
    }
    keyed.set(moment, i);
  });
  return found;
}
