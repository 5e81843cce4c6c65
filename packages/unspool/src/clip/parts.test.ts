import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { runs } from '../../test/runs.js';
import { randomReel } from '../../test/random-reel.js';
import { parseReel, Player, type Clip, type ReelDocument } from '../index.js';

const double = (min: number, max: number) => fc.double({ min, max, noNaN: true });

describe('parts', () => {
  /** Never just where a cue is: on which side of the cut it falls would be a matter of rounding. */
  const length = fc.integer({ min: 200, max: 4000 }).map((ms) => ms / 1000 + 0.00037);
  /** A random clip, once as itself and once as a part of a scene that starts it later, at another rate. */
  const scene = fc
    .tuple(randomReel, double(0, 1), fc.constantFrom(1, 0.5, 2, -1, -1.5), length)
    .map(([document, at, rate, length]) => {
      const name = Object.keys(document.clips)[0]!;
      const clip = document.clips[name]!;
      const until = at + length;
      const clips = { inner: { ...clip, duration: '0.75s' }, outer: { parts: [{ clip: 'inner', at, until, rate }] } };
      return { document: { ...document, clips } as unknown as ReelDocument, at, rate, until };
    });

  const last = (clip: Clip) => {
    const pose = clip.createPose();
    clip.sampleInside(clip.duration, pose);
    return pose;
  };

  test('a part shows its clip at the corresponding time, and holds after it', () => {
    fc.assert(
      fc.property(scene, double(0, 1), ({ document, at, rate, until }, share) => {
        const reel = parseReel<unknown>(document);
        const [inner, outer] = [reel.clip('inner'), reel.clip('outer')];
        const { duration } = inner;
        const whole = inner.repeat.count * duration;
        const length = Math.min(until - at, whole / Math.abs(rate));
        expect(outer.duration).toBeCloseTo(at + length, 12);
        const played = share * length;
        // Backwards it begins at the end; of an endless clip, at the end of a pass.
        const begin = rate > 0 ? 0 : whole === Infinity ? duration : whole;
        const compare = (outerTime: number, innerTime: number) => {
          const [found, expected] = [outer.sample(outerTime), inner.sample(innerTime)];
          for (const slot of inner.layout.slots) {
            if (slot.width !== 1 || slot.kind === 'integer') continue; // a jump may fall on either side of rounding
            // Its last moment may lie where an easing steps, and there is nothing behind it to tell.
            const isStepped = inner.tracks.some(({ name, keys }) => name === slot.name && keys.some(({ easing }) => easing.kind === 'steps')); // prettier-ignore
            if (isStepped && Math.abs(innerTime - duration) < 1e-9) continue;
            const [a, b] = [found.values[outer.layout.slot(slot.name).offset]!, expected.values[slot.offset]!];
            // Just there it has a key's own value; at a turn, that is neither what comes before nor after.
            const around = [-1e-9, 0, 1e-9].map((d) => inner.sample(innerTime + d).values[slot.offset]!);
            // Where a pass ends, the next one begins: a part that begins backwards there shows its last key.
            if (Math.abs(innerTime % duration) < 1e-9) around.push(last(inner).values[slot.offset]!);
            const jump = Math.max(...around) - Math.min(...around);
            expect(Math.abs(a - b)).toBeLessThan(1e-6 + 2 * jump);
          }
        };
        compare(at + played, begin + rate * played);
        if (length === until - at) compare(until + 5, begin + rate * length - Math.sign(rate) * 1e-12);
      }),
      runs(60),
    );
  });

  test('its cues fire at the times of the scene, as the clip alone fires them', () => {
    const heard = (document: ReelDocument, name: string, rate: number, until: number) => {
      const player = new Player(parseReel<unknown>(document));
      const reported: (readonly [name: string, event: string, time: number])[] = [];
      for (const type of ['cue', 'cue-start', 'cue-end'] as const) {
        player.on(type, (event) => reported.push([event.name, type, event.time]));
      }
      player.play(name, { rate });
      player.tick(until);
      player.stop();
      return reported;
    };
    fc.assert(
      fc.property(scene, ({ document, at, rate, until }) => {
        const alone = heard(document, 'inner', rate, until - at);
        const inScene = heard(document, 'outer', 1, until + 1);
        const order = (list: typeof alone, shift: number) =>
          list.map(([name, type, time]) => `${(time + shift).toFixed(6)} ${name} ${type}`).sort();
        expect(order(inScene, 0)).toEqual(order(alone, at));
      }),
      runs(60),
    );
  });

  test('the cue at the very end of a part fires, despite rounding', () => {
    const at = 3.830269434956791e-15;
    const inner = { duration: 0.75, loop: { mode: 'loop', count: 3 }, tracks: {}, cues: [{ at: 0.75, name: 'a' }] };
    const clips = { inner, outer: { parts: [{ clip: 'inner', at, rate: 2 }] } };
    const outer = parseReel<unknown>({ unspool: 1, clips }).clip('outer');
    expect(outer.cues.at(-1)!.at).toBe(outer.duration);
  });

  test('other roles play a clip; parts are nested, and follow each other on one property', () => {
    const turn = [
      { at: 0, value: 0 },
      { at: 1, value: 10 },
    ];
    const reel = parseReel<unknown>({
      unspool: 1,
      roles: { claw: {}, left: {}, right: {} },
      clips: {
        open: { tracks: { 'claw.rotation': turn, 'claw.weights.bulge': turn } },
        both: {
          parts: [
            { clip: 'open', at: 0, roles: { claw: 'left' } },
            { clip: 'open', at: 0.5, rate: 2, roles: { claw: 'right' } },
          ],
        },
        show: {
          parts: [
            { clip: 'both', at: 1 },
            { clip: 'both', at: 3, rate: -1, roles: { right: 'claw' } },
          ],
        },
      },
    });
    const pose = (time: number) => reel.clip('show').sample(time).toObject();
    expect(reel.clip('show').duration).toBe(4);
    expect(pose(1.5)).toMatchObject({ 'left.rotation': 5, 'right.rotation': 0, 'claw.rotation': 10 });
    expect(pose(2.5)).toMatchObject({ 'left.rotation': 10, 'right.weights.bulge': 10, 'claw.rotation': 10 });
    expect(pose(3.25)).toMatchObject({ 'left.rotation': 7.5, 'claw.rotation': 5, 'claw.weights.bulge': 5 });
  });
});
