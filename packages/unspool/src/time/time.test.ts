import fc from 'fast-check';
import { expect, test } from 'vitest';
import { Clock } from './clock.js';
import { foldTime, lastTime, repeatOf, type LoopMode } from './iteration.js';
import { parseTime, snapToFrame, toSeconds } from './units.js';

test.each([
  [0.15, 0.15],
  ['9f', 9 / 60],
  ['0.1f', 1 / 600],
  ['-3f', -0.05],
  ['150ms', 0.15],
  ['1.1s', 1.1],
  ['0.000001s', 1e-6],
  ['9', undefined],
  ['9 f', undefined],
  ['1e3f', undefined],
  ['.5s', undefined],
  ['9F', undefined],
  [NaN, undefined],
  [null, undefined],
])('%j is %j seconds', (written, seconds) => {
  expect(parseTime(written, 60)).toBe(seconds);
});

test('a frame is the double nearest to its fraction of a second, whatever its decimals', () => {
  fc.assert(
    fc.property(fc.nat(1e6), fc.nat(999), fc.constantFrom(24, 25, 30, 50, 60, 120), (whole, part, fps) => {
      const text = `${whole}.${String(part).padStart(3, '0')}f`;
      expect(parseTime(text, fps)).toBe((whole * 1000 + part) / (1000 * fps));
      expect(snapToFrame(whole / fps + 4e-10, fps)).toBe(whole / fps);
    }),
  );
  expect(() => toSeconds('soon' as never, 60)).toThrow('time "soon" is not a valid time. Use seconds (0.15)');
});

test('many passes later a time inside a clip is as exact as in the first', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 2 ** 30 }),
      fc.nat(63),
      fc.constantFrom('loop', 'ping-pong'),
      (passes, step, mode) => {
        const inside = step / 64;
        const at = Float64Array.of(passes + inside);
        const repeat = repeatOf(mode);
        foldTime(at, { duration: 1, repeat, last: lastTime(1, repeat.mode, repeat.count) });
        expect(at[0]).toBe(mode === 'ping-pong' && passes % 2 === 1 ? 1 - inside : inside);
      },
    ),
  );
});

test('a month of frames sums to a month', () => {
  const clock = new Clock();
  const frame = Float64Array.of(1 / 60);
  for (let i = 0; i < 1e6; i++) clock.addFirst(frame);
  expect(clock.seconds).toBe(1e6 * (1 / 60));
});

test('a time within a few roundings of the end of an iteration is that end, far out too', () => {
  const at = (time: number, mode: LoopMode, count = Infinity) => {
    const list = Float64Array.of(time);
    foldTime(list, { duration: 0.1, repeat: { mode, count }, last: lastTime(0.1, mode, count) });
    return list[0];
  };
  for (const tenths of [3, 5, 6, 7, 10, 500_000, 26_000_000]) {
    expect(at(tenths / 10, 'ping-pong')).toBe(tenths % 2 === 0 ? 0 : 0.1);
    expect(at(tenths / 10, 'loop')).toBe(0);
    expect(at(tenths / 10 + 0.04, 'ping-pong')).toBeCloseTo(tenths % 2 === 0 ? 0.04 : 0.06, 8);
  }
  expect(at(0.1 - 1e-17, 'once', 1)).toBe(0.1);
});
