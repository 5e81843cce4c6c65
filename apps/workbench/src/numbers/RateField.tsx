import type { Operation } from 'unspool/edit';
import { changing } from '../model/session.js';
import { LabeledNumber } from './LabeledNumber.js';

interface Props {
  readonly label: string;
  readonly rate: number | undefined;
  readonly step?: number;
  /** The operation that writes it, or takes it away where it is 1. */
  readonly changed: (to: { readonly rate: number | null }) => Operation;
}

/** How fast something plays: 1 is as it was made, and is not written. */
export function RateField({ label, rate, step = 0.05, changed }: Props) {
  return (
    <LabeledNumber
      caption="rate"
      label={label}
      value={rate ?? 1}
      step={step}
      {...changing((next) => changed({ rate: next === 1 ? null : next }))}
    />
  );
}
