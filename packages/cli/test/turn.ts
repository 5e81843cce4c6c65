import type { Operation } from 'unspool/edit';

/** A step on the demo reel of the crab: the value of the key of its claw at 12f. */
export const turn = (value: number): Operation => ({
  do: 'set-keys',
  clip: 'snap',
  keys: { 'claw.rotation': ['12f'] },
  value,
});

/** That value, in the text of the reel. */
export const valueIn = (text: string) => Number(/"at": "12f", "value": (-?\d+), "ease": "cubic/.exec(text)![1]);
