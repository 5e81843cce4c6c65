/** The kinds of inputs that rules read. A signal happens once, at a moment; the others have a value. */
export const INPUT_KINDS: readonly InputKind[] = ['number', 'vec2', 'flag', 'signal'];

/** The kind of an input. */
export type InputKind = 'number' | 'vec2' | 'flag' | 'signal';
