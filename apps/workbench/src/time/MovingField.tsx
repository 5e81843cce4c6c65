import { useRef } from 'react';
import type { TimeDrag } from '../model/time-drag.js';
import { FrameField } from '../numbers/FrameField.js';

interface Props {
  readonly caption: string;
  readonly label: string;
  readonly frames: number;
  readonly fps: number;
  readonly begin: () => TimeDrag | undefined;
}

/** The time of something, which moves as it is typed or scrubbed. */
export function MovingField({ begin, frames, fps, ...others }: Props) {
  const held = useRef<{ readonly moving: TimeDrag | undefined; readonly start: number }>(undefined);
  const letGo = (how: 'end' | 'cancel') => () => {
    held.current?.moving?.[how]();
    held.current = undefined;
  };
  return (
    <FrameField
      frames={frames}
      fps={fps}
      onChange={(next) => {
        held.current ??= { moving: begin(), start: frames };
        held.current.moving?.to(Number((next - held.current.start).toFixed(6)) / fps);
      }}
      onDone={letGo('end')}
      onCancel={letGo('cancel')}
      {...others}
    />
  );
}
