import { parseReel } from '../src/index.js';

/** Reels of a few clips, to be changed while they play. */
export const read = (document: unknown) => parseReel<unknown>(document);

export const line = (until: number, to = until) => [{ at: 0, value: 0 }, { at: until, value: to }]; // prettier-ignore
export const run = (duration: number, more: object = {}) => ({
  ...{ duration, loop: 'loop', cues: [{ at: duration / 2, name: 'half' }] },
  tracks: { 'crab.glow': line(duration) },
  ...more,
});
export const reelOf = (clips: object, more: object = {}) => read({ unspool: 1, fps: 60, clips, ...more });
