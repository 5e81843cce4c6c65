import type { Matrix } from 'pixi.js';
import { SHAPES, type ShapeKind } from 'unspool';
import { expect, test } from 'vitest';
import { FIRST_SHAPES } from '../model/first-shapes.js';
import { outlineOf } from './outline.js';
import { SHAPE_HANDLES } from './shape-handles.js';

const IN_PLACE = { apply: (point: unknown) => point } as Matrix;
const KINDS = Object.keys(SHAPES) as ShapeKind[];

test.each(KINDS)('a %s has an outline around its first value', (kind) => {
  const outline = outlineOf(kind, FIRST_SHAPES[kind], IN_PLACE);
  const [xs, ys] = [outline.map(([x]) => x), outline.map(([, y]) => y)];
  expect(Math.min(...xs)).toBeLessThan(-6);
  expect(Math.max(...xs)).toBeGreaterThan(6);
  expect(Math.max(...ys) - Math.min(...ys)).toBeGreaterThan(10);
});

test.each(KINDS)('a %s: each handle, dragged to where it is, changes nothing; elsewhere, its member', (kind) => {
  const value = FIRST_SHAPES[kind];
  const handles = SHAPE_HANDLES[kind](value as never);
  const changed = handles.map(([label, at, drag]) => {
    expect({ ...value, ...drag(at) }, label).toEqual(value);
    const [member, next] = Object.entries(drag([at[0] + 3, at[1] + 5]))[0] as [string, unknown];
    expect(next, label).not.toEqual(value[member]);
    return member;
  });
  expect(changed.sort()).toEqual(Object.keys(SHAPES[kind]).sort());
});
