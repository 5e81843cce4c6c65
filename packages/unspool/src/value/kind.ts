/** What a property's value is made of. docs/format.md tables their JSON forms. */
export type Kind =
  'number' | 'vec2' | 'vec3' | 'angle' | 'quat' | 'color' | 'integer' | 'flag' | 'text' | 'box' | 'circle' | 'capsule';

export interface KindRules {
  /** Names of the scalars, in their order in a pose. */
  readonly channels: readonly string[];
  /** True when nothing lies between two keys: the earlier one holds. */
  readonly held: boolean;
  /** How a message names such a value. */
  readonly form: string;
}

const plain = (form: string, held = false): KindRules => ({ channels: ['value'], held, form });

/** The kinds that can be sampled. Shapes are read as documents, and not played yet. */
export const KINDS = {
  number: plain('a number'),
  vec2: { channels: ['x', 'y'], held: false, form: 'two numbers, as [1, 2]' },
  vec3: { channels: ['x', 'y', 'z'], held: false, form: 'three numbers, as [1, 2, 3]' },
  angle: plain('a number of degrees'),
  quat: {
    channels: ['x', 'y', 'z', 'w'],
    held: false,
    form: 'a unit quaternion [x, y, z, w], or { "euler": [x, y, z], "order": "xyz" } in degrees',
  },
  color: {
    channels: ['r', 'g', 'b', 'a'],
    held: false,
    form: 'a colour, as "#e07a5f" or [r, g, b, a] with 0–1 each',
  },
  integer: plain('a whole number', true),
  flag: plain('true or false', true),
  text: plain('a text', true),
} as const satisfies Partial<Record<Kind, KindRules>>;

export type PlayableKind = keyof typeof KINDS;

export const KIND_NAMES: readonly Kind[] = [
  ...(Object.keys(KINDS) as PlayableKind[]),
  ...(['box', 'circle', 'capsule'] as const),
];

export function isPlayable(kind: Kind): kind is PlayableKind {
  return Object.hasOwn(KINDS, kind);
}

/** Scalars that a value of this kind takes in a pose. */
export function widthOf(kind: PlayableKind): number {
  return KINDS[kind].channels.length;
}
