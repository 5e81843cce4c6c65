import fc from 'fast-check';
import { expect, test } from 'vitest';
import { runs } from '../../test/runs.js';
import { easing, EASING_NAMES, parseReel, Player } from '../index.js';
import { LookAhead } from '../play/drive/look-ahead.js';

const reel = parseReel<unknown>({
  unspool: 1,
  clips: {
    bar: { duration: 1, tracks: { 'bar.x': [{ at: 0, value: 0 }, { at: 1, value: 1 }] } },
    ghost: { duration: 1, tracks: { 'ghost.x': [{ at: 0, value: 0 }, { at: 1, value: 1 }] } },
  },
}); // prettier-ignore

const names = EASING_NAMES.filter((name) => !name.includes('(') && name !== 'smooth' && name !== 'curve');
const ease = fc.constantFrom(
  ...names.filter((name) => name !== 'hold'),
  'spring(0.4)',
  'steps(3, jump-both)',
  'linear(0, 1.3 40%, -0.2 60%, 1)',
  'cubic-bezier(0.2, -2.5, 0.8, 2.5)',
);

test('what a gauge shows between two times is bounded by its easing, and not much more', () => {
  const share = fc.double({ min: 0, max: 1, noNaN: true });
  fc.assert(
    fc.property(ease, share, share, share, fc.tuple(share, share), fc.boolean(), (text, begin, next, at, ends, own) => {
      const player = new Player(reel);
      const known = easing(text);
      // One of the game's own is looked at on the way.
      const used = own ? (x: number) => known(x) : known;
      const trail = { clip: 'ghost', time: 0.5, delay: 0.1, ease: used };
      const gauge = player.gauge('bar', { clip: 'bar', value: begin, time: 0.6, ease: used, trail });
      gauge.value = next;
      player.tick(at);
      const { layout } = reel;
      const probe = new LookAhead(
        player.parts,
        layout,
        Int32Array.from({ length: layout.size }, (_, k) => k),
      );
      probe.update();
      const [low, high, values] = [0, 1, 2].map(() => new Float64Array(layout.size)) as [Float64Array, Float64Array, Float64Array]; // prettier-ignore
      const [from, until] = [Math.min(...ends), Math.max(...ends)];
      probe.boundsInto(from, until, low, high);
      const seen = layout.slots.map(() => [Infinity, -Infinity] as [number, number]);
      for (let i = 0; i <= 400; i++) {
        probe.sampleInto(from + ((until - from) * i) / 400, values);
        seen.forEach((range, k) => {
          range[0] = Math.min(range[0], values[k]!);
          range[1] = Math.max(range[1], values[k]!);
        });
      }
      seen.forEach(([least, most], k) => {
        if (!own) {
          expect(low[k]).toBeLessThanOrEqual(least + 1e-9);
          expect(high[k]).toBeGreaterThanOrEqual(most - 1e-9);
        }
        // The trail is never behind: what both may be is bounded apart.
        if (layout.slots[k]!.role === 'ghost') return;
        expect(low[k]).toBeGreaterThanOrEqual(least - 0.05);
        expect(high[k]).toBeLessThanOrEqual(most + 0.05);
      });
    }),
    runs(400),
  );
});
