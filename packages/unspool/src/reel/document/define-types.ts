import type { Time } from '../../time/units.js';
import type { Kind, ShapeKind } from '../../value/kind.js';
import type { Mix } from '../../value/mixing.js';
import type { EulerOrder } from '../../value/quat.js';
import type { KindValues, Value } from '../../value/read.js';
import type { ClipDocument, CueDocument, LoopDocument, ReelDocument, RuleDocument, SheetDocument } from './document.js';

/** What reels are written from in code, and the types that follow from it. */

/**
 * A key in code: `[at, value]`, `[at, value, ease]`, or `[at, value, { ease, in, out, data }]`. The value `null` turns a
 * shape off.
 */
export type KeyTuple = readonly [at: Time, value: KeyValue, ease?: string | KeyOptions];

/** A row of frames of a sheet: `{ at: 0, frames: [0, 5], each: '4f' }` shows the cells 0 to 5, each for four frames. */
export interface FramesDraft {
  readonly at: Time;
  readonly frames: readonly [first: number, last: number];
  readonly each: Time;
}

/** What a key can hold: a value as in the reel format, see docs/reference/format.md. */
export type KeyValue = number | boolean | string | readonly number[] | RotationDraft | ShapeDraft | null;

/** A rotation in space: degrees about x, y and z, applied in `order`. Default: `'xyz'`. */
export interface RotationDraft {
  readonly euler: readonly [x: number, y: number, z: number];
  readonly order?: EulerOrder;
}

/** A shape: omitted members keep their value of the previous key. */
export interface ShapeDraft {
  readonly center?: readonly [x: number, y: number];
  readonly size?: readonly [x: number, y: number];
  readonly angle?: number;
  readonly radius?: number;
  readonly from?: readonly [x: number, y: number];
  readonly to?: readonly [x: number, y: number];
}

/** Options of a key. */
export interface KeyOptions {
  /** The easing to the next key. Default: `'linear'`. */
  readonly ease?: string;
  /** Handle of a `curve` segment that ends at this key: `[dt, dv]`, or one for each channel. */
  readonly in?: unknown;
  /** Handle of a `curve` segment that begins at this key. */
  readonly out?: unknown;
  /** Of a shape: the data of its hits from this key on. */
  readonly data?: unknown;
}

/** Options of `defineClip`. What is omitted has the default of the reel format. */
export interface ClipOptions {
  readonly about?: string;
  readonly fps?: number;
  readonly duration?: Time;
  readonly loop?: LoopDocument;
  readonly rate?: number;
  readonly after?: 'hold' | 'rest';
}

/** Options of `draft.track`. */
export interface TrackOptions {
  readonly about?: string;
  /** The kind of the value. Default: what the property is known to have, else what the first value looks like. */
  readonly kind?: Kind;
  /** How an angle gets from key to key: as written, or the short way. Default: `'literal'`. */
  readonly turn?: 'literal' | 'shortest';
  /** The color space that colors are mixed in. Default: `'srgb'`. */
  readonly mix?: Mix;
  /** Whether values replace what is below, or are added to it. Default: `'absolute'`. */
  readonly space?: 'absolute' | 'offset';
  /** Whether each iteration of a loop builds on where the last one ended. Default: false, it starts anew. */
  readonly accumulate?: boolean;
}

/** Options of `draft.cue`. */
export interface CueOptions<Data = unknown> {
  /** The end: makes the cue an interval. */
  readonly until?: Time;
  /** Any JSON, passed to the handlers of the cue. */
  readonly data?: Data;
  readonly about?: string;
}

/** Options of `draft.part`. */
export interface PartOptions {
  /** When it ends. Default: the end of the clip that it plays. */
  readonly until?: Time;
  readonly rate?: number;
  readonly loop?: LoopDocument;
  /** The role of this clip for each role of the other. Default: the same names. */
  readonly roles?: Readonly<Record<string, string>>;
  readonly about?: string;
}

/** A cue of a draft: its name, and the type of its data. */
export interface CueTypes {
  readonly name: string;
  readonly data: unknown;
}

/** What the calls on a draft have named so far. */
export interface DraftTypes<Role = string, Cue = CueTypes, Span = string, Values = object, Hit = unknown> {
  readonly role: Role;
  readonly cue: Cue;
  readonly span: Span;
  readonly values: Values;
  readonly hit: Hit;
}

