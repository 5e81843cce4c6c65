import type { Time } from '../time/units.js';
import type { ClipDocument, CueDocument, LoopDocument, ReelDocument, RoleDocument, SheetDocument } from './document.js';

/** A key in code: `[at, value]` or `[at, value, ease]`. */
export type KeyTuple = readonly [at: Time, value: KeyValue, ease?: string];
export type KeyValue = number | boolean | string | readonly number[];

export interface ClipOptions {
  readonly about?: string;
  readonly fps?: number;
  readonly duration?: Time;
  readonly loop?: LoopDocument;
  readonly rate?: number;
  readonly after?: 'hold' | 'rest';
}

export interface TrackOptions {
  readonly kind?: 'number' | 'vec2' | 'vec3' | 'angle' | 'color' | 'integer' | 'flag' | 'text';
  readonly turn?: 'literal' | 'shortest';
}

export interface CueOptions {
  /** Turns the cue into an interval. */
  readonly until?: Time;
  /** Any JSON, passed to the handlers of the cue. */
  readonly data?: unknown;
}

type RoleOf<T extends string> = T extends `${infer Role}.${string}` ? Role : never;

/** A clip under construction. Each call returns a new draft, so that one draft can be the start of several. */
export class ClipDraft<Name extends string, Role extends string = never, Cue extends string = never> {
  /** Only for types: the names used so far. */
  declare readonly names?: { readonly role: Role; readonly cue: Cue };

  /** @internal use `defineClip` */
  constructor(
    readonly name: Name,
    /** The clip as in a reel's document. */
    readonly document: Readonly<Record<string, unknown>>,
  ) {}

  /** Adds a track: `role.property` or `role.property.channel`, with its keys sorted by time. */
  track<const T extends `${string}.${string}`>(
    name: T,
    keys: readonly KeyTuple[],
    options: TrackOptions = {},
  ): ClipDraft<Name, Role | RoleOf<T>, Cue> {
    const list = keys.map(([at, value, ease]) => ({ at, value, ...(ease !== undefined && { ease }) }));
    const track = Object.keys(options).length > 0 ? { ...options, keys: list } : list;
    return this.#with({ tracks: { ...(this.document['tracks'] as object | undefined), [name]: track } });
  }

  /** Adds a cue, or an interval with `until`. */
  cue<const C extends string>(at: Time, name: C, options: CueOptions = {}): ClipDraft<Name, Role, Cue | C> {
    const cues = (this.document['cues'] as readonly unknown[] | undefined) ?? [];
    return this.#with({ cues: [...cues, { at, name, ...options }] });
  }

  /** Adds a span, a named range of the clip. */
  span(name: string, from: Time, until: Time): ClipDraft<Name, Role, Cue> {
    return this.#with({ spans: { ...(this.document['spans'] as object | undefined), [name]: [from, until] } });
  }

  #with<R extends string, C extends string>(members: Record<string, unknown>): ClipDraft<Name, R, C> {
    return new ClipDraft<Name, R, C>(this.name, { ...this.document, ...members });
  }
}

/**
 * Begins a clip in code:
 * `defineClip('snap', { fps: 60 }).track('claw.rotation', [[0, 0, 'quad-out'], ['6f', -40]]).cue('9f', 'shut')`.
 */
export function defineClip<const Name extends string>(name: Name, options: ClipOptions = {}): ClipDraft<Name> {
  return new ClipDraft<Name>(name, { ...options });
}

type AnyDraft<Role extends string> = ClipDraft<string, Role, string>;

export interface ReelDraft<R extends string, C extends readonly AnyDraft<R>[]> {
  readonly name?: string;
  readonly about?: string;
  readonly fps?: number;
  readonly roles?: { readonly [Role in R]: RoleDocument };
  readonly sheets?: Readonly<Record<string, SheetDocument>>;
  readonly clips: C;
}

type NamedCue<D extends AnyDraft<string>> = Omit<CueDocument, 'name'> & {
  readonly name: NonNullable<D['names']>['cue'];
};

/** A document from code, with the names that it was written with. */
export type DefinedReel<R extends string, C extends readonly AnyDraft<R>[]> = Omit<ReelDocument, 'roles' | 'clips'> & {
  readonly roles: { readonly [Role in R]: RoleDocument };
  readonly clips: {
    readonly [D in C[number] as D['name']]: Omit<ClipDocument, 'cues'> & { readonly cues: readonly NamedCue<D>[] };
  };
};

/**
 * Puts clips together to the document of a reel: the same data as in a file, for `parseReel` or `formatReel`. A track
 * of a role that `roles` does not have does not compile. Throws when two clips have one name.
 */
export function defineReel<const R extends string, const C extends readonly AnyDraft<R>[]>(
  draft: ReelDraft<R, C>,
): DefinedReel<R, C> {
  const clips: Record<string, unknown> = {};
  for (const { name, document } of draft.clips) {
    if (Object.hasOwn(clips, name)) throw new TypeError(`two clips have the name ${JSON.stringify(name)}. Rename one.`);
    clips[name] = document;
  }
  return { unspool: 1, ...draft, clips } as unknown as DefinedReel<R, C>;
}
