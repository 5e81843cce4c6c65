import { useRef, useState } from 'react';
import { ToggleButton } from 'react-aria-components';
import type { Row, TrackRow } from '../model/rows.js';
import { get, shownClip, useStore } from '../model/store.js';
import { axisOf } from '../model/axis.js';
import { Canvas } from './Canvas.js';
import { curvesOf, numberOf, type Curve, type Drawn } from './curve.js';
import { drawBox, drawCurves } from './draw-curves.js';
import { drawGround, drawMarquee, drawPlayhead } from './draw-rows.js';
import { gripUnder, holdGrip } from './curve-grips.js';
import { boxOf, scaleValues, sideUnder } from './curve-box.js';
import { dragRange, markKeys } from './gestures.js';
import { wheel } from './Rows.js';
import { useGesture } from './use-gesture.js';

/** A description of the canvas for screen readers; its keys are listed with the rows. */
function describeRange(curve: Curve): string {
  const { keys } = curve.row;
  const numbers = keys.flatMap((key) => numberOf(key, curve) ?? []);
  if (numbers.length === 0) return '';
  const low = numbers.reduce((least, n) => Math.min(least, n), Infinity);
  const high = numbers.reduce((most, n) => Math.max(most, n), -Infinity);
  return `, ${keys.length} keys, ${low === high ? `all ${low}` : `from ${low} to ${high}`}`;
}

/** Values over time of the selected rows, overlaid, on the time axis of the rows above. */
export function Curves({ rows }: { readonly rows: readonly Row[] }) {
  const names = useStore((state) => state.curves);
  const [speed, setSpeed] = useState(false);
  const drawn = useRef<Drawn>(undefined);
  const tracks = rows.filter(
    (row): row is TrackRow => row.is === 'track' && names.includes(row.name) && row.keys.length > 0,
  );
  const { gesture, follow, on } = useGesture((x, y, event) => {
    if (!drawn.current) return undefined;
    const grip = gripUnder(drawn.current, x, y);
    if (grip) return holdGrip(drawn.current, grip, x, y, event.shiftKey);
    const box = boxOf(drawn.current);
    const side = box && sideUnder(box, x, y);
    if (side === 'left' || side === 'right')
      return dragRange(drawn.current.axis, x, side === 'left' ? 'from' : 'until');
    if (side) return scaleValues(drawn.current, side, y);
    return markKeys(drawn.current, x, y, event.shiftKey ? get().selectedKeys : {});
  });
  return (
    <div className="curves">
      <div className="curves-head">
        {tracks.length === 0 ? (
          <span>Select a track to see its curve.</span>
        ) : (
          <ul aria-label="Curves">
            {curvesOf(tracks).map((curve, i) => (
              <li key={curve.label}>
                <svg width="22" height="8" aria-hidden>
                  <line
                    x1="0"
                    y1="4"
                    x2="22"
                    y2="4"
                    className={`curve-${i % 4}`}
                    strokeDasharray={curve.dash.join(' ')}
                  />
                </svg>
                {curve.label}
                <span className="hidden">{describeRange(curve)}</span>
              </li>
            ))}
          </ul>
        )}
        <ToggleButton
          className="text-button"
          isSelected={speed}
          onChange={setSpeed}
          aria-label="speed: rate of change of the values"
        >
          speed
        </ToggleButton>
      </div>
      <Canvas
        className="curve-canvas"
        data-testid="curves"
        aria-hidden="true"
        draw={(pen, width, height, colors) => {
          const state = get();
          const clip = shownClip(state);
          if (!clip) return;
          const axis = axisOf(state.view, width);
          drawGround(pen, axis, height, state, clip.fps, clip.duration, colors);
          drawn.current = drawCurves(pen, tracks, clip, axis, height, speed, state, colors);
          drawPlayhead(pen, axis, height, state, colors);
          drawBox(pen, boxOf(drawn.current), colors);
          drawMarquee(pen, gesture.current?.marquee, follow.current?.gone ?? 0, colors);
        }}
        {...on}
        onWheel={(event) => wheel(event, event.currentTarget)}
      />
    </div>
  );
}
