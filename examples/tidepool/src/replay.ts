import { Player } from 'unspool';
import type { Hit } from 'unspool/hit';
import crabReel from '../reels/crab.reel.json';
import urchinReel from '../reels/urchin.reel.json';
import { HOME, Match, URCHINS } from './match.js';

/** What somebody did in a match, at which seconds. */
export interface Recording {
  /** Where the urchins began, and where to. */
  readonly seed: number;
  /** Seconds in all. */
  readonly until: number;
  readonly steps: readonly Step[];
}

export interface Step {
  readonly at: number;
  /** The claw shuts. */
  readonly snap?: true;
  /** From here on the crab goes that way; [0, 0] stops it. */
  readonly walk?: readonly [x: number, y: number];
}

/**
 * Plays a recorded match without a picture.
 *
 * @param frame gives the length of each frame in seconds; what was done is done at its time, between frames too
 */
export function replay({ seed, until, steps }: Recording, frame: () => number): readonly Hit[] {
  const crab = new Player(crabReel, { name: 'crab' });
  const urchins = Array.from({ length: URCHINS }, (_, i) => new Player(urchinReel, { name: `urchin ${i}` }));
  const match = new Match(crab, urchins, { ...HOME }, seed);
  let way: readonly [number, number] = [0, 0];
  let now = 0;
  let next = 0;
  for (let end = frame(); now < until;) {
    const step = steps[next];
    const to = Math.min(until, end, step?.at ?? Infinity);
    match.tick(to - now, way);
    now = to;
    if (step && step.at <= now) {
      if (step.snap) match.act.signal('attack');
      if (step.walk) way = step.walk;
      next++;
    }
    if (now >= end) end += frame();
  }
  return match.hits;
}

/** One line for each hit, with all of its digits. */
export function linesOf(hits: readonly Hit<unknown>[]): string[] {
  return hits.map(({ time, by, to, point, normal, data }) =>
    JSON.stringify({ time, by: `${by.owner} ${by.shape}`, to: to.owner, point, normal, data }),
  );
}
