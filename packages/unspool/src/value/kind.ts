/** The kinds that are not shapes, and whether each holds from key to key: its values cannot be interpolated. */
const PLAIN = {
  ...{ number: false, vec2: false, vec3: false, angle: false, quat: false, color: false },
  ...{ integer: true, flag: true, text: true },
};
/** The kind of a property's value. docs/reference/format.md lists their JSON forms. */
export type Kind = keyof typeof PLAIN | ShapeKind;
/** A kind of shape. */
export type ShapeKind = keyof typeof SHAPES;

/** How values of a kind are stored and interpolated. */
export interface KindRules {
  /** Names of the numbers, in their order in a pose. */
  readonly channels: readonly string[];
  /** True when values cannot be interpolated: each key holds until the next. */
  readonly held: boolean;
}

/**
 * What a member of a shape is: a point, which a mirror moves; a size, two lengths; a length, 0 or more; an angle in
 * degrees, which a mirror negates; a direction in degrees from +x toward +y, which a mirror reflects.
 */
export type ShapeMember = 'point' | 'size' | 'length' | 'angle' | 'direction';

/**
 * The shapes, by kind, with their members in the order of their numbers. Points and sizes have two numbers, x and y. After
 * them comes one that is 1 while the shape is active, else 0. This table is all that reels, clips and editing know of a
 * shape; the compiler lists what else has a record by kind (hits, drawings, handles).
 */
export const SHAPES = {
  box: { center: 'point', size: 'size', angle: 'angle' },
  circle: { center: 'point', radius: 'length' },
  capsule: { from: 'point', to: 'point', radius: 'length' },
  // Between two directions, whichever comes first: at most a whole circle.
  sector: { center: 'point', radius: 'length', from: 'direction', to: 'direction' },
  // Convex, with a fixed number of corners: hits take their convex hull.
  polygon3: { corner1: 'point', corner2: 'point', corner3: 'point' },
  polygon4: { corner1: 'point', corner2: 'point', corner3: 'point', corner4: 'point' },
  polygon5: { corner1: 'point', corner2: 'point', corner3: 'point', corner4: 'point', corner5: 'point' },
  polygon6: {
    corner1: 'point',
    corner2: 'point',
    corner3: 'point',
    corner4: 'point',
    corner5: 'point',
    corner6: 'point',
  },
  polygon7: {
    corner1: 'point',
    corner2: 'point',
    corner3: 'point',
    corner4: 'point',
    corner5: 'point',
    corner6: 'point',
    corner7: 'point',
  },
  polygon8: {
    corner1: 'point',
    corner2: 'point',
    corner3: 'point',
    corner4: 'point',
    corner5: 'point',
    corner6: 'point',
    corner7: 'point',
    corner8: 'point',
  },
} as const satisfies Record<string, Readonly<Record<string, ShapeMember>>>;

/** Whether a member has two numbers, x and y. */
export const isPair = (member: ShapeMember) => member === 'point' || member === 'size';

export const SHAPE_KINDS = /* @__PURE__ */ Object.keys(SHAPES) as ShapeKind[];

/** The members of a kind of shape. */
export const membersOf = (kind: ShapeKind): Readonly<Record<string, ShapeMember>> => SHAPES[kind];

/** Names of the numbers of a kind, in their order in a pose; a kind of one number calls it `value`. */
const CHANNELS: { readonly [K in Kind]?: string } = { vec2: 'x y', vec3: 'x y z', quat: 'x y z w', color: 'r g b a' };

/** Returns the names of the numbers of a kind. Apart from `KINDS`, which code that only samples need not load. */
export function channelsOf(kind: Kind): readonly string[] {
  if (!isShape(kind)) return (CHANNELS[kind] ?? 'value').split(' ');
  const numbers = Object.entries(membersOf(kind)).flatMap(([name, member]) =>
    isPair(member) ? [`${name}.x`, `${name}.y`] : [name],
  );
  return [...numbers, 'active'];
}

const isHeld = (kind: Kind) => (PLAIN as Readonly<Record<string, boolean>>)[kind] ?? false;

function rulesOfAll(): { readonly [K in Kind]: KindRules } {
  const kinds = [...Object.keys(PLAIN), ...Object.keys(SHAPES)] as Kind[];
  return Object.fromEntries(kinds.map((kind) => [kind, { channels: channelsOf(kind), held: isHeld(kind) }])) as never;
}

/** The kinds of value. */
// Marked as pure, so that a bundle that only samples leaves the table out.
export const KINDS = /* @__PURE__ */ rulesOfAll();

export const KIND_NAMES = /* @__PURE__ */ Object.keys(KINDS) as Kind[];

/** Returns whether a kind is a shape: it takes part in hits, and is not written into objects. */
export function isShape(kind: Kind): kind is ShapeKind {
  return Object.hasOwn(SHAPES, kind);
}

/** Scalars that a value of this kind takes in a pose. */
export function widthOf(kind: Kind): number {
  return KINDS[kind].channels.length;
}
