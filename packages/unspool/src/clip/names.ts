import type { InputKind } from '../reel/document/input-kinds.js';
import type { Value } from '../value/read.js';

/**
 * What TypeScript knows of a reel: its names, so that a misspelled one does not compile, and the types behind them. The
 * defaults stand for a reel that is only known at run time: any name, and data of any shape.
 */
export interface ReelNames {
  readonly clip: string;
  readonly role: string;
  readonly cue: string;
  readonly span: string;
  readonly chain: string;
  readonly facing: string;
  readonly routine: string;
  /** The inputs of each routine with their kinds, and the names of its rules. */
  readonly routines: Readonly<Record<string, RoutineNames>>;
  /** The `data` of each cue, by the cue's name. */
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- JSON whose shape only the game's author knows
  readonly data: Readonly<Record<string, any>>;
  /** The value of each property, by `role.property`. */
  readonly values: Readonly<Record<string, Value>>;
  /** The `data` of the hits of its shapes. */
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- as above
  readonly hit: any;
}

/** What TypeScript knows of a routine. */
export interface RoutineNames {
  /** The kind of each input, by its name. */
  readonly inputs: Readonly<Record<string, InputKind>>;
  readonly rule: string;
}

/** The names of a document's type: see `NamesOf`. */
export type DocumentNames<D> = D extends { readonly clips: infer Clips extends object }
  ? {
      readonly clip: keyof Clips & string;
      readonly role: D extends { readonly roles: infer Roles extends object } ? keyof Roles & string : string;
      readonly cue: CueOf<Clips[keyof Clips]>['name'];
      readonly span: SpanOf<Clips[keyof Clips]>;
      readonly chain: D extends { readonly chains: infer All extends object } ? keyof All & string : never;
      readonly facing: D extends { readonly facings: infer All extends object } ? keyof All & string : never;
      readonly routine: D extends { readonly routines: infer All extends object } ? keyof All & string : never;
      readonly routines: D extends { readonly routines: infer All extends object }
        ? { readonly [R in keyof All & string]: RoutineOf<All[R]> }
        : Readonly<Record<never, RoutineNames>>;
      readonly data: { readonly [C in CueOf<Clips[keyof Clips]> as C['name']]: DataOf<C> };
      readonly values: TypesOf<D> extends { readonly values: infer V extends ReelNames['values'] }
        ? V
        : ReelNames['values'];
      readonly hit: TypesOf<D> extends { readonly hit: infer H } ? H : ReelNames['hit'];
    }
  : ReelNames;

/** The part of a declaration that exists only for the compiler. */
type TypesOf<D> = D extends { readonly types?: infer T } ? NonNullable<T> : unknown;

type SpanOf<C> = C extends { readonly spans: infer Spans extends object } ? keyof Spans & string : never;

type CueOf<C> = C extends { readonly cues: readonly (infer Cue)[] }
  ? Cue extends { readonly name: string }
    ? Cue
    : never
  : never;

type RoutineOf<R> = {
  readonly inputs: R extends { readonly inputs: infer Inputs extends object }
    ? { readonly [I in keyof Inputs & string]: KindIn<Inputs[I]> }
    : Readonly<Record<never, InputKind>>;
  readonly rule: R extends { readonly rules: readonly (infer Rule)[] }
    ? Rule extends { readonly name: infer Name extends string }
      ? Name
      : string
    : string;
};

/** The kind of an input; of a plain JSON module it is not known. */
type KindIn<I> = I extends { readonly kind: infer K } ? (K extends InputKind ? K : InputKind) : InputKind;

/** A cue without data has `undefined`; of a name that is only known at run time the data is not known either. */
type DataOf<C extends { readonly name: string }> = string extends C['name']
  ? ReelNames['hit']
  : C extends { readonly data: infer Data }
    ? Data
    : undefined;
