import type { Repeat } from '../../time/iteration.js';
import type { ResolvedCue } from './cue.js';

/** What of a clip has names that a moment may be given by. */
interface Moments {
  readonly cues: readonly ResolvedCue[];
  readonly spans: Readonly<Record<string, readonly [from: number, until: number]>>;
}

/**
 * The time of a cue or a span of a clip, in seconds; `undefined` for another name.
 *
 * @param edge of a span: 0 its start, 1 its end
 */
export function namedMoment({ cues, spans }: Moments, name: string, edge: 0 | 1): number | undefined {
  const cue = cues.find((one) => one.name === name);
  if (cue) return cue.at;
  return Object.hasOwn(spans, name) ? spans[name]![edge] : undefined;
}

/** Whether a playhead comes from one time to the other: one that plays once in one direction never goes back. */
export function arrives(from: number, until: number, { count }: Repeat, speed: number): boolean {
  return count > 1 || (until - from) * Math.sign(speed) >= 0;
}
