import { UnspoolError } from '../errors/error.js';
import { show } from '../errors/show.js';
import type { Clip } from './clip.js';
import { Reel } from './reel.js';

/** Throws for anything but a reel; `call` is the example in the hint. */
export function mustBeReel(reel: unknown, call = 'parseReel(document)'): void {
  if (reel instanceof Reel) return;
  throw new UnspoolError('play/no-reel', `expected a reel, found ${show(reel)}`, `parse the document first: ${call}`);
}

/** Throws for anything but a clip. By its members: bundles that only read clips stay small. */
export function mustBeClip(clip: unknown): void {
  const { activations, layout } = (clip as Partial<Clip> | null | undefined) ?? {};
  if (Array.isArray(activations) && layout !== undefined) return;
  throw new UnspoolError(
    'clip/no-clip',
    `expected a clip, found ${show(clip)}`,
    'take it from its reel: reel.clip(name)',
  );
}
