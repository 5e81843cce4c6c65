import { Hand } from 'lucide-react';
import { ToggleButton } from 'react-aria-components';
import { changeBackdrop, changeDisplay, useStore, type BackdropName } from '../model/store.js';
import { LabeledNumber } from '../numbers/LabeledNumber.js';

const LABELS = { background: 'Background', reference: 'Reference' } as const;
const TITLES = {
  background: 'Background: a picture behind the cast',
  reference: 'Reference: a half transparent picture to animate by',
} as const;
/** The opacity of a picture when it is picked. */
const SEEN = { background: 1, reference: 0.5 } as const;

interface Props {
  readonly name: BackdropName;
}

/** Which picture lies behind the cast. */
export function BackdropSelect({ name }: Props) {
  const backdrop = useStore((state) => state.display[name]);
  const isMoving = useStore((state) => state.display.moving === name);
  const found = useStore((state) => state.pictures?.names) ?? [];
  // Its picture stays on the list while the pictures are loading, and when its file is gone.
  const images = backdrop && !found.includes(backdrop.image) ? [...found, backdrop.image] : found;
  const choose = (image: string) => {
    if (image === '') changeDisplay({ [name]: undefined, ...(isMoving && { moving: undefined }) });
    else if (backdrop) changeBackdrop(name, { image });
    else changeDisplay({ [name]: { image, at: [0, 0], scale: 1, opacity: SEEN[name] } });
  };
  return (
    <label className="field" title={TITLES[name]}>
      <span>{LABELS[name]}</span>
      <select
        aria-label={LABELS[name]}
        data-backdrop={name}
        value={backdrop?.image ?? ''}
        onChange={({ currentTarget }) => choose(currentTarget.value)}
      >
        <option value="">none</option>
        {images.map((image) => (
          <option key={image}>{image}</option>
        ))}
      </select>
    </label>
  );
}

/** Position, size and opacity of a selected picture. */
export function BackdropLine({ name }: Props) {
  const backdrop = useStore((state) => state.display[name]);
  const isMoving = useStore((state) => state.display.moving === name);
  const label = LABELS[name];
  if (!backdrop) return null;
  return (
    <div className="backdrop" role="group" aria-label={`Position of the ${label.toLowerCase()}`}>
      <span className="what">{label}</span>
      <ToggleButton
        className="icon"
        aria-label={`Drag the ${label.toLowerCase()} on the stage`}
        isSelected={isMoving}
        onChange={(is) => changeDisplay({ moving: is ? name : undefined })}
      >
        <Hand size={13} aria-hidden />
      </ToggleButton>
      {(['x', 'y'] as const).map((axis, k) => (
        <LabeledNumber
          key={axis}
          caption={axis}
          className="is-short"
          label={`${label}: ${axis}`}
          value={backdrop.at[k]!}
          onChange={(n) => changeBackdrop(name, { at: k === 0 ? [n, backdrop.at[1]] : [backdrop.at[0], n] })}
        />
      ))}
      <LabeledNumber
        caption="size"
        className="is-short"
        label={`${label}: size`}
        value={backdrop.scale}
        step={0.05}
        least={0.01}
        onChange={(scale) => changeBackdrop(name, { scale })}
      />
      <LabeledNumber
        caption="opacity"
        className="is-short"
        label={`${label}: opacity, 0 to 1`}
        value={backdrop.opacity}
        step={0.05}
        least={0}
        onChange={(opacity) => changeBackdrop(name, { opacity: Math.min(1, opacity) })}
      />
    </div>
  );
}
