import { parseTime } from '../../time/units.js';
import type { DocumentPath, Report } from '../diagnostics/diagnostic-messages.js';

/** A time inside a clip, ≥ 0. The schema has seen that it is a time. */
export function readTime(value: unknown, fps: number, path: DocumentPath, report: Report): number | undefined {
  const seconds = parseTime(value, fps);
  if (seconds !== undefined && seconds < 0) {
    report('reel/negative-time', path, { value });
    return undefined;
  }
  return seconds;
}
