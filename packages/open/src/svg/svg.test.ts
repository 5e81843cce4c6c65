import { describe, expect, test } from 'vitest';
import { parseReel } from 'unspool';
import { DEMO } from '../../test/reels.js';
import { fromSvgPath, toSvgPath } from '../index.js';

const position = (document: unknown, time: number) => {
  const clip = parseReel<unknown>(document as object).clip('travel');
  return clip.sampleInside(time, clip.createPose()).get('object.position') as readonly number[];
};

describe('SVG paths in', () => {
  test('at constant speed, whatever the length of the segments', () => {
    const { result } = fromSvgPath('M0 0 H10 V30', { duration: 4 });
    const places = [0, 1, 2, 4].map((time) => position(result, time).map((n) => Math.round(n * 1e6) / 1e6));
    expect(places).toEqual([[0, 0], [10, 0], [10, 10], [10, 30]]); // prettier-ignore
  });

  test('by segments: a key at each joint, and exactly the curve', () => {
    const { result, report } = fromSvgPath('M0,0 C0,10 10,10 10,0 s10,-10 10,0', { by: 'segments', duration: 2 });
    const keys = result.clips['travel']!.tracks!['object.position'] as readonly { readonly at: number }[];
    expect(keys.map(({ at }) => at)).toEqual([0, 1, 2]);
    expect(position(result, 0.5)).toEqual([expect.closeTo(5, 12), expect.closeTo(7.5, 12)]);
    expect(report.approximated).toEqual([]);
  });

  test('a drawing: the path by its id, with the transforms around it', () => {
    const drawing = `<?xml version="1.0"?><svg xmlns="http://www.w3.org/2000/svg"><g transform="translate(100 0)"><path id="way" transform="scale(2)" d="m 0 0 l 5 5"/></g><path id="other" d="M0 0"/></svg>`;
    const { result } = fromSvgPath(drawing, { path: 'way', role: 'object' });
    expect(position(result, 1)).toEqual([110, 10]);
    expect(() => fromSvgPath(drawing)).toThrow('the drawing has 2 paths. Use one of: way, other.');
    expect(() => fromSvgPath(drawing, { path: 'wya' })).toThrow('no path "wya". Use one of: way, other.');
  });

  test('turned along the path: corners jump, and turns go on', () => {
    const { result } = fromSvgPath('M0 0 A10 10 0 0 1 0 20 A10 10 0 0 1 0 0', { turn: true });
    const clip = parseReel<unknown>(result).clip('travel');
    const angle = (time: number) => clip.sampleInside(time, clip.createPose()).get('object.rotation') as number;
    expect([angle(0), angle(0.5), angle(1)].map(Math.round)).toEqual([0, 180, 360]);
    const corner = parseReel<unknown>(fromSvgPath('M0 0 H10 V10', { turn: true }).result).clip('travel');
    const turn = (time: number) => corner.sampleInside(time, corner.createPose()).get('object.rotation');
    expect([turn(0.499), turn(0.501)]).toEqual([0, 90]);
  });

  test('arcs lie on their ellipse', () => {
    const { result } = fromSvgPath('M-50 0 A 50 50 0 0 1 50 0 A 5 5 0 0 1 50 0 A 25 25 0 1 1 100 0');
    for (let i = 0; i <= 100; i++) {
      const [x, y] = position(result, i / 100) as [number, number];
      const off = y <= 1e-6 && x <= 50 ? Math.hypot(x, y) - 50 : Math.hypot(x - 75, y) - 25;
      expect(Math.abs(off), `at ${i}`).toBeLessThan(4e-4);
    }
    // Radii that are too small grow until they reach.
    expect(position(fromSvgPath('M0 0 A 1 1 0 0 1 20 0', { tolerance: 1e-5 }).result, 0.5)).toEqual([expect.closeTo(10, 4), expect.closeTo(-10, 4)]); // prettier-ignore
  });

  test('a path in several parts: the first, and a note', () => {
    const { report } = fromSvgPath('M0 0 L1 1 M5 5 L6 6 M9 9 L8 8');
    expect(report.dropped).toEqual([{ at: 'd', what: '2 more parts of the path, which begin elsewhere' }]);
  });

  test.each([
    ['', 'the path draws nothing'],
    ['M 1 1', 'the path draws nothing'],
    ['M 0 0 L nonsense', 'is not valid'],
    ['<svg><rect/></svg>', 'the drawing has no path. Convert its shape to a path.'],
    ['<svg><path d="M0 0L1 1">', 'the drawing is not valid XML'],
    [`<!DOCTYPE x [<!ENTITY a "b"><!ENTITY c "&a;&a;">]><svg><path d="&c;"/></svg>`, 'not valid XML'],
    [`${'<g>'.repeat(5000)}`, 'nested deeper than 1000'],
  ])('refuses %.40j', (text, message) => {
    expect(() => fromSvgPath(text)).toThrow(message);
  });
});

describe('SVG paths out', () => {
  test('the motion of a role, exactly where it is a cubic', () => {
    const { result, report } = toSvgPath(DEMO.get('crab.reel.json')!, { clip: 'hide', role: 'claw' });
    expect(result.d).toBe('M17,4 C17,4 12.6666667,5.33333333 4,8');
    expect(result.svg).toContain('viewBox="3.35 3.35 14.3 5.3"');
    expect(report.dropped.map(({ what }) => what)).toEqual([
      'the motion of its parent, crab',
      'when it is where: a path has no times',
    ]);
  });

  test('and back: the same places', () => {
    const reel = DEMO.get('pearl.reel.json')!;
    const { d } = toSvgPath(reel, { clip: 'roll', role: 'pearl' }).result;
    const { result } = fromSvgPath(d, { by: 'segments', role: 'object' });
    const clip = reel.clip('roll');
    const last = clip.sampleInside(clip.duration, clip.createPose()).get('pearl.position') as readonly number[];
    expect(position(result, 1)).toEqual(last.map((n) => expect.closeTo(n, 6) as number));
  });

  test('asks for what is not clear', () => {
    const reel = DEMO.get('crab.reel.json')!;
    expect(() => toSvgPath(reel, {})).toThrow('clips. Choose one of: sway');
    expect(() => toSvgPath(reel, { clip: 'hide', role: 'body' })).toThrow('"body" does not move in "hide"');
  });
});