/** A role in code. */
export interface RoleDraft {
  readonly about?: string;
  /** The role whose transform it inherits. */
  readonly parent?: string;
  /** The sheet that its `frame` counts cells of. */
  readonly sheet?: string;
  /** Values when nothing animates them, by property. */
  readonly rest?: Readonly<Record<string, KeyValue>>;
  readonly shapes?: Readonly<Record<string, RoleShape>>;
}

/** A shape of a role: its kind, what it is for, and the data of its hits. */
export interface RoleShape {
  readonly kind: ShapeKind;
  readonly tag?: string;
  readonly data?: unknown;
  readonly about?: string;
}

/** A link of a chain: a clip, or a clip and how it is played. */
export type LinkDraft<Clip extends string = string> =
  | Clip
  | {
      readonly clip: Clip;
      readonly loop?: LoopDocument;
      readonly rate?: number;
      readonly span?: string;
      readonly fade?: Time;
      readonly about?: string;
    };

/** The name of a side of a facing. */
export type Side = 'right' | 'down-right' | 'down' | 'down-left' | 'left' | 'up-left' | 'up' | 'up-right';

/** A facing: a clip for each side, or a side that mirrors another; or a list of directions with their clips. */
export type FacingDraft<Clip extends string = string> =
  | { readonly [S in Side]?: Clip | { readonly mirror: Side } }
  | readonly { readonly toward: readonly [x: number, y: number]; readonly clip: Clip }[];

/** An input of a routine. */
export type InputDraft =
  | { readonly kind: 'number'; readonly value?: number; readonly about?: string }
  | { readonly kind: 'vec2'; readonly value?: readonly [x: number, y: number]; readonly about?: string }
  | { readonly kind: 'flag'; readonly value?: boolean; readonly about?: string }
  | { readonly kind: 'signal'; readonly keep?: Time; readonly about?: string };

/** A routine: the inputs that its rules read, and the rules, the strongest first. */
export interface RoutineDraft {
  readonly about?: string;
  readonly inputs?: Readonly<Record<string, InputDraft>>;
  readonly rules: readonly RuleDocument[];
}

/** A draft of a clip that animates these roles. */
export interface AnyClip<Role extends string = string> {
  readonly name: string;
  readonly document: Readonly<Record<string, unknown>>;
  readonly types?: DraftTypes<Role>;
}

/** What `defineReel` makes a reel of. */
export interface ReelDraft<
  Roles extends Readonly<Record<string, RoleDraft>>,
  Clips extends readonly AnyClip<keyof Roles & string>[],
  Chains,
  Facings,
  Routines,
> {
  readonly name?: string;
  readonly about?: string;
  readonly fps?: number;
  /** By name. A track of a role that is not here does not compile. Default: the roles that the clips animate. */
  readonly roles?: Roles & { readonly [R in keyof Roles]: { readonly parent?: keyof Roles } };
  readonly sheets?: Readonly<Record<string, SheetDocument>>;
  readonly clips: Clips;
  readonly chains?: Chains;
  readonly facings?: Facings;
  readonly routines?: Routines;
}

/** The types of everything that a list of clips has named. */
type TypesIn<Clips extends readonly { readonly types?: DraftTypes }[]> = NonNullable<Clips[number]['types']>;

/** A document from code, with the names and types that it was written with. */
export type DefinedReel<
  Roles extends Readonly<Record<string, RoleDraft>>,
  Clips extends readonly AnyClip<keyof Roles & string>[],
  Chains,
  Facings,
  Routines,
> = Omit<ReelDocument, 'roles' | 'clips' | 'chains' | 'facings' | 'routines'> & {
  readonly roles: { readonly [R in keyof Roles]: RoleDraft };
  readonly clips: {
    readonly [C in Clips[number] as C['name']]: Omit<ClipDocument, 'cues' | 'spans'> & {
      readonly cues: readonly (Omit<CueDocument, 'name' | 'data'> & TypesIn<[C]>['cue'])[];
      readonly spans: Readonly<Record<TypesIn<[C]>['span'], readonly [Time, Time]>>;
    };
  };
  readonly chains: Chains;
  readonly facings: Facings;
  readonly routines: Routines;
  /** Only for types: not present at run time. */
  readonly types?: { readonly values: ValuesIn<Roles, TypesIn<Clips>['values']>; readonly hit: HitIn<Roles, Clips> };
};

