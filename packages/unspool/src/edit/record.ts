import { isObject } from '../errors/is-object.js';
import type { ReelDocument } from '../reel/document/document.js';
import { readWhole } from '../reel/resolve/properties.js';
import { NANOSECOND, parseTime, type Time } from '../time/units.js';
import { isShape, KINDS, type Kind } from '../value/kind.js';
import { isMultiplied, kindOf } from '../value/property.js';
import { TextTable, type Value } from '../value/read.js';
import { UnspoolError } from '../errors/error.js';
import { show } from '../errors/show.js';
import { curveOf, durationIn, writeNumbers } from './track-curve.js';
import type { Operation, Operations } from './operation.js';
import { factsOf } from './validate-edit.js';
import { clipIn, fpsIn, tracksIn } from './document-access.js';

/** What `record` makes keys of. */
export interface Recording {
  readonly clip: string;
  /** The time of the playhead. */
  readonly at: Time;
  /** The pose that was shown, by `role.property`, as returned by `pose.get`. */
  readonly shown: Readonly<Record<string, Value>>;
  /** The current values; only those that differ from `shown` are keyed. */
  readonly values: Readonly<Record<string, Value>>;
  /** The easing of new keys. Default: the easing of the segment that they split. */
  readonly ease?: string;
}

/**
 * Turns what an animator changed by hand into keys at the playhead, for changed values only, in the existing tracks (a
 * property that is keyed by channel gets keys for the changed channels). A new track also gets a key at 0 with the
 * value that was shown, so that nothing before the playhead changes.
 *
 * @returns one operation for all of it, or `undefined` when nothing has changed
 * @throws UnspoolError for an unknown clip and for invalid values
 */
export function record(doc: ReelDocument, recording: Recording): Operation | null {
  const { byName } = factsOf(doc).properties;
  if (!isObject(recording) || !isObject(recording.shown) || !isObject(recording.values))
    throw new UnspoolError(
      'edit/record',
      `expected a clip, a time and two poses, found ${show(recording)}`,
      'pass { clip, at, shown, values }',
    );
  const { clip: name, at, shown, values, ease } = recording;
  const clip = clipIn(doc, name);
  const seconds = parseTime(at, fpsIn(doc, clip));
  if (seconds === undefined)
    throw new UnspoolError('edit/time', `${show(at)} is not a valid time`, 'use 0.15, "9f" or "150ms"');
  const operations: Operation[] = [];
  for (const property of Object.keys(values)) {
    const short = property.slice(property.indexOf('.') + 1);
    const kind = byName.get(property)?.kind ?? kindOf(short, values[property]);
    const texts = new TextTable();
    const read = (value: unknown) => (kind === undefined ? undefined : readWhole(short, kind, value, texts));
    const [is, was] = [read(values[property]), read(shown[property] ?? values[property])];
    if (kind === undefined || !is || !was)
      throw new UnspoolError(
        'edit/record',
        `${show(values[property])} is not a valid value of ${property}`,
        'use a value of its kind',
      );
    if (shown[property] !== undefined && is.every((n, k) => n === was[k])) continue;
    const put = (track: string, from: number, width: number): void => {
      const numbers = is.slice(from, from + width);
      if (width < is.length && numbers.every((n, k) => n === was[from + k])) return;
      const first = writeTrack(kind, was, from, width, texts);
      const authored = authoredNumbers(doc, name, track, seconds, numbers, was.slice(from, from + width), short);
      const value = writeTrack(
        kind,
        [...is.slice(0, from), ...authored, ...is.slice(from + width)],
        from,
        width,
        texts,
      );
      const key: Operations['put-key'] = { do: 'put-key', clip: name, track, at, value };
      // After the end the clip goes on until there.
      const lengthen = clip.duration !== undefined && seconds > durationIn(doc, name) + NANOSECOND;
      operations.push({
        ...key,
        ...(lengthen && { lengthen }),
        ...(shown[property] !== undefined && { first }),
        ...(ease !== undefined && { ease }),
      });
    };
    const channels = KINDS[kind].channels;
    const keyed = channels.filter((channel) => Object.hasOwn(tracksIn(clip), `${property}.${channel}`));
    if (keyed.length === 0 || isShape(kind)) put(property, 0, is.length);
    else channels.forEach((channel, k) => put(`${property}.${channel}`, k, 1));
  }
  if (operations.length === 0) return null;
  const tracks = [...new Set(operations.map((operation) => (operation as Operations['put-key']).track))];
  return { do: 'group', said: `recorded ${tracks.join(', ')}`, operations };
}

function writeTrack(kind: Kind, numbers: readonly number[], from: number, width: number, texts: TextTable): unknown {
  const whole = width === numbers.length;
  const shape = isShape(kind) && whole;
  const own = numbers.slice(from, shape ? from + width - 1 : from + width);
  return writeNumbers({ kind, width: own.length, channel: shape ? 0 : whole ? -1 : from }, own, texts.texts);
}

/** Where a track is an offset, its keys hold the difference: what the hand added is added to it. */
function authoredNumbers(
  doc: ReelDocument,
  clip: string,
  track: string,
  seconds: number,
  is: readonly number[],
  was: readonly number[],
  property: string,
): readonly number[] {
  if (!Object.hasOwn(tracksIn(clipIn(doc, clip)), track)) return is;
  const curve = curveOf(doc, clip, track);
  if (curve.track.space !== 'offset') return is;
  const authored = curve.at(seconds);
  const times = isMultiplied(property);
  return is.map((n, k) => (!times ? authored[k]! + n - was[k]! : was[k] === 0 ? n : (authored[k]! * n) / was[k]!));
}
