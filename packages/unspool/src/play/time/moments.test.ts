import fc from 'fast-check';
import { expect, test } from 'vitest';
import { runs } from '../../../test/runs.js';
import { parseReel, Player, type LoopMode } from '../../index.js';

/**
 * The slow, obvious twin of the player: writes down the moments of a run pass by pass, with no clock, no frames and
 * no state but the open intervals. The player must tell the same, however its time is cut.
 */
interface Cue {
  readonly name: string;
  readonly at: number;
  readonly until?: number;
}
type Moment = readonly [time: number, event: string, iteration: number];

function obvious(cues: readonly Cue[], duration: number, mode: LoopMode, passes: number, rate: number): Moment[] {
  const emitted: Moment[] = [];
  const open = new Set<Cue>();
  const backwards = rate < 0;
  const tell = (way: number, event: string, iteration: number) =>
    emitted.push([way / Math.abs(rate), event, iteration]);
  const end = (cue: Cue, way: number, iteration: number) => {
    if (open.delete(cue)) tell(way, `cue-end ${cue.name}`, iteration);
  };
  const start = (cue: Cue, way: number, iteration: number) => {
    open.add(cue);
    tell(way, `cue-start ${cue.name}`, iteration);
  };
  for (let pass = 0; pass < passes; pass++) {
    const iteration = backwards ? passes - 1 - pass : pass;
    const down = (mode === 'ping-pong' && iteration % 2 === 1) !== backwards;
    const origin = pass * duration;
    const way = (time: number) => origin + (down ? duration - time : time);
    const turns = mode === 'ping-pong' && pass > 0;
    const last = pass === passes - 1;
    const edges = [...new Set([0, duration, ...cues.flatMap(({ at, until = at }) => [at, until])])];
    const stops = edges.filter((time) => time <= duration).sort((a, b) => (down ? b - a : a - b));
    for (const [i, time] of stops.entries()) {
      if (i === 0 && turns) continue; // was passed at the turn
      const final = i === stops.length - 1;
      const turning = final && mode === 'ping-pong' && !last;
      // Interval starts, cues, interval ends: each as written.
      for (const cue of cues) {
        if (cue.until === undefined || final || cue.at >= duration) continue;
        const entered =
          i === 0
            ? down
              ? cue.at < time && time <= cue.until
              : cue.at <= time && time < cue.until
            : (down ? cue.until : cue.at) === time;
        if (entered) start(cue, way(time), iteration);
      }
      for (const cue of cues)
        if (cue.until === undefined && cue.at === time) tell(way(time), `cue ${cue.name}`, iteration);
      if (i > 0 && !turning)
        for (const cue of cues)
          if (cue.until !== undefined && (down ? cue.at : cue.until) === time) end(cue, way(time), iteration);
    }
    const over = origin + duration;
    if (last || mode !== 'ping-pong') for (const cue of cues) end(cue, over, iteration);
    tell(over, last ? 'end' : 'loop', last ? iteration : iteration + (backwards ? -1 : 1));
  }
  return emitted;
}

const cue = fc
  .record({
    name: fc.constantFrom('a', 'b', 'c', 'd'),
    at: fc.nat(16),
    long: fc.option(fc.integer({ min: 1, max: 12 })),
  })
  .map(({ name, at, long }): Cue => ({ name, at: at / 16, ...(long !== null && { until: (at + long) / 16 }) }));

test('the player emits the events of its slow twin, at exactly the same times', () => {
  fc.assert(
    fc.property(
      fc.array(cue, { maxLength: 7 }),
      fc.constantFrom<LoopMode>('once', 'loop', 'ping-pong'),
      fc.integer({ min: 1, max: 5 }),
      fc.constantFrom(1, -1, 2, -0.5),
      fc.array(fc.integer({ min: 1, max: 40 }), { minLength: 1, maxLength: 8 }),
      (cues, mode, count, rate, cuts) => {
        const passes = mode === 'once' ? 1 : count;
        const clip = { duration: 1, loop: mode === 'once' ? mode : { mode, count }, cues };
        const player = new Player(parseReel<unknown>({ unspool: 1, clips: { c: clip } }));
        const emitted: Moment[] = [];
        for (const type of ['cue', 'cue-start', 'cue-end', 'loop', 'end', 'stop'] as const) {
          player.on(type, (event) => {
            const name = 'name' in event ? ` ${event.name}` : '';
            emitted.push([event.time, type + name, event.iteration]);
          });
        }
        player.play('c', { rate });
        // Frames of sixty-fourths, so that their ends fall on moments as often as not.
        for (let i = 0; i < 2000 && player.playback!.active; i++) player.tick(cuts[i % cuts.length]! / 64);
        expect(emitted).toEqual(obvious(cues, 1, mode, passes, rate));
      },
    ),
    runs(500),
  );
});
