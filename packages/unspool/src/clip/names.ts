/** The names in a reel's document as types, so that a misspelled name does not compile. */
export interface ReelNames {
  readonly clip: string;
  readonly role: string;
  readonly cue: string;
  readonly span: string;
  readonly chain: string;
  readonly facing: string;
}

/**
 * The names of a document type. An imported JSON module or the result of `defineReel` has its own names; a string or
 * unknown value allows any name. Names that are members (clips, roles) are known from a plain JSON module; cue names
 * need the declaration that `unspool types` writes.
 */
export type NamesOf<D> = D extends { readonly clips: infer Clips extends object }
  ? {
      readonly clip: keyof Clips & string;
      readonly role: D extends { readonly roles: infer Roles extends object } ? keyof Roles & string : string;
      readonly cue: CueOf<Clips[keyof Clips]>;
      readonly span: SpanOf<Clips[keyof Clips]>;
      readonly chain: MembersOf<D, 'chains'>;
      readonly facing: MembersOf<D, 'facings'>;
    }
  : ReelNames;

/** The names of what stands in a member that a document may leave out. */
type MembersOf<D, M extends string> = D extends { readonly [K in M]: infer All extends object }
  ? keyof All & string
  : never;

type SpanOf<C> = C extends { readonly spans: infer Spans extends object } ? keyof Spans & string : never;

type CueOf<C> = C extends { readonly cues: readonly (infer Cue)[] }
  ? Cue extends { readonly name: infer Name extends string }
    ? Name
    : never
  : never;
