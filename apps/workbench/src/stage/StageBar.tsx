import { Maximize, Route, Shapes, ZoomIn, ZoomOut } from 'lucide-react';
import { memo, type RefObject } from 'react';
import { Button, ToggleButton } from 'react-aria-components';
import { changeDisplay, useClipNames, useStore } from '../model/store.js';
import { BackdropLine, BackdropSelect } from './Backdrops.js';
import { ViewOptions } from './ViewOptions.js';
import { MAX_GHOSTS, type StageView } from './view.js';

/** Stage view besides the pose. */
export const StageBar = memo(function StageBar({ view }: { readonly view: RefObject<StageView | undefined> }) {
  const { shapes, path, ghosts, compare, beside } = useStore((state) => state.display);
  const clips = useClipNames();
  const middle = () => {
    const { width, height } = document.querySelector('.stage-canvas')!.getBoundingClientRect();
    return [width / 2, height / 2] as const;
  };
  const zoom = (factor: number) => {
    view.current?.keepPlace();
    view.current?.zoomBy(factor, middle());
  };
  const chosen = compare === undefined ? '' : compare.with === 'before' ? ' before' : compare.clip;
  return (
    <div className="stage-bar" role="toolbar" aria-label="Stage view">
      <Button className="icon" aria-label="Zoom to fit" onPress={() => view.current?.fit()}>
        <Maximize size={14} aria-hidden />
      </Button>
      <Button className="icon" aria-label="Zoom in" onPress={() => zoom(1.25)}>
        <ZoomIn size={14} aria-hidden />
      </Button>
      <Button className="icon" aria-label="Zoom out" onPress={() => zoom(0.8)}>
        <ZoomOut size={14} aria-hidden />
      </Button>
      <ToggleButton
        className="icon"
        aria-label="Shapes"
        isSelected={shapes}
        onChange={(is) => changeDisplay({ shapes: is })}
      >
        <Shapes size={14} aria-hidden />
      </ToggleButton>
      <ToggleButton
        className="icon"
        aria-label="Motion path of the selected role, one mark per frame"
        isSelected={path}
        onChange={(is) => changeDisplay({ path: is })}
      >
        <Route size={14} aria-hidden />
      </ToggleButton>
      <label className="field" title="Ghost poses before and after the playhead">
        <span>Ghost poses</span>
        <select value={ghosts} onChange={({ currentTarget }) => changeDisplay({ ghosts: Number(currentTarget.value) })}>
          {Array.from({ length: MAX_GHOSTS + 1 }, (_, i) => (
            <option key={i} value={i}>
              {i === 0 ? 'none' : `±${i}`}
            </option>
          ))}
        </select>
      </label>
      <label className="field" title="Compare the clip with another clip, or with the reel before the last step">
        <span>Compare with</span>
        <select
          value={chosen}
          onChange={({ currentTarget: { value } }) =>
            changeDisplay({
              compare:
                value === '' ? undefined : value === ' before' ? { with: 'before' } : { with: 'clip', clip: value },
            })
          }
        >
          <option value="">nothing</option>
          <option value=" before">before the last step</option>
          {clips.map((name) => (
            <option key={name}>{name}</option>
          ))}
        </select>
      </label>
      {compare && (
        <Button className="text-button" onPress={() => changeDisplay({ beside: !beside })}>
          {beside ? 'side by side' : 'overlaid'}
        </Button>
      )}
      <ViewOptions />
      <BackdropSelect name="background" />
      <BackdropSelect name="reference" />
      <BackdropLine name="background" />
      <BackdropLine name="reference" />
    </div>
  );
});
