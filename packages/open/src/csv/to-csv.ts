import { checkWriting } from '../given.js';
import papa from 'papaparse';
import { flatTracks, isShape, KINDS, type Reel, type Slot, type Value } from 'unspool';
import { clipOf } from '../choose.js';
import { refuse } from '../errors.js';
import { counted, Notes, pointer, type Converted } from '../report.js';

/** Options of `toCsv`. */
export interface ToCsvOptions {
  /** The clip to sample. Default: the only one. */
  readonly clip?: string;
  /** Samples per second, greater than 0. Default: the frame rate of the clip. */
  readonly fps?: number;
  /** Times to sample, in seconds, in place of every frame. Beyond the clip they follow its loop mode. */
  readonly times?: readonly number[];
  /** Which properties to write, by `role.property`. Default: all of the clip. */
  readonly properties?: readonly string[];
}

const MAX_SAMPLES = 1_000_000;

/** Samples a clip as CSV (RFC 4180): `time` in seconds, and a column for each channel. */
export function toCsv(reel: Reel, options: ToCsvOptions = {}): Converted<string> {
  checkWriting(reel, options);
  const clip = clipOf(reel, options.clip);
  const { fps = clip.fps, properties } = options;
  if (!(fps > 0 && fps < Infinity)) refuse('option', `fps is ${fps}`, 'use a number greater than 0');
  const count = Math.floor(clip.duration * fps + 1e-9) + 1;
  if (count > MAX_SAMPLES) refuse('option', `${count} samples exceed the limit of ${MAX_SAMPLES}`, 'use a lower fps');
  const times = options.times ?? Array.from({ length: count }, (_, i) => i / fps);
  const notes = new Notes();
  const slots = properties?.map((name) => clip.layout.slot(name)) ?? clip.layout.slots;
  const pose = clip.createPose();
  const rows = times.map((time) => {
    if (options.times) clip.sample(time, pose);
    else clip.sampleInside(time, pose);
    return [time, ...slots.flatMap((slot) => numbersOf(slot, pose.get(slot.name)))].map(String);
  });
  for (const { name } of slots) {
    notes.approximated(pointer('clips', clip.name, 'tracks', name), `${name} as ${times.length} samples`);
  }
  const tracks = options.times ? [] : flatTracks(reel, clip.name);
  for (const { name, gain } of tracks) if (gain) notes.startsAnew(pointer('clips', clip.name, 'tracks', name), name);
  if (clip.cues.length > 0) notes.dropped(pointer('clips', clip.name, 'cues'), counted(clip.cues.length, 'cue'));
  const head = ['time', ...slots.flatMap(columnsOf)];
  return notes.of(`${papa.unparse([head, ...rows], { newline: '\r\n' })}\r\n`); // RFC 4180: CRLF
}

/** The columns of a property; those of an inactive shape are empty. */
function numbersOf(slot: Slot, value: Value): readonly unknown[] {
  if (value === null) return columnsOf(slot).map(() => '');
  return isShape(slot.kind) ? Object.values(value as object).flat() : [value].flat();
}

function columnsOf({ name, kind, width }: Slot): readonly string[] {
  if (width === 1) return [name];
  const { channels } = KINDS[kind];
  return (isShape(kind) ? channels.slice(0, -1) : channels).map((channel) => `${name}.${channel}`);
}
