import type { ClipDocument, KeyDocument, KeyList, ReelDocument } from '../../reel/document/document.js';
import type { AdviceFacts } from '../../reel/diagnostics/diagnostic.js';
import type { DocumentPath } from '../../reel/diagnostics/diagnostic-messages.js';
import { keysOf, keyPath } from '../../reel/resolve/properties.js';
import { resolveLoop } from '../../reel/resolve/loop.js';
import type { Repeat } from '../../time/iteration.js';
import type { Time } from '../../time/units.js';
import { curveOf, durationIn, type TrackCurve } from '../track-curve.js';
import type { Operation } from '../operation.js';
import { fpsIn, likeIn, tracksIn } from '../document-access.js';
import { roundedTime, formatTime, writeTime } from '../format-values.js';

/** A likely mistake that a rule has found. Its code follows `advice/`. */
export interface Finding extends AdviceFacts {
  /** The operations that fix it; `safe` when they do not change what is shown. */
  readonly fix?: readonly Operation[];
  readonly safe?: boolean;
}

/** A track of a clip, as rules look at it. */
export interface TrackView {
  readonly name: string;
  readonly path: DocumentPath;
  readonly keys: KeyList;
  readonly curve: TrackCurve;
  /** The path of a key in the document. */
  readonly at: (key: KeyDocument) => DocumentPath;
}

/** A clip, as rules look at it. */
export interface ClipView {
  readonly document: ReelDocument;
  readonly name: string;
  readonly clip: ClipDocument;
  readonly path: DocumentPath;
  readonly fps: number;
  /** Seconds of one pass. */
  readonly duration: number;
  readonly repeat: Repeat;
  readonly tracks: readonly TrackView[];
  /** A time of the clip as its author writes them: `12f`. */
  readonly formatSeconds: (seconds: number) => string;
  readonly written: (seconds: number) => Time;
}

export function clipView(document: ReelDocument, name: string): ClipView {
  const clip = document.clips[name]!;
  const path = ['clips', name];
  const fps = fpsIn(document, clip);
  const like = likeIn(clip);
  const written = (seconds: number) => writeTime(seconds, like, fps);
  const tracks = Object.entries(tracksIn(clip)).map(([track, keyed]): TrackView => {
    const keys = keysOf(keyed);
    const here = [...path, 'tracks', track];
    const at = (key: KeyDocument) => keyPath(here, keyed, keys.indexOf(key));
    return { name: track, path: here, keys, curve: curveOf(document, name, track), at };
  });
  const formatSeconds = (seconds: number) =>
    seconds === 0 ? 'the start' : formatTime(roundedTime(written(seconds), 3));
  return {
    document,
    name,
    clip,
    path,
    fps,
    duration: durationIn(document, name),
    repeat: resolveLoop(clip.loop),
    tracks,
    formatSeconds,
    written,
  };
}

/** `-40`, `1.5`, `[1, 2]` */
export function formatNumbers(numbers: readonly number[]): string {
  const list = numbers.map((n) => String(Number(n.toPrecision(4)) + 0));
  return list.length === 1 ? list[0]! : `[${list.join(', ')}]`;
}
