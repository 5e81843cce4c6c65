import type { ReelNames } from '../../clip/names.js';

/** The value of an input of a routine, by its kind. */
export interface InputValues {
  readonly number: number;
  readonly vec2: readonly [x: number, y: number];
  readonly flag: boolean;
  readonly signal: never;
}

type InputsOf<N extends ReelNames, R extends string> = N['routines'][R]['inputs'];
/** The names of the inputs of a routine that have a value. */
export type InputName<N extends ReelNames, R extends string> = {
  [I in keyof InputsOf<N, R> & string]: InputsOf<N, R>[I] extends 'signal' ? never : I;
}[keyof InputsOf<N, R> & string];
/** The names of the signals of a routine. */
export type SignalName<N extends ReelNames, R extends string> = {
  [I in keyof InputsOf<N, R> & string]: 'signal' extends InputsOf<N, R>[I] ? I : never;
}[keyof InputsOf<N, R> & string];
/** The value of an input of a routine. */
export type InputValue<N extends ReelNames, R extends string, I extends string> = InputValues[InputsOf<N, R>[I]];
/** The names of the rules of a routine. */
export type RuleName<N extends ReelNames, R extends string> = N['routines'][R]['rule'];
