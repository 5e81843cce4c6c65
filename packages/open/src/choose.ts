import type { Clip, Reel } from 'unspool';
import { refuse } from './errors.js';

/** The clip of an option; without it, the only one. Throws for an unknown one, and for several without a choice. */
export function clipOf(reel: Reel, name: string | undefined): Clip {
  if (name !== undefined) return reel.clip(name);
  const names = Object.keys(reel.clips);
  if (names.length === 1) return reel.clip(names[0]!);
  return refuse(
    'option',
    names.length === 0 ? 'the reel has no clips' : `the reel has ${names.length} clips`,
    names.length === 0 ? 'add one' : `choose one of: ${names.join(', ')}`,
  );
}
