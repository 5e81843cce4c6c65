import { repeatOf, type Repeat } from '../../time/iteration.js';
import type { LoopDocument } from '../document/document.js';

/** The loop mode of a clip, or of a call. */
export function resolveLoop(loop: LoopDocument | undefined): Repeat {
  if (loop === undefined || typeof loop === 'string') return repeatOf(loop ?? 'once');
  return repeatOf(loop.mode, loop.count);
}
