import fc from 'fast-check';
import { EASING_NAMES, KINDS, SHAPES, type ShapeKind, type ShapeMember } from '../src/index.js';

/** Random clips of a shape that two roles carry: every curve, nasty easings, pivots, uneven scales, jumps. */
/** Numbers as people write them: with three decimals. Doubles at random are mostly next to nothing. */
const number = (most: number) => fc.integer({ min: -1000, max: 1000 }).map((n) => (n * most) / 1000 + 0);
const point = (most: number) => fc.tuple(number(most), number(most));
const share = fc.integer({ min: 0, max: 1000 }).map((n) => n / 1000);
const length = fc.oneof(
  { weight: 6, arbitrary: fc.integer({ min: 100, max: 4000 }).map((n) => n / 1000) },
  fc.constant(0),
);

const ease = fc.oneof(
  fc.constantFrom('linear', 'smooth', 'curve', 'hold'),
  fc.constantFrom(...EASING_NAMES.filter((name) => !name.includes('('))),
  fc.constantFrom(
    'cubic-bezier(1, 0, 0, 1)',
    'cubic-bezier(0, 1, 1, 0)',
    'cubic-bezier(0.2, -2.5, 0.8, 2.5)',
    'spring(0.6)',
  ),
  fc.constantFrom('steps(3, jump-both)', 'linear(0, 0.4 20%, 0.4 30%, -0.3 60%, 1)'),
  fc.tuple(share, number(2), share, number(2)).map((points) => `cubic-bezier(${points.join(', ')})`),
);

/** One to four keys in two seconds; those of a curve with random handles. */
const keys = (value: fc.Arbitrary<unknown>, width: number) =>
  fc
    .uniqueArray(fc.integer({ min: 0, max: 40 }), { minLength: 1, maxLength: 4 })
    .chain((times) => fc.tuple(...times.sort((a, b) => a - b).map((time) => key(time / 20, value, width))))
    .map((list) => list.map((one, i) => handled(one, list[i - 1]?.ease, i === list.length - 1)));

const handles = (width: number, sign: number) =>
  fc.array(fc.tuple(share, number(3)), { minLength: width, maxLength: width }).map((list) => {
    const pairs = list.map(([dt, dv]) => [(sign * dt) / 20, dv]);
    return width === 1 ? pairs[0] : pairs;
  });

const key = (at: number, value: fc.Arbitrary<unknown>, width: number) =>
  fc.record({ at: fc.constant(at), value, ease, in: handles(width, -1), out: handles(width, 1) });

/** Handles where a curve uses them, and nowhere else. */
function handled<K extends { readonly ease: string; readonly in: unknown; readonly out: unknown }>(
  { in: into, out, ...one }: K,
  before: string | undefined,
  isLast: boolean,
) {
  return { ...one, ...(before === 'curve' && { in: into }), ...(one.ease === 'curve' && !isLast && { out }) };
}

const track = (value: fc.Arbitrary<unknown>, width: number, space = ['absolute', 'offset']) =>
  fc.option(fc.record({ keys: keys(value, width), space: fc.constantFrom(...space) }), { nil: undefined, freq: 2 });

const quat = fc.record({ euler: fc.tuple(number(180), number(180), number(180)), order: fc.constant('zyx') });

/** Any value of a member of a shape. */
const MEMBERS: { readonly [M in ShapeMember]: fc.Arbitrary<unknown> } = {
  point: point(2),
  size: fc.tuple(length, length),
  length,
  angle: number(400),
  direction: number(400),
};
const SHAPE_KINDS = Object.keys(SHAPES) as ShapeKind[];
const valueOf = (kind: ShapeKind) =>
  fc.record(Object.fromEntries(Object.entries(SHAPES[kind]).map(([name, member]) => [name, MEMBERS[member]])));

const role = (name: string) =>
  fc
    .record({
      position: track(point(8), 2),
      rotation: fc.oneof({ weight: 5, arbitrary: track(number(500), 1) }, track(quat, 4)),
      scale: track(point(1.6), 2),
      pivot: track(point(2), 2),
    })
    .map((tracks) =>
      Object.fromEntries(
        Object.entries(tracks).flatMap(([property, one]) => (one ? [[`${name}.${property}`, one]] : [])),
      ),
    );

/** The document of a reel with a clip `move` of two seconds and a shape `arm.hit` on a role `body`. */
export const shapedReel: fc.Arbitrary<object> = fc
  .constantFrom(...SHAPE_KINDS)
  .chain((kind) =>
    fc.record({
      kind: fc.constant(kind),
      rest: point(6),
      body: role('body'),
      arm: role('arm'),
      shape: keys(valueOf(kind), KINDS[kind].channels.length - 1),
      fromStart: fc.boolean(),
    }),
  )
  .map(({ kind, rest, body, arm, shape, fromStart }) => {
    const tracks = { ...body, ...arm, 'arm.hit': fromStart ? [{ ...shape[0]!, at: 0 }, ...shape.slice(1)] : shape };
    const rests = Object.hasOwn(tracks, 'arm.position') ? {} : { rest: { position: rest } };
    const roles = { body: {}, arm: { parent: 'body', ...rests, shapes: { hit: { kind } } } };
    return { unspool: 1, roles, clips: { move: { duration: 2, tracks } } };
  });

export const placement = fc.record({
  position: point(5),
  rotation: number(400),
  scale: fc.oneof(number(2), point(2)),
  flip: fc.boolean(),
});
