import { randomNumbers } from 'unspool';
import { linesOf, replay, type Recording } from '../../tidepool/src/replay.js';
import recording from '../../tidepool/match.json' with { type: 'json' };

/**
 * A server that decides a match from the recorded steps and the reels of the game. Prints one line of JSON per hit.
 *
 * `referee [FPS]`: frames per second (default 60), or `referee jitter SEED`: frames of random length.
 */
const [frames = '60', seed = '1'] = process.argv.slice(2);
const random = randomNumbers(Number(seed));
const frame = frames === 'jitter' ? () => random() * 0.08 : () => 1 / Number(frames);
for (const line of linesOf(replay(recording as unknown as Recording, frame))) console.log(line);
