import type { ClipDocument, LoopDocument } from '../document/document.js';
import type { DocumentPath, Report } from '../diagnostics/diagnostic-messages.js';
import { readTime } from './read-time.js';

export type PartDocument = NonNullable<ClipDocument['parts']>[number];

/** A clip placed inside another, times in seconds of the outer one. */
export interface ResolvedPart {
  readonly clip: string;
  readonly at: number;
  readonly until: number | undefined;
  /** Multiplies the rate of the inner clip; not 0. */
  readonly rate: number;
  /** Replaces the loop mode of the inner clip. */
  readonly loop: LoopDocument | undefined;
  /** Which role of the outer clip plays a role of the inner one; what is not named plays itself. */
  readonly roles: Readonly<Record<string, string>>;
  readonly path: DocumentPath;
}

export function resolveParts(
  parts: readonly PartDocument[],
  fps: number,
  path: DocumentPath,
  report: Report,
): readonly ResolvedPart[] {
  return parts.flatMap((part, index): ResolvedPart[] => {
    const here = [...path, index];
    const at = readTime(part.at, fps, [...here, 'at'], report);
    const until = part.until === undefined ? undefined : readTime(part.until, fps, [...here, 'until'], report);
    const { clip, rate = 1, loop, roles = {} } = part;
    if (rate === 0) report('reel/part-rate', [...here, 'rate'], {});
    if (at === undefined || rate === 0 || (part.until !== undefined && until === undefined)) return [];
    if (until !== undefined && until <= at) {
      const what = `the part ${JSON.stringify(clip)}`;
      report('reel/interval-order', [...here, 'until'], { what, from: part.at, until: part.until });
      return [];
    }
    return [{ clip, at, until, rate, loop, roles, path: here }];
  });
}
