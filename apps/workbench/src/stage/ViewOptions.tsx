import { Settings2 } from 'lucide-react';
import { Button, Dialog, DialogTrigger, Popover } from 'react-aria-components';
import { changeDisplay, useStore } from '../model/store.js';
import { LabeledNumber } from '../numbers/LabeledNumber.js';

/** Frames of cameras that games have. */
const FRAMES = [
  [320, 180],
  [480, 270],
  [640, 360],
  [960, 540],
  [1280, 720],
  [1920, 1080],
] as const;

/** How the stage shows things and what it snaps to: kept in this browser, not in the reel. */
export function ViewOptions() {
  const { ghostStep, snap, pixelArt, cameraFrame } = useStore((state) => state.display);
  const snapTo = (to: Partial<typeof snap>) => changeDisplay({ snap: { ...snap, ...to } });
  return (
    <DialogTrigger>
      <Button className="icon" aria-label="More stage options: snapping, pixel art, camera frame">
        <Settings2 size={14} aria-hidden />
      </Button>
      <Popover className="popover" placement="bottom">
        <Dialog className="fields-dialog" aria-label="Stage options">
          <Check
            label="Snap to edges and centers of other roles"
            is={snap.roles}
            onChange={(roles) => snapTo({ roles })}
          />
          <LabeledNumber
            caption="Snap to a grid of"
            label="Grid of the stage; 0 for none"
            value={snap.grid}
            least={0}
            onChange={(grid) => snapTo({ grid })}
          />
          <Check label="Whole pixels" is={snap.pixels} onChange={(pixels) => snapTo({ pixels })} />
          <Check label="Pixel art: sharp pixels" is={pixelArt} onChange={(is) => changeDisplay({ pixelArt: is })} />
          <label className="field">
            <span>Camera frame</span>
            <select
              value={cameraFrame?.join('×') ?? ''}
              onChange={({ currentTarget: { value } }) =>
                changeDisplay({ cameraFrame: FRAMES.find((one) => one.join('×') === value) })
              }
            >
              <option value="">none</option>
              {FRAMES.map((one) => (
                <option key={one.join('×')}>{one.join('×')}</option>
              ))}
            </select>
          </label>
          <label className="field">
            <span>Ghost poses</span>
            <select
              aria-label="Where ghost poses are"
              value={ghostStep}
              onChange={({ currentTarget }) => changeDisplay({ ghostStep: Number(currentTarget.value) })}
            >
              {[1, 2, 3, 5, 10].map((n) => (
                <option key={n} value={n}>
                  every {n === 1 ? 'frame' : `${n} frames`}
                </option>
              ))}
              <option value={0}>at keys</option>
            </select>
          </label>
        </Dialog>
      </Popover>
    </DialogTrigger>
  );
}

function Check({
  label,
  is,
  onChange,
}: {
  readonly label: string;
  readonly is: boolean;
  readonly onChange: (is: boolean) => void;
}) {
  return (
    <label className="field is-check">
      <input type="checkbox" checked={is} onChange={({ currentTarget }) => onChange(currentTarget.checked)} />
      <span>{label}</span>
    </label>
  );
}