/** The values of a reel: those that tracks animate, the rest values of roles, and their shapes. */
type ValuesIn<Roles, Tracks> = {
  [K in Exclude<KeysOf<Tracks>, ShapeKeys<Roles>>]: Tracks extends Readonly<Record<K, infer V extends Value>>
    ? V
    : never;
} & {
  [K in Exclude<RestKeys<Roles>, KeysOf<Tracks>>]: Value;
} & {
  [K in ShapeNames<Roles>]: K extends `${infer R}.${infer S}`
    ? Roles extends Readonly<Record<R, { readonly shapes: Readonly<Record<S, { readonly kind: infer K }>> }>>
      ? KindValues[K & ShapeKind]
      : never
    : never;
};

type KeysOf<T> = T extends unknown ? keyof T & string : never;
type RestKeys<Roles> = {
  [R in keyof Roles & string]: Roles[R] extends { readonly rest: infer Rest } ? `${R}.${keyof Rest & string}` : never;
}[keyof Roles & string];
type ShapeNames<Roles> = {
  [R in keyof Roles & string]: Roles[R] extends { readonly shapes: infer S } ? `${R}.${keyof S & string}` : never;
}[keyof Roles & string];
type ShapeKeys<Roles> = ShapeNames<Roles> | `${ShapeNames<Roles>}.${string}`;

/** The data of hits: of shapes, and of the keys that turn them on. */
type HitIn<Roles, Clips extends readonly { readonly types?: DraftTypes }[]> =
  | TypesIn<Clips>['hit']
  | { [R in keyof Roles]: Roles[R] extends { readonly shapes: infer S } ? DataIn<S[keyof S]> : never }[keyof Roles];
type DataIn<S> = S extends { readonly data: infer Data } ? Data : never;

/** What a track adds to the types of its clip. */
export type RoleOfTrack<P extends string> = P extends `${infer Role}.${string}` ? Role : never;
export type HitOfTrack<Keys> =
  KeyIn<Keys> extends infer K
    ? K extends readonly [unknown, unknown, infer Options]
      ? DataIn<Options>
      : never
    : never;

type KeyIn<Keys> = Keys extends readonly (infer K)[] ? K : never;
export type ValueIn<Keys> =
  KeyIn<Keys> extends infer K ? (K extends readonly [unknown, infer V, ...unknown[]] ? V : number) : never;

export type ValueOfTrack<P extends string, V, O> = P extends `${infer Role}.${infer Property}`
  ? Property extends `${infer Base extends Vector}.${string}`
    ? { readonly [K in `${Role}.${Base}`]: PropertyValue<Base, never> }
    : {
        readonly [K in P]: O extends { readonly kind: infer K extends Kind }
          ? KindValues[K]
          : PropertyValue<Property, V>;
      }
  : never;

/** Known properties whose channels have names. */
type Vector = 'position' | 'scale' | 'size' | 'pivot' | 'tint';

/** The value of a property: of the known ones by name, of others as their keys look. See `value/property.ts`. */
type PropertyValue<Property extends string, V> = Property extends 'opacity' | 'frame'
  ? number
  : Property extends 'visible'
    ? boolean
    : Property extends 'tint'
      ? KindValues['color']
      : Property extends 'size' | 'pivot'
        ? KindValues['vec2']
        : Property extends 'rotation'
          ? [V] extends [number]
            ? number
            : KindValues['quat']
          : Property extends 'position' | 'scale'
            ? [V] extends [readonly [unknown, unknown]]
              ? KindValues['vec2']
              : [V] extends [readonly [unknown, unknown, unknown]]
                ? KindValues['vec3']
                : number[]
            : LookOf<V>;

type LookOf<V> = V extends number
  ? number
  : V extends boolean
    ? boolean
    : V extends `#${string}`
      ? KindValues['color']
      : V extends string
        ? string
        : V extends readonly [unknown, unknown]
          ? KindValues['vec2']
          : V extends readonly [unknown, unknown, unknown]
            ? KindValues['vec3']
            : V extends readonly unknown[] | RotationDraft
              ? KindValues['quat']
              : V extends null
                ? never
                : Value;
