/** What a property's value is made of. docs/format.md tables their JSON forms. */
export type Kind = keyof typeof KINDS;
export type ShapeKind = keyof typeof SHAPES;

export interface KindRules {
  /** Names of the scalars, in their order in a pose. */
  readonly channels: readonly string[];
  /** True when nothing lies between two keys: the earlier one holds. */
  readonly held: boolean;
}

const plain = (held = false): KindRules => ({ channels: ['value'], held });

/** The numbers of shapes; behind them comes one that is 1 while the shape is active, else 0. */
export const SHAPES = {
  box: 'center.x center.y size.x size.y angle',
  circle: 'center.x center.y radius',
  capsule: 'from.x from.y to.x to.y radius',
} as const;
const shape = (kind: ShapeKind): KindRules => ({ channels: [...SHAPES[kind].split(' '), 'active'], held: false });

/** Calls in it are marked as pure: who only samples does not need it, and need not load it. */
export const KINDS = {
  number: /* @__PURE__ */ plain(),
  vec2: { channels: ['x', 'y'], held: false },
  vec3: { channels: ['x', 'y', 'z'], held: false },
  angle: /* @__PURE__ */ plain(),
  quat: { channels: ['x', 'y', 'z', 'w'], held: false },
  color: { channels: ['r', 'g', 'b', 'a'], held: false },
  integer: /* @__PURE__ */ plain(true),
  flag: /* @__PURE__ */ plain(true),
  text: /* @__PURE__ */ plain(true),
  box: /* @__PURE__ */ shape('box'),
  circle: /* @__PURE__ */ shape('circle'),
  capsule: /* @__PURE__ */ shape('capsule'),
} as const satisfies Record<string, KindRules>;

export const KIND_NAMES = /* @__PURE__ */ Object.keys(KINDS) as Kind[];

/** Whether a property of this kind is a shape, which no object is written: it hits, or is hit. */
export function isShape(kind: Kind): kind is ShapeKind {
  return Object.hasOwn(SHAPES, kind);
}

/** Scalars that a value of this kind takes in a pose. */
export function widthOf(kind: Kind): number {
  return KINDS[kind].channels.length;
}
