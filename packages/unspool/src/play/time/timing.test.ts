import { describe, expect, test } from 'vitest';
import timing from '../../../fixtures/timing.json' with { type: 'json' };
import { parseReel, Player } from '../../index.js';

/**
 * Web Animations' timing, as Chromium computes it (fixtures/timing.json): what a playback shows, and in which pass, at
 * every sample that a playback can be said to have.
 */
interface Case {
  readonly timing: {
    readonly duration: number | string;
    readonly delay: number;
    readonly endDelay: number;
    readonly iterations: number | string;
    readonly iterationStart: number;
    readonly direction: string;
    readonly fill: string;
    readonly easing: string;
    readonly playbackRate: number;
  };
  readonly samples: readonly (readonly [time: number, progress: number | null, iteration: number | null])[];
  readonly artefacts?: readonly { readonly sample: number }[];
}
const cases = timing.cases as unknown as readonly Case[];

/** Why a case cannot be said, or nothing. */
function reason({ timing }: Case): string | undefined {
  const { duration, endDelay, easing, playbackRate } = timing;
  if (typeof duration === 'string') return `duration ${duration}: a clip is as long as it says`;
  if (duration === 0) return 'duration 0: a clip without length has one pose, and nothing between 0 and 1';
  if (endDelay < 0) return 'a negative endDelay: nothing is cut short from its end';
  if (playbackRate <= 0) return 'playbackRate 0 or less with a time set by hand: it only says whose a boundary is';
  if (isReversed(timing) && easing !== 'linear')
    return 'an easing of the whole, reversed: a segment’s easing goes one way';
  if (/jump-(start|both)/.test(easing))
    return 'an easing that jumps at its start: a segment has no phase before itself';
  return undefined;
}

/** Whether its first pass goes from 1 to 0: of an odd number that alternates, or all reversed. */
function isReversed({ iterationStart, direction }: Case['timing']): boolean {
  return direction.endsWith('reverse') !== (direction.startsWith('alternate') && Math.floor(iterationStart) % 2 === 1);
}

/** What rest looks like: no clip of these comes near it. */
const REST = -99;

function play({ timing: options, samples, artefacts = [] }: Case): number {
  const { delay, iterationStart: start, fill, easing } = options;
  const length = (options.duration as number) / 1000;
  const skipped = Math.floor(start);
  const values = isReversed(options) ? [1, 0] : [0, 1];
  const keys = values.map((value, i) => ({ at: i * length, value, ...(i === 0 && { ease: easing }) }));
  const player = new Player(
    parseReel<unknown>({
      unspool: 1,
      roles: { claw: { rest: { glow: REST } } },
      clips: { c: { duration: length, tracks: { 'claw.glow': keys } } },
    }),
  );
  const count = options.iterations === 'Infinity' ? Infinity : (options.iterations as number) + start - skipped;
  const mode = options.direction.startsWith('alternate') ? ('ping-pong' as const) : ('loop' as const);
  const playback = player.play('c', {
    from: (start - skipped) * length,
    loop: count === Infinity ? mode : { mode, count },
    after: fill === 'both' || fill === 'forwards' ? 'hold' : 'rest',
  });
  let compared = 0;
  let now = delay;
  samples.forEach(([time, progress, iteration], i) => {
    // Before its delay it has not been played; a time before 0 is none of its timeline.
    if (time < Math.max(0, delay) || artefacts.some(({ sample }) => sample === i)) return;
    player.tick((time - now) / 1000);
    now = time;
    const message = `at ${time} ms`;
    const shown = player.pose.get('claw.glow') as number;
    if (progress === null) expect(shown, message).toBe(REST);
    else {
      // Chromium's Bezier solver is good to about 1e-7; and a time has sixteen digits, whatever of it are whole passes.
      const slack = /bezier|ease/.test(easing) ? 1e-6 : 1e-12 * Math.max(1, (time - delay) / 1000);
      expect(Math.abs(shown - progress), message).toBeLessThanOrEqual(slack);
      expect(playback.iteration + skipped, message).toBe(iteration);
    }
    compared++;
  });
  return compared;
}

const sayable = cases.filter((one) => reason(one) === undefined);

describe('Web Animations timing', () => {
  test.each(sayable.map((one) => [JSON.stringify(one.timing), one] as const))('%s', (_, one) => {
    expect(play(one)).toBeGreaterThan(0);
  });

  test('what cannot be said, and why', () => {
    const reasons = cases.map(reason).filter((message) => message !== undefined);
    const counts = new Map<string, number>();
    for (const message of reasons) counts.set(message, (counts.get(message) ?? 0) + 1);
    expect([sayable.length, Object.fromEntries(counts)]).toMatchInlineSnapshot(`
      [
        57,
        {
          "a negative endDelay: nothing is cut short from its end": 6,
          "an easing of the whole, reversed: a segment’s easing goes one way": 4,
          "an easing that jumps at its start: a segment has no phase before itself": 2,
          "duration 0: a clip without length has one pose, and nothing between 0 and 1": 10,
          "duration Infinity: a clip is as long as it says": 2,
          "duration auto: a clip is as long as it says": 1,
          "playbackRate 0 or less with a time set by hand: it only says whose a boundary is": 13,
        },
      ]
    `);
  });
});
