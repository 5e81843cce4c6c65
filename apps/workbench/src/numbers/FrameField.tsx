import { useStore } from '../model/store.js';
import { timesIn } from './expression.js';
import { LabeledNumber } from './LabeledNumber.js';

interface Props {
  readonly caption: string;
  readonly label: string;
  /** A number of frames as text. */
  readonly frames: number;
  readonly fps: number;
  readonly least?: number;
  readonly onChange: (frames: number) => void;
  /** After each change, where what is typed is only shown until then. */
  readonly onDone?: () => void;
  readonly onCancel?: () => void;
}

/** A time that can be typed, in frames or seconds as all are shown. */
export function FrameField({ caption, label, frames, fps, least = 0, ...ends }: Props) {
  const inSeconds = useStore((state) => state.inSeconds);
  return (
    <LabeledNumber
      caption={caption}
      label={label}
      value={frames}
      {...timesIn(inSeconds, fps)}
      least={least}
      {...ends}
    />
  );
}
