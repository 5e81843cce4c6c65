import { expect, test } from 'vitest';
import { parseReel } from '../index.js';

const PAIRS = [
  ['#ff0000', '#0000ff'],
  ['#12c48b', '#f2d479'],
  ['#000000', '#ffffff'],
  ['#ff880040', '#2e8b57'],
  ['#b03a2e', '#5ec9c200'],
] as const;
const SPACES = { srgb: 'srgb', linear: 'srgb-linear', oklab: 'oklab' } as const;

/** A CSS color as the browser paints it: r g b a, 0–1. */
function painted(css: string): number[] {
  const canvas = new OffscreenCanvas(1, 1);
  const context = canvas.getContext('2d')!;
  context.fillStyle = css;
  context.fillRect(0, 0, 1, 1);
  return [...context.getImageData(0, 0, 1, 1).data].map((n) => n / 255);
}

test.each(Object.entries(SPACES))('mixing in %s is what the browser’s color-mix() gives', (mix, space) => {
  for (const [from, to] of PAIRS) {
    const keys = [
      { at: 0, value: from },
      { at: 1, value: to },
    ];
    const clip = parseReel<unknown>({ unspool: 1, clips: { c: { tracks: { 'a.tint': { mix, keys } } } } }).clip('c');
    for (let percent = 10; percent < 100; percent += 10) {
      const ours = clip.sample(percent / 100).get('a.tint') as number[];
      const theirs = painted(`color-mix(in ${space}, ${from}, ${to} ${percent}%)`);
      const [alpha, painting] = [ours[3]!, theirs[3]!];
      expect(Math.abs(alpha - painting)).toBeLessThan(1.1 / 255);
      // What is painted was premultiplied, and rounded to 8 bits: the thinner it is, the coarser.
      for (let k = 0; k < 3; k++) expect(Math.abs(ours[k]! * alpha - theirs[k]! * painting)).toBeLessThan(1.6 / 255);
    }
  }
});
