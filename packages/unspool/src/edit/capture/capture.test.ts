import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkReel, parseReel, randomNumbers, trustReel, type ReelDocument } from '../../index.js';
import { capture, LiveSamples, type Captured, type Sample } from '../index.js';
import { runs } from '../../../test/runs.js';

/** A smooth motion: a few waves of random height, speed and start. */
function randomMotion(seed: number): (time: number) => number {
  const random = randomNumbers(seed);
  const waves = Array.from(
    { length: 3 },
    (_, i) => [40 * random() + 5, (0.3 + random()) * (i + 1), random() * 7] as const,
  );
  return (time) =>
    waves.reduce((sum, [height, speed, start]) => sum + height * Math.sin(start + 2 * Math.PI * speed * time), 0);
}

const at60 = (count: number, value: (time: number) => Sample['values']): Sample[] =>
  Array.from({ length: count }, (_, i) => ({ time: i / 60, values: value(i / 60) }));

const reelOf = ({ clip }: Captured) => ({ unspool: 1, clips: { taken: clip } }) as unknown as ReelDocument;

/** How far the clip is from a motion, at the samples and between them. */
function farthest(captured: Captured, property: string, motion: (time: number) => number): number {
  const clip = trustReel(reelOf(captured)).clip('taken');
  let most = 0;
  for (let i = 0; i <= clip.duration * 600; i++) {
    const time = Math.min(clip.duration, i / 600);
    most = Math.max(most, Math.abs((clip.sample(time).get(property) as number) - motion(time)));
  }
  return most;
}

/**
 * The least number of keys there is, by trying: every choice of samples, every pair of strips that could bound what is
 * left of the inner values. Slow, and nothing of it is shared with what it judges.
 */
function fewest(samples: readonly number[], tolerance: number): number {
  const fits = (i: number, j: number): boolean => {
    const rows = Array.from({ length: j - i - 1 }, (_, k) => {
      const u = (k + 1) / (j - i);
      const w = 1 - u;
      const rest = samples[i + k + 1]! - w ** 3 * samples[i]! - u ** 3 * samples[j]!;
      return [3 * w * w * u, 3 * w * u * u, rest] as const;
    });
    if (rows.length < 3) return true; // two inner values meet two samples
    const edges = rows.flatMap(([a, b, c]) => [[a, b, c + tolerance], [a, b, c - tolerance]] as const); // prettier-ignore
    return edges.some(([a, b, c], n) =>
      edges.slice(n + 1).some(([d, e, f]) => {
        const whole = a * e - b * d;
        if (Math.abs(whole) < 1e-12) return false;
        const [x, y] = [(c * e - b * f) / whole, (a * f - c * d) / whole];
        return rows.every(([p, q, r]) => Math.abs(p * x + q * y - r) <= tolerance * (1 + 1e-9));
      }),
    );
  };
  const least = [1];
  for (let j = 1; j < samples.length; j++) {
    least[j] = Math.min(...least.slice(0, j).map((keys, i) => (fits(i, j) ? keys + 1 : Infinity)));
  }
  return least.at(-1)!;
}

