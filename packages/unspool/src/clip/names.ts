/** The names that a reel's document has, as types: what makes a misspelt name fail to compile. */
export interface ReelNames {
  readonly clip: string;
  readonly role: string;
  readonly cue: string;
  readonly span: string;
  readonly chain: string;
  readonly facing: string;
}

/**
 * The names of a document's type. A document that TypeScript knows (an imported JSON module, `defineReel`) has its own;
 * a text or an unknown value has any. Names that are members (clips, roles) come through from a plain JSON module;
 * cue names are values there, and need the declaration that `unspool types` writes.
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
