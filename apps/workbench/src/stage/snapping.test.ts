import fc from 'fast-check';
import { expect, it } from 'vitest';
import { snapped } from './snapping.js';

const box = (left: number, top: number, size = 10) => ({ left, top, right: left + size, bottom: top + size });
const NONE = { grid: 0, roles: false, pixels: false };

it('nothing is snapped unless it is wanted', () => {
  expect(snapped([3.3, 4.4], [0, 0], box(-5, -5), [box(20, 0)], NONE, 4)).toEqual({ by: [3.3, 4.4], guides: [] });
});

it('edges and centers of other roles are met, each axis by itself', () => {
  const { by, guides } = snapped([9, 30], [0, 0], box(-5, -5), [box(15, 0)], { ...NONE, roles: true }, 2);
  // The right edge at 14 goes to the left edge at 15.
  expect(by).toEqual([10, 30]);
  expect(guides).toEqual([{ axis: 'x', at: 15 }]);
});

it('the position goes to the grid when that is nearer; far from every line it goes to whole pixels', () => {
  expect(snapped([7.4, 1], [0, 0], undefined, [], { ...NONE, grid: 8 }, 3).by).toEqual([8, 0]);
  expect(snapped([12.4, 11.6], [0.5, 0], undefined, [], { grid: 8, roles: false, pixels: true }, 1)).toEqual({
    by: [12.5, 12],
    guides: [{ axis: 'x', at: expect.anything() as number }].slice(1),
  });
});

it('never goes farther than its reach, and lies on a line that it names', () => {
  const n = fc.double({ min: -100, max: 100, noNaN: true });
  const options = fc.record({ grid: fc.constantFrom(0, 1, 8, 16), roles: fc.boolean(), pixels: fc.constant(false) });
  fc.assert(
    fc.property(
      fc.tuple(n, n),
      fc.tuple(n, n),
      fc.array(fc.tuple(n, n), { maxLength: 4 }),
      options,
      (by, at, others, o) => {
        const own = box(at[0] - 5, at[1] - 5);
        const done = snapped(
          by,
          at,
          own,
          others.map(([x, y]) => box(x, y)),
          o,
          3,
        );
        for (const k of [0, 1] as const) expect(Math.abs(done.by[k] - by[k])).toBeLessThanOrEqual(3);
        for (const guide of done.guides) {
          const k = guide.axis === 'x' ? 0 : 1;
          const places = [-5, 0, 5].map((off) => at[k] + off + done.by[k]);
          expect(Math.min(...places.map((place) => Math.abs(place - guide.at)))).toBeLessThan(1e-9);
        }
      },
    ),
  );
});
