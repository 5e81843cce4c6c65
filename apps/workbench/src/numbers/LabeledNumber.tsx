import { NumberField, type NumberFieldProps } from './NumberField.js';

/** A number with what it is written before it. */
export function LabeledNumber({ caption, ...number }: NumberFieldProps & { readonly caption: string }) {
  return (
    <label className="field">
      <span>{caption}</span>
      <NumberField {...number} />
    </label>
  );
}
