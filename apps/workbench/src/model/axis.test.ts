import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { FAR, axisOf, moved, ticksOf, wholeOf, zoomed, type View } from './axis.js';

const FPS = 60;
const duration = fc.double({ min: 0, max: 60, noNaN: true });
const factor = fc.double({ min: 0.05, max: 20, noNaN: true });
const width = fc.integer({ min: 120, max: 3000 });
const share = fc.double({ min: 0, max: 1, noNaN: true });

/** A clip's length, and a view of it after some zooming and going along. */
const looked = fc
  .tuple(duration, fc.array(fc.tuple(factor, share, fc.double({ min: -5, max: 5, noNaN: true })), { maxLength: 6 }))
  .map(([length, acts]) => {
    const view = acts.reduce<View>(
      (now, [by, at, along]) => {
        const about = now.from + at * (now.until - now.from);
        return moved(zoomed(now, by, about, length, FPS), along, length);
      },
      wholeOf(length, FPS),
    );
    return { length, view };
  });

describe('the axis of time', () => {
  it('goes there and back', () => {
    fc.assert(
      fc.property(looked, width, share, ({ view }, pixels, at) => {
        const axis = axisOf(view, pixels);
        const time = view.from + at * (view.until - view.from);
        expect(axis.seconds(axis.x(time))).toBeCloseTo(time, 9);
        expect(axis.x(time)).toBeGreaterThanOrEqual(13.999);
        expect(axis.x(time)).toBeLessThanOrEqual(Math.max(15, pixels - 13.999));
        expect(axis.x(view.from + 1) - axis.x(view.from)).toBeCloseTo(axis.scale, 6);
      }),
    );
  });

  it('shows all of a clip, and of one without a length a frame and a half', () => {
    expect(wholeOf(0.5, FPS)).toEqual({ from: 0, until: 0.5 });
    expect(wholeOf(0, FPS)).toEqual({ from: 0, until: 1.5 / FPS });
  });

  it('is zoomed between a frame and three times the clip, and starts at 0 or later', () => {
    fc.assert(
      fc.property(looked, ({ length, view }) => {
        expect(view.from).toBeGreaterThanOrEqual(0);
        expect(view.until - view.from).toBeGreaterThanOrEqual(1.5 / FPS - 1e-9);
        expect(view.until - view.from).toBeLessThanOrEqual(Math.max(length, 1.5 / FPS) * FAR + 1e-9);
      }),
    );
  });

  it('keeps the time under the pointer in place, within the clip', () => {
    const view = zoomed({ from: 1, until: 3 }, 0.5, 1.5, 10, FPS);
    expect(view).toEqual({ from: 1.25, until: 2.25 });
    const near = axisOf({ from: 1, until: 3 }, 500);
    expect(axisOf(view, 500).x(1.5)).toBeCloseTo(near.x(1.5), 9);
  });

  it('has ticks on frames, far enough apart, and numbers among them', () => {
    fc.assert(
      fc.property(looked, width, ({ view }, pixels) => {
        const axis = axisOf(view, pixels);
        const ticks = ticksOf(view, axis, FPS);
        ticks.forEach(({ frame }, i) => {
          expect(Number.isInteger(frame)).toBe(true);
          if (i > 0) expect(axis.x(frame / FPS) - axis.x(ticks[i - 1]!.frame / FPS)).toBeGreaterThan(5.9);
        });
        const labels = ticks.filter(({ major }) => major);
        labels.forEach(({ frame }, i) => {
          if (i > 0) expect(axis.x(frame / FPS) - axis.x(labels[i - 1]!.frame / FPS)).toBeGreaterThan(33.9);
        });
      }),
    );
  });
});
