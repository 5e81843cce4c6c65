import { expect } from 'vitest';

/** What a program without types may pass by mistake. */
export const WRONG_VALUES: readonly unknown[] = [
  ...[undefined, null, 0, -1, NaN, Infinity, '', 'x', true, () => 1, [], [1], [null], ['x'], {}, { a: null }, { x: 1 }],
  ...[{ parts: 1 }, { clips: 1 }, { clips: { snap: null } }, { do: 'add' }, new Date(0), new Map(), new Uint8Array(3)],
];

export type Call = (value: never) => unknown;

/** What a value is refused with; nothing where it is taken. */
export async function refusalOf(call: Call, value: unknown): Promise<unknown> {
  try {
    await call(value as never);
    return undefined;
  } catch (error) {
    return error;
  }
}

/** Fails where a call does not take a value and gives an error of the engine instead of one of ours. */
export async function expectClear(call: Call, values: readonly unknown[], ours: (error: unknown) => boolean) {
  for (const value of values) {
    const error = await refusalOf(call, value);
    if (error !== undefined && !ours(error)) expect(error).toBeInstanceOf(RangeError);
  }
}
