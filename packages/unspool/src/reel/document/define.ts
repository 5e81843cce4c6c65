import { UnspoolError } from '../../errors/error.js';
import { show } from '../../errors/show.js';
import type { Time } from '../../time/units.js';
import type {
  AnyClip,
  ClipOptions,
  CueOptions,
  CueTypes,
  DefinedReel,
  DraftTypes,
  FacingDraft,
  FramesDraft,
  HitOfTrack,
  KeyTuple,
  LinkDraft,
  PartOptions,
  ReelDraft,
  RoleDraft,
  RoleOfTrack,
  RoutineDraft,
  TrackOptions,
  ValueIn,
  ValueOfTrack,
} from './define-types.js';

/** A clip under construction. Each call returns a new draft, so that one draft can be the start of several. */
export class ClipDraft<
  Name extends string,
  Role extends string = never,
  Cue extends CueTypes = never,
  Span extends string = never,
  Values extends object = never,
  Hit = never,
> {
  /** Only for types: not present at run time. */
  declare readonly types?: DraftTypes<Role, Cue, Span, Values, Hit>;

  /** @internal use `defineClip` */
  constructor(
    /** Its name in the reel. */
    readonly name: Name,
    /** The clip as in a reel's document. */
    readonly document: Readonly<Record<string, unknown>>,
  ) {}

  /**
   * Adds a track with its keys, sorted by time.
   *
   * @param name `role.property` or `role.property.channel`; of a shape also `role.shape`
   *
   * @example
   * defineClip('snap').track('claw.rotation', [[0, 0, 'quad-out'], ['6f', -40]], { turn: 'shortest' });
   */
  track<
    const P extends `${string}.${string}`,
    const Keys extends readonly (KeyTuple | FramesDraft)[],
    const O extends TrackOptions,
  >(
    name: P,
    keys: Keys,
    options?: O,
  ): ClipDraft<
    Name,
    Role | RoleOfTrack<P>,
    Cue,
    Span,
    Values | ValueOfTrack<P, ValueIn<Keys>, O>,
    Hit | HitOfTrack<Keys>
  > {
    const list = keys.map((key) => {
      if (!Array.isArray(key)) return key;
      const [at, value, ease] = key as KeyTuple;
      return { at, value, ...(typeof ease === 'string' ? { ease } : ease) };
    });
    const track = options && Object.keys(options).length > 0 ? { ...options, keys: list } : list;
    return this.#with({ tracks: { ...(this.document['tracks'] as object | undefined), [name]: track } });
  }

  /** Adds a cue, or an interval with `until`. The type of `data` is that of the cue's events. */
  cue<const C extends string, const Data = undefined>(
    at: Time,
    name: C,
    options: CueOptions<Data> = {},
  ): ClipDraft<Name, Role, Cue | { readonly name: C; readonly data: Data }, Span, Values, Hit> {
    return this.#with({ cues: [...this.#list('cues'), { at, name, ...options }] });
  }

  /** Adds a span, a named range of the clip, for `play(clip, { span })`. */
  span<const S extends string>(name: S, from: Time, until: Time): ClipDraft<Name, Role, Cue, Span | S, Values, Hit> {
    return this.#with({ spans: { ...(this.document['spans'] as object | undefined), [name]: [from, until] } });
  }

  /** Plays another clip of the reel as a part of this one, from `at` on. */
  part(clip: string, at: Time, options: PartOptions = {}): ClipDraft<Name, Role, Cue, Span, Values, Hit> {
    return this.#with({ parts: [...this.#list('parts'), { clip, at, ...options }] });
  }

  #list(member: string): readonly unknown[] {
    return (this.document[member] as readonly unknown[] | undefined) ?? [];
  }

  #with<R extends string, C extends CueTypes, S extends string, V extends object, H>(
    members: Record<string, unknown>,
  ): ClipDraft<Name, R, C, S, V, H> {
    return new ClipDraft<Name, R, C, S, V, H>(this.name, { ...this.document, ...members });
  }
}

/**
 * Starts a clip in code. The names and types that it is written with are those of the reel: a misspelled clip, cue or
 * span does not compile, and the `data` of cues has its type.
 *
 * @example
 * const snap = defineClip('snap', { fps: 60 })
 *   .track('claw.rotation', [[0, 0, 'quad-out'], ['6f', -40]])
 *   .cue('9f', 'shut', { data: { sound: 'snap' } })
 *   .span('closing', 0, '6f');
 */
export function defineClip<const Name extends string>(name: Name, options: ClipOptions = {}): ClipDraft<Name> {
  return new ClipDraft<Name>(name, { ...options });
}

/**
 * Combines clips into the document of a reel: the same data as in a file, for `parseReel` or `formatReel`. Throws when
 * two clips have the same name.
 *
 * @example
 * const reel = parseReel(defineReel({ name: 'crab', roles: { claw: {} }, clips: [snap], chains: { twice: ['snap', 'snap'] } }));
 */
export function defineReel<
  const Roles extends Readonly<Record<string, RoleDraft>>,
  const Clips extends readonly AnyClip<keyof Roles & string>[],
  const Chains extends Readonly<Record<string, readonly LinkDraft<Clips[number]['name']>[]>> = Readonly<
    Record<never, never>
  >,
  const Facings extends Readonly<Record<string, FacingDraft<Clips[number]['name']>>> = Readonly<Record<never, never>>,
  const Routines extends Readonly<Record<string, RoutineDraft>> = Readonly<Record<never, never>>,
>(draft: ReelDraft<Roles, Clips, Chains, Facings, Routines>): DefinedReel<Roles, Clips, Chains, Facings, Routines> {
  const given = (draft as Partial<typeof draft> | null | undefined)?.clips;
  if (!Array.isArray(given))
    throw new UnspoolError('reel/no-clips', `expected a list of clips, found ${show(given)}`, 'pass { clips: [snap] }');
  const clips: Record<string, unknown> = {};
  for (const { name, document } of given as readonly AnyClip[]) {
    if (Object.hasOwn(clips, name))
      throw new UnspoolError('reel/duplicate-clip', `two clips have the name ${show(name)}`, 'rename one');
    clips[name] = document;
  }
  return { unspool: 1, ...draft, clips } as unknown as DefinedReel<Roles, Clips, Chains, Facings, Routines>;
}
