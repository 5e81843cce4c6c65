import fc from 'fast-check';
import { expect, test } from 'vitest';
import { runs } from '../../../test/runs.js';
import { parseReel, Player } from '../../index.js';

/** Clips of one number each, which stand still; `none` animates something else. */
const VALUES = [3, -20, 100, 0.5];
const REST = 7;
const still = (name: string, value: number) => ({ duration: 100, tracks: { [name]: [{ at: 0, value }] } });
const reel = parseReel<unknown>({
  unspool: 1,
  roles: { claw: { rest: { glow: REST } } },
  clips: {
    ...Object.fromEntries(VALUES.map((value, i) => [`v${i}`, still('claw.glow', value)])),
    none: still('claw.other', 1),
  },
});

interface Start {
  /** Seconds after the one before it on its layer. */
  readonly after: number;
  /** Which value; one more than there are is the clip that does not animate it. */
  readonly clip: number;
  readonly fade: number;
  readonly weight: number;
}
interface Plan {
  readonly weight: number;
  readonly starts: readonly Start[];
}

const share = fc.integer({ min: 0, max: 8 }).map((n) => n / 8);
const start: fc.Arbitrary<Start> = fc.record({
  after: share,
  clip: fc.nat(VALUES.length),
  fade: fc.constantFrom(0, 0.25, 0.5, 1, 2),
  weight: fc.oneof(fc.constant(1), share),
});
const plan: fc.Arbitrary<Plan> = fc.record({
  weight: fc.oneof(fc.constant(1), share),
  starts: fc.array(start, { maxLength: 4 }),
});

/**
 * What is to be seen at a time, from the rule alone: each newer playback takes its faded part of all that was shown on
 * its layer; what a layer leaves, or does not animate, is what lies below.
 */
function expected(plans: readonly Plan[], time: number): number {
  let below = REST;
  for (const { weight, starts } of plans) {
    let now = 0;
    const playing = starts.map(({ after, clip, fade, weight: own }) => {
      now += after;
      const takes = fadeOf({ after, clip, fade, weight: own });
      const faded = takes > 0 ? Math.min(1, Math.max(0, (time - now) / takes)) : 1;
      return { began: now <= time, clip, faded, own };
    });
    const begun = playing.filter(({ began }) => began);
    let mean = 0;
    let shares = 0;
    begun.forEach(({ clip, faded, own }, i) => {
      const left = begun.slice(i + 1).reduce((rest, later) => rest * (1 - later.faded), 1);
      if (clip === VALUES.length) return;
      mean += own * faded * left * VALUES[clip]!;
      shares += own * faded * left;
    });
    below = weight * mean + (1 - weight * shares) * below;
  }
  return below;
}

/** What only a playback animates that is replaced without a fade stays in its last pose: see ownership.test.ts. */
const fadeOf = ({ clip, fade }: Start) => (clip === VALUES.length ? Math.max(fade, 0.25) : fade);

test('layers, weights and fades that interrupt fades give the weighted mean of all that is shown', () => {
  fc.assert(
    fc.property(
      fc.array(plan, { minLength: 1, maxLength: 3 }),
      fc.array(share, { minLength: 1, maxLength: 5 }),
      (plans, cuts) => {
        const player = new Player(reel);
        const starts = plans.flatMap(({ weight, starts: list }, layer) => {
          player.layer(`layer ${layer}`, { weight });
          let at = 0;
          return list.map((one) => ({ ...one, layer, at: (at += one.after) }));
        });
        starts.sort((a, b) => a.at - b.at);
        let now = 0;
        const to = (time: number) => {
          for (const cut of [...cuts].sort((a, b) => a - b)) {
            const mark = now + (time - now) * cut * 0.99; // at the time itself something is about to begin
            if (mark > player.time) player.tick(mark - player.time);
            expect(player.pose.get('claw.glow')).toBeCloseTo(expected(plans, player.time), 9);
          }
          player.tick(Math.max(0, time - player.time));
          now = time;
        };
        for (const one of starts) {
          const { at, layer, clip, weight } = one;
          const fade = fadeOf(one);
          if (at > now) to(at);
          player.play(clip === VALUES.length ? 'none' : `v${clip}`, { layer: `layer ${layer}`, fade, weight });
        }
        to(now + 2.5);
        expect(player.pose.get('claw.glow')).toBeCloseTo(expected(plans, player.time), 9);
      },
    ),
    runs(300),
  );
});
