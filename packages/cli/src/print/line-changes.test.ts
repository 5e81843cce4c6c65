import { structuredPatch } from 'diff';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { hunksOf } from './line-changes.js';

const text = fc.array(fc.constantFrom('a', 'b', 'c', '"claw.rotation": [', '{ "at": 0 }'), { maxLength: 14 });

describe('lines that changed', () => {
  it('are those that a patch has, with one line around them', () => {
    fc.assert(
      fc.property(text, text, (a, b) => {
        const [before, after] = [`${a.join('\n')}\n`, `${b.join('\n')}\n`];
        const found = hunksOf(before, after);
        // A patch of the same two texts, put into the first, gives the second.
        const lines = before.split('\n');
        let moved = 0;
        for (const { start, lines: hunk } of found) {
          const old = hunk.filter(({ sign }) => sign !== '+').map((line) => line.text);
          const fresh = hunk.filter(({ sign }) => sign !== '-').map((line) => line.text);
          expect(lines.slice(start - 1 + moved, start - 1 + moved + old.length)).toEqual(old);
          lines.splice(start - 1 + moved, old.length, ...fresh);
          moved += fresh.length - old.length;
        }
        expect(lines.join('\n')).toBe(after);
        const changed = (sign: string) =>
          found.flatMap((hunk) => hunk.lines).filter((line) => line.sign === sign).length;
        const { hunks } = structuredPatch('', '', before, after, '', '', { context: 1 });
        const expected = (sign: string) =>
          hunks.flatMap((hunk) => hunk.lines).filter((line) => line.startsWith(sign)).length;
        expect(changed('+') + changed('-')).toBeLessThanOrEqual(expected('+') + expected('-') + 2);
      }),
    );
  });

  it('are found in near-linear time, even when every line changed', () => {
    const reel = (by: number, keys: number) =>
      Array.from({ length: 20 }, (_, i) =>
        [`track ${i}`, ...Array.from({ length: keys }, (_, k) => `at ${k + by}, ${i}`)].join('\n'),
      ).join('\n');
    const seconds = (keys: number) => {
      const begun = performance.now();
      const lines = hunksOf(reel(0, keys), reel(1e7, keys)).flatMap((hunk) => hunk.lines);
      expect(lines.filter(({ sign }) => sign === '-')).toHaveLength(20 * keys);
      // The names of tracks stay where they are.
      expect(lines.filter(({ sign }) => sign === ' ').length).toBeGreaterThanOrEqual(19);
      return performance.now() - begun;
    };
    seconds(100);
    expect(seconds(5000)).toBeLessThan(3000);
  });
});
