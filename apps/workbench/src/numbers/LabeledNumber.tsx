import { NumberField, type NumberFieldProps } from './NumberField.js';

/** A number with a label. */
export function LabeledNumber({ caption, ...number }: NumberFieldProps & { readonly caption: string }) {
  return (
    <label className="field">
      <span>{caption}</span>
      <NumberField {...number} />
    </label>
  );
}
