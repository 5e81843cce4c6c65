import { compileTracks } from '../clip/compile.js';
import { sampleCurves, type Curves, HEAD_FIRST } from '../clip/curves.js';
import type { ReelDocument, TrackDocument } from '../reel/document/document.js';
import { resolveLoop } from '../reel/resolve/loop.js';
import type { Report } from '../reel/diagnostics/diagnostic-messages.js';
import { resolveClip } from '../reel/resolve/resolve.js';
import { resolveTrack } from '../reel/resolve/resolve-track.js';
import { flattenClip, withLead } from '../reel/resolve/flatten.js';
import { segmentsOf, type Segment } from '../reel/resolve/segments.js';
import { targetOf } from '../reel/resolve/targets.js';
import { isActivity, type ResolvedTrack } from '../reel/resolve/track.js';
import { parseTime } from '../time/units.js';
import { isShape, widthOf } from '../value/kind.js';
import { writeShape } from '../value/shape.js';
import { factsOf } from './validate-edit.js';
import { clipIn, fpsIn, trackIn } from './document-access.js';

const ignore: Report = () => {};

/** One track of a document, resolved: its keys, its segments, its value at any time. */
export interface TrackCurve {
  readonly track: ResolvedTrack;
  /** One for each key of `track`. */
  readonly segments: readonly Segment[];
  /** Its own numbers at a time of the clip in seconds, offsets as they are authored. */
  readonly at: (seconds: number) => number[];
}

/** @param track another one under the same name, in place of the document's */
export function curveOf(document: ReelDocument, clip: string, name: string, track?: TrackDocument): TrackCurve {
  const { properties } = factsOf(document);
  const owner = clipIn(document, clip);
  const target = targetOf(document, name)!;
  const written = track ?? trackIn(owner, name);
  const fps = fpsIn(document, owner);
  const resolved = resolveTrack(document, name, written, target, properties, fps, [], ignore)!;
  const isLooped = resolveLoop(owner.loop).mode === 'loop';
  const segments = segmentsOf(resolved, isLooped ? durationIn(document, clip) : undefined);
  return { track: resolved, segments, at: sampler(resolved, segments) };
}

function sampler(track: ResolvedTrack, segments: readonly Segment[]): (seconds: number) => number[] {
  const { role, property, kind, channel, width } = track;
  const [first, last] = [Math.max(0, channel), segments.at(-1)!.start];
  const base = new Float64Array(widthOf(kind));
  const out = new Float64Array(widthOf(kind));
  const at = new Float64Array(1);
  // Compiled on first use: many curves are needed for their segments only.
  let curves: Curves | undefined;
  const hints = new Int32Array(1);
  return (seconds) => {
    if (!curves) {
      const authored = { ...track, space: 'absolute', segments: withLead(segments) } as const;
      curves = compileTracks([authored], new Map([[`${role}.${property}`, 0]]), last);
      hints[0] = curves.heads[HEAD_FIRST]!;
    }
    at[0] = Math.min(Math.max(0, seconds), last);
    sampleCurves(curves, at, hints, base, out);
    return [...out.subarray(first, first + width)];
  };
}

/** Seconds of one pass of a clip. */
export function durationIn(document: ReelDocument, name: string): number {
  const clip = clipIn(document, name);
  const written = clip.duration === undefined ? undefined : parseTime(clip.duration, fpsIn(document, clip));
  if (written !== undefined) return written;
  const { properties } = factsOf(document);
  if (clip.parts?.length) return flattenClip(document, name, properties, ignore)!.duration;
  return resolveClip(document, name, properties, ignore).end;
}

/** Whether a track keys a shape whole: then it is active between its keys only. */
export function isWholeShape({ kind, channel, width }: Pick<ResolvedTrack, 'kind' | 'channel' | 'width'>): boolean {
  return isShape(kind) && channel === 0 && width === widthOf(kind) - 1;
}

/** Its numbers as a reel writes them. */
export function writeNumbers(
  { kind, width, channel }: Pick<ResolvedTrack, 'kind' | 'width' | 'channel'>,
  numbers: readonly number[],
  texts: readonly string[],
): unknown {
  const plain = numbers.map((n) => n + 0 || 0); // no −0, which JSON has not
  if (kind === 'flag') return plain[0] !== 0;
  if (kind === 'text') return texts[plain[0]!];
  if (isShape(kind)) {
    if (isWholeShape({ kind, channel, width })) return writeShape(kind, [...plain, 1], 0);
    if (isActivity({ kind, channel })) return plain[0] !== 0;
  }
  if (kind === 'color' && channel < 0) return writeColor(plain);
  return plain.length === 1 ? plain[0] : plain;
}

/** `#e07a5f` where that says the same, else four numbers 0–1. */
function writeColor(numbers: readonly number[]): string | number[] {
  const bytes = numbers.map((n) => Math.round(n * 255));
  if (!bytes.every((byte, k) => byte / 255 === numbers[k])) return numbers.map((n) => Math.min(1, Math.max(0, n)));
  const text = bytes.map((byte) => byte.toString(16).padStart(2, '0'));
  return `#${(bytes[3] === 255 ? text.slice(0, 3) : text).join('')}`;
}

/** The strings that numbers of a document's tracks refer to. */
export const textsOf = (document: ReelDocument): readonly string[] => factsOf(document).properties.texts.texts;