describe('capture', () => {
  it('keeps 50 smooth motions within the tolerance everywhere, with few keys', () => {
    let keys = 0;
    for (let seed = 1; seed <= 50; seed++) {
      const motion = randomMotion(seed);
      const taken = capture(
        at60(121, (time) => ({ 'crab.rotation': motion(time) })),
        { tolerance: 0.5 },
      );
      expect(checkReel(reelOf(taken)).filter(({ severity }) => severity === 'error')).toEqual([]);
      expect(taken.errors['crab.rotation']).toBeLessThanOrEqual(0.5);
      expect(farthest(taken, 'crab.rotation', motion), `seed ${seed}`).toBeLessThanOrEqual(0.5);
      keys += taken.keys;
    }
    expect(keys / 50).toBeLessThan(16);
  });

  it('has at most 1.5 times the smallest possible number of keys', () => {
    let [mine, least] = [0, 0];
    for (let seed = 1; seed <= 50; seed++) {
      const motion = randomMotion(seed);
      const samples = at60(24, (time) => ({ 'lamp.glow': motion(time) }));
      const { keys } = capture(samples, { tolerance: 0.02 });
      const best = fewest(
        samples.map(({ values }) => values['lamp.glow'] as number),
        0.02,
      );
      expect(keys, `seed ${seed}`).toBeLessThanOrEqual(1.5 * best);
      [mine, least] = [mine + keys, least + best];
    }
    expect(mine / least).toBeLessThan(1.2);
  });

  it('takes whatever is given within the tolerance', () => {
    const streams = fc.record({
      values: fc.array(fc.double({ min: -500, max: 500, noNaN: true }), { minLength: 1, maxLength: 40 }),
      tolerance: fc.double({ min: 1e-3, max: 100, noNaN: true }),
    });
    fc.assert(
      fc.property(streams, ({ values, tolerance }) => {
        const samples = values.map((n, i) => ({ time: 3 + i / 50, values: { 'crab.position': [n, -n] } }));
        const taken = capture(samples, { tolerance, fps: 50 });
        const clip = trustReel(reelOf(taken)).clip('taken');
        values.forEach((n, i) => {
          const [x, y] = clip.sampleInside(i / 50, clip.createPose()).get('crab.position') as number[];
          expect(Math.max(Math.abs(x! - n), Math.abs(y! + n))).toBeLessThanOrEqual(tolerance + 1e-9);
        });
      }),
      runs(150),
    );
  });

  it('takes samples while a game runs, at a rate, whatever its frames', () => {
    const ball = [0, 0];
    const live = new LiveSamples(() => ({ 'ball.position': ball }), { rate: 30, limit: 2 });
    let now = 0;
    for (let frame = 0; frame < 300; frame++) {
      const dt = frame === 0 ? 0 : [1 / 144, 1 / 60, 0.05][frame % 3]!;
      now += dt;
      [ball[0], ball[1]] = [now * 10, now * now];
      live.tick(dt);
    }
    const { samples } = live;
    for (const [i, { time, values }] of samples.entries()) {
      expect((values['ball.position'] as number[])[0]).toBeCloseTo(time * 10, 9);
      // In the first frame of each thirtieth, or where a frame goes over several, in that.
      if (i > 0) expect(Math.floor(time * 30 + 1e-6)).toBeGreaterThan(Math.floor(samples[i - 1]!.time * 30 + 1e-6));
    }
    expect(samples.at(-1)!.time - samples[0]!.time).toBeLessThanOrEqual(2);
    expect(capture(samples, { tolerance: 0.05 }).keys).toBeLessThan(6);
    const fast = new LiveSamples(() => ({ 'a.x': 1 }));
    for (let frame = 0; frame < 1440; frame++) fast.tick(1 / 144);
    expect(fast.samples).toHaveLength(600); // sixty a second, at 144 fps
    live.clear();
    live.tick(0.1);
    expect(live.samples).toMatchObject([{ time: 0 }]);
    expect(() => new LiveSamples(() => ({}), { rate: 0 })).toThrow('greater than 0');
  });

  it('follows rotations through ±180°, holds what cannot be mixed, and has one key for a constant value', () => {
    const samples = at60(61, (time) => ({
      'crab.rotation': ((170 + 40 * time + 180) % 360) - 180,
      'body.frame': Math.floor(time * 4),
      'claw.visible': time < 0.5,
      'claw.position': [17, 4],
      'claw.tint': time < 0.5 ? [1, 1 - time, 1, 1] : [1, time, 1, 1],
    }));
    const { clip, keys } = capture(samples, { tolerance: { 'claw.tint': 0.01, '*': 0.5 } });
    expect(clip).toEqual({
      fps: 60,
      duration: '60f',
      tracks: {
        'crab.rotation': [{ at: 0, value: 170 }, { at: '60f', value: 210 }],
        'body.frame': [0, 15, 30, 45, 60].map((frame, i) => ({ at: frame === 0 ? 0 : `${frame}f`, value: i })),
        'claw.visible': [{ at: 0, value: true }, { at: '30f', value: false }],
        'claw.position': [{ at: 0, value: [17, 4] }],
        'claw.tint': [{ at: 0, value: '#ffffff' }, { at: '30f', value: [1, 0.5, 1, 1] }, { at: '60f', value: '#ffffff' }],
      },
    }); // prettier-ignore
    expect(keys).toBe(13);
  });

  it('follows a turn in space by slerp', () => {
    const turn = (time: number) => [0, Math.sin(time), 0, Math.cos(time)];
    const { clip } = capture(
      at60(91, (time) => ({ 'lid.rotation': turn(time) })),
      { tolerance: 0.1 },
    );
    expect(clip.tracks!['lid.rotation']).toHaveLength(2);
  });

  it.each([
    [[], 1, 'list of samples is empty'],
    [
      [
        { time: 1, values: {} },
        { time: 1, values: {} },
      ],
      1,
      'sample 1 is at 1 s, not after 1 s. Use finite seconds',
    ],
    [at60(2, () => ({ 'crab.rotation': 1 })), 0, 'greater than 0'],
    [at60(2, () => ({ 'crab.rotation': 'left' })), 1, 'not a valid value of crab.rotation'],
    [at60(2, () => ({ 'crab.rotation': 1 })), { 'claw.rotation': 1 }, 'greater than 0'],
  ] as const)('refuses what it cannot take', (samples, tolerance, message) => {
    expect(() => capture(samples as readonly Sample[], { tolerance })).toThrow(message);
  });
});

