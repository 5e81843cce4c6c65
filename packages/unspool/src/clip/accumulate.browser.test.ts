import { expect, test } from 'vitest';
import { parseReel } from '../index.js';

/**
 * Tracks that accumulate, against the browser's own accumulation. Chromium has `iterationComposite` only as an
 * experiment; by the definition (https://www.w3.org/TR/web-animations-1/#iteration-composite-operation) a lap is the
 * first one accumulated onto the end of each before it, which `composite: 'accumulate'` of several animations does.
 */

const DURATION = 400;

/** Laps of an animation of the browser, held at a time in ms. */
function theirs(keyframes: Keyframe[], count: number, read: (style: CSSStyleDeclaration) => number[]) {
  return (at: number) => {
    const element = document.createElement('div');
    document.body.append(element);
    const lap = Math.min(Math.floor(at / DURATION), Math.ceil(count) - 1);
    for (let i = 0; i <= lap; i++) {
      const animation = element.animate(keyframes, { duration: DURATION, fill: 'both', composite: 'accumulate' });
      animation.pause();
      animation.currentTime = i < lap ? DURATION : Math.min(at, count * DURATION) - lap * DURATION;
    }
    const found = read(getComputedStyle(element));
    element.remove();
    return found;
  };
}

const numbersIn = (text: string) => (text.match(/-?\d+(\.\d+)?(e-?\d+)?/g) ?? []).map(Number);

const EASE = 'cubic-bezier(0.3, 0, 0.2, 1)';
const CASES = [
  ['number', 'crab.glow', [0, 40, 25], (n: number) => ({ order: n }), 'order'],
  ['vector', 'crab.position', [[0, 0], [10, -4], [28.5, 3]], ([x, y]: number[]) => ({ translate: `${x}px ${y}px` }), 'translate'],
  ['angle', 'crab.rotation', [0, -50, 130], (n: number) => ({ rotate: `${n}deg` }), 'rotate'],
] as const; // prettier-ignore

test.each(CASES)('%s', (_, track, [a, b, c], css, property) => {
  const keys = [
    { at: 0, value: a, ease: EASE },
    { at: 0.1, value: b },
    { at: 0.4, value: c },
  ];
  const write = css as (value: unknown) => Record<string, string | number>;
  for (const count of [Infinity, 3, 2.5]) {
    const loop = { mode: 'loop', ...(count < Infinity && { count }) };
    const tracks = { [track]: { accumulate: true, keys } };
    const clip = parseReel<unknown>({ unspool: 1, clips: { c: { loop, tracks } } }).clip('c');
    const at = theirs(
      [
        { ...write(a), offset: 0, easing: EASE },
        { ...write(b), offset: 0.25 },
        { ...write(c), offset: 1 },
      ],
      count,
      (style) => numbersIn(style[property]),
    );
    for (let time = 0; time <= 1800; time += 37) {
      const value = clip.sample(time / 1000).get(track) as number | number[];
      const [ours, reference] = [[value].flat(), at(time)];
      // `order` is a whole number; a `translate` of one number has a second that is 0.
      const most = property === 'order' ? 0.5 + 1e-4 : 1e-3;
      ours.forEach((n, k) => expect(Math.abs(n - (reference[k] ?? 0)), `${count} × at ${time} ms`).toBeLessThan(most));
    }
  }
});
