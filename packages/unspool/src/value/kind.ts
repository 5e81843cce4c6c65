/** What a property's value is made of. docs/format.md tables their JSON forms. */
export type Kind =
  'number' | 'vec2' | 'vec3' | 'angle' | 'quat' | 'color' | 'integer' | 'flag' | 'text' | 'box' | 'circle' | 'capsule';

export interface KindRules {
  /** Names of the scalars, in their order in a pose. */
  readonly channels: readonly string[];
  /** True when nothing lies between two keys: the earlier one holds. */
  readonly held: boolean;
}

const plain = (held = false): KindRules => ({ channels: ['value'], held });

/** The kinds that can be sampled. Shapes are read as documents, and not played yet. */
export const KINDS = {
  number: plain(),
  vec2: { channels: ['x', 'y'], held: false },
  vec3: { channels: ['x', 'y', 'z'], held: false },
  angle: plain(),
  quat: { channels: ['x', 'y', 'z', 'w'], held: false },
  color: { channels: ['r', 'g', 'b', 'a'], held: false },
  integer: plain(true),
  flag: plain(true),
  text: plain(true),
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