describe('what is captured', () => {
  const turned = (degrees: number) => [0, 0, Math.sin((degrees * Math.PI) / 360), Math.cos((degrees * Math.PI) / 360)];

  it.each([20, 170])('of a turn there and back by %s° is within the tolerance, in degrees', (far) => {
    const samples = Array.from({ length: 61 }, (_, i) => ({
      time: i / 60,
      values: { 'crab.rotation': turned(far * Math.sin((Math.PI * i) / 60)) },
    }));
    const { clip, keys, errors } = capture(samples, { tolerance: 1 });
    expect(keys).toBeGreaterThan(2);
    expect(errors['crab.rotation']).toBeLessThanOrEqual(1);
    const one = parseReel<unknown>({ unspool: 1, clips: { one: clip } }).clip('one');
    for (const { time, values } of samples) {
      const shown = one.sample(time).get('crab.rotation') as number[];
      const dot = Math.abs(shown.reduce((sum, n, k) => sum + n * values['crab.rotation'][k]!, 0));
      expect((Math.acos(Math.min(1, dot)) * 360) / Math.PI).toBeLessThan(1.001);
    }
  });

  it('begins when it was there, and is right for large numbers that move by little', () => {
    const late: Sample[] = Array.from({ length: 10 }, (_, i) => ({ time: i / 60, values: i < 5 ? {} : { 'a.x': i } }));
    expect(capture(late, { tolerance: 0.1 }).clip.tracks!['a.x']).toMatchObject([{ at: '5f', value: 5 }, { at: '9f' }]);
    const large = Array.from({ length: 30 }, (_, i) => ({ time: i / 60, values: { 'a.x': 1e12 + (i % 3) - 1 } }));
    expect(capture(large, { tolerance: 0.5 }).errors['a.x']).toBeLessThanOrEqual(0.5);
    expect(() => capture(null as never, { tolerance: 1 })).toThrow('not a list of { time, values }');
    expect(() => capture(large, null as never)).toThrow('the tolerance is undefined');
  });
});
