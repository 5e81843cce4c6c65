import { randomNumbers } from 'unspool';
import { linesOf, replay, type Recording } from '../../tidepool/src/replay.js';
import recording from '../../tidepool/match.json' with { type: 'json' };

/**
 * A server that decides a match: the recorded steps, the reels of the game, and nothing else. Prints a line for each
 * hit, as JSON.
 *
 * `referee [FPS]` frames a second (60 when left out), or `referee jitter SEED` frames of random length.
 */
const [frames = '60', seed = '1'] = process.argv.slice(2);
const random = randomNumbers(Number(seed));
const frame = frames === 'jitter' ? () => random() * 0.08 : () => 1 / Number(frames);
for (const line of linesOf(replay(recording as unknown as Recording, frame))) console.log(line);
