import fc from 'fast-check';
import { expect, test } from 'vitest';
import { makePlayer, program, run } from '../../test/programs.js';
import { randomScene } from '../../test/random-reel.js';
import { runs } from '../../test/runs.js';
import { parseReel } from '../index.js';
import { LookAhead } from '../play/drive/look-ahead.js';

const NANOSECOND = 1.5e-9;

test('looking ahead gives what a player will show until its next moment, and bounds that hold until then', () => {
  fc.assert(
    fc.property(randomScene, program, fc.double({ min: 0, max: 1, noNaN: true }), (document, steps, share) => {
      const scene = parseReel(document);
      const player = makePlayer(scene, []);
      const { layout } = scene;
      const probe = new LookAhead(
        player.parts,
        layout,
        Int32Array.from({ length: layout.size }, (_, k) => k),
      );
      const lists = Array.from({ length: 5 }, () => new Float64Array(layout.size));
      const [values, low, high, least, most] = lists as [
        Float64Array,
        Float64Array,
        Float64Array,
        Float64Array,
        Float64Array,
      ];
      let now = 0;
      for (const { at, command } of steps) {
        player.tick(Math.max(0, at - now) / 64);
        run(player, scene, command);
        now = Math.max(now, at);
        player.tick(0);
        const horizons = player.layers.map(({ playback }) =>
          playback ? (playback.aim(), -playback.head.due) : Infinity,
        );
        // A moment that is nearer than some nanoseconds is reached: less than one of a clip that plays at any rate here.
        const ahead = Math.max(0, Math.min(0.2, ...horizons) - 10 * NANOSECOND) * share;
        probe.update();
        // A playhead within a nanosecond of a frame is shown on it: there a jump, or what is all but vertical, may have
        // come already. So what is shown lies between what the probe says of a moment before and a moment after.
        probe.boundsInto(0, ahead + NANOSECOND, low, high);
        probe.boundsInto(Math.max(0, ahead - NANOSECOND), ahead + NANOSECOND, least, most);
        probe.sampleInto(ahead, values);
        player.tick(ahead);
        now += ahead * 64;
        for (const { kind, name, offset, width } of layout.slots) {
          if (kind === 'color' || kind === 'text' || kind === 'quat') continue;
          for (let k = offset; k < offset + width; k++) {
            const shown = player.pose.values[k]!;
            // What is written is kept in bounds; a probe says what was meant.
            if (name.endsWith('.opacity') || name.endsWith('.frame')) continue;
            for (const value of [shown, values[k]!]) {
              expect(least[k], name).toBeLessThanOrEqual(value + 1e-6);
              expect(most[k], name).toBeGreaterThanOrEqual(value - 1e-6);
            }
            expect(low[k], name).toBeLessThanOrEqual(shown + 1e-6);
            expect(high[k], name).toBeGreaterThanOrEqual(shown - 1e-6);
          }
        }
      }
    }),
    { ...runs(150), endOnFailure: true },
  );
});
