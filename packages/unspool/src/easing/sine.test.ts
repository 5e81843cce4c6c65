import fc from 'fast-check';
import { expect, test } from 'vitest';
import { runs } from '../../test/runs.js';
import { cosine, sine } from './sine.js';

test('sine and cosine are those of the platform, to a few last bits, over many turns', () => {
  fc.assert(
    fc.property(fc.double({ min: -1000, max: 1000, noNaN: true }), (angle) => {
      expect(Math.abs(sine(angle) - Math.sin(angle))).toBeLessThan(1e-15 + Math.abs(angle) * 2e-16);
      expect(Math.abs(cosine(angle) - Math.cos(angle))).toBeLessThan(1e-15 + Math.abs(angle) * 2e-16);
    }),
    runs(2000),
  );
});

test('where they have a whole value, they have it exactly', () => {
  expect([sine(0), cosine(0), cosine(Math.PI), cosine(-2 * Math.PI)]).toEqual([0, 1, -1, 1]);
  expect(sine(Math.PI / 2)).toBeCloseTo(1, 15);
});

test('small angles keep all of their digits', () => {
  for (const angle of [1e-3, 1e-8, 1e-100]) expect(Math.abs(sine(angle) / Math.sin(angle) - 1)).toBeLessThan(3e-16);
});

test('they end whatever they are given, and stay within −1 and 1', () => {
  for (const angle of [NaN, Infinity, -Infinity]) expect([sine(angle), cosine(angle)]).toEqual([NaN, NaN]);
  for (const angle of [1e9 + 1, 1e15, -1e30, 1e100, 1.7e308]) {
    expect(Math.abs(sine(angle))).toBeLessThanOrEqual(1);
    expect(Math.hypot(sine(angle), cosine(angle))).toBeCloseTo(1, 9);
  }
});
