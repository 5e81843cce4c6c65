import { useEffect, useRef, useState, type KeyboardEvent } from 'react';
import { Button, ToggleButton } from 'react-aria-components';
import { setStatus, useClipNames, useStore } from '../model/store.js';
import { bindingsOf, isTryOutKey, SIDE_KEYS, storeKeys, storedKeys, withKey, type Binding } from './try-out-keys.js';
import { animationFrames } from './animation-frames.js';
import { TryOut } from './try-out.js';

const SHOWN_EVENTS = 6;
/** How much a press of a key moves the gauge. */
const GAUGE_KEYS: Readonly<Record<string, number>> = { '+': 0.1, '=': 0.1, '-': -0.1 };

/** Plays clips, chains, facings and a gauge by keys, with the player that games use. */
export function TryOutPanel() {
  const reelName = useStore((state) => state.reelName) ?? '';
  // Each reel has its own keys.
  return <TryOutOf key={reelName} reelName={reelName} />;
}

function TryOutOf({ reelName }: { readonly reelName: string }) {
  const doc = useStore((state) => state.doc);
  const [gauge, setGauge] = useState({ clip: '', value: 0 });
  const [fade, setFade] = useState('6f');
  const [chosen, setChosen] = useState(() => storedKeys(reelName));
  const [choosing, setChoosing] = useState(false);
  /** What the next key is for. */
  const [waiting, setWaiting] = useState<string>();
  const [chosenFacing, setFacing] = useState<string>();
  const { canvas, pad, heard } = useTryOut(gauge);
  const bindings = bindingsOf(doc, chosen);
  const facings = Object.keys(doc?.facings ?? {});
  const facing = facings.find((one) => one === chosenFacing) ?? facings[0];

  const moveGauge = (value: number) => {
    setGauge({ ...gauge, value });
    pad.current?.setGauge(value);
  };
  const bind = (name: string, key: string) => {
    setWaiting(undefined);
    if (!isTryOutKey(key)) return setStatus(`${key} cannot be assigned. Use a letter or a digit from 1 to 9.`, true);
    const next = withKey(chosen, name, key);
    setChosen(next);
    storeKeys(reelName, next);
    setStatus(`${name} is assigned to ${key.toUpperCase()}.`);
  };
  const press = ({ name }: Binding, add: boolean) => {
    if (choosing) setWaiting(name);
    else pad.current?.play(name, add, fade);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const { target, altKey } = event;
    if (event.ctrlKey || event.metaKey || target instanceof HTMLInputElement || target instanceof HTMLSelectElement)
      return;
    const key = event.key.toLowerCase();
    const side = SIDE_KEYS[event.key];
    const bound = bindings.find((one) => one.key === key);
    const by = GAUGE_KEYS[key];
    if (waiting !== undefined && key.length === 1 && key !== ' ') bind(waiting, key);
    else if (waiting !== undefined && key === 'escape') setWaiting(undefined);
    else if (side && facing !== undefined) pad.current?.face(facing, side);
    else if (by !== undefined && gauge.clip) moveGauge(Math.min(1, Math.max(0, Number((gauge.value + by).toFixed(2)))));
    else if (bound && !choosing && !event.repeat) press(bound, altKey);
    else if (key === '0') pad.current?.stop();
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  if (!doc) return null;
  return (
    // Keys of everything inside: it is no control itself.
    // eslint-disable-next-line jsx-a11y/no-static-element-interactions
    <div className="pad" onKeyDown={onKeyDown}>
      <div className="pad-stage">
        <canvas
          ref={canvas}
          width={190}
          height={150}
          tabIndex={0}
          role="application"
          aria-label="Try-out: press the keys shown"
        />
        <p aria-live="polite">{heard[0] ?? 'Click here, then press keys.'}</p>
        <ul aria-label="Events">
          {heard.slice(1).map((message, i) => (
            <li key={i}>{message}</li>
          ))}
        </ul>
      </div>
      <div>
        <div className="panel-bar">
          <label className="field">
            <span>fade</span>
            <input
              className="text-value is-short"
              value={fade}
              onChange={(event) => setFade(event.currentTarget.value)}
            />
          </label>
          <Button className="text-button" onPress={() => pad.current?.stop()}>
            Stop <kbd>0</kbd>
          </Button>
          <ToggleButton
            className="text-button"
            isSelected={choosing}
            onChange={(is) => {
              setChoosing(is);
              setWaiting(undefined);
            }}
          >
            Assign keys
          </ToggleButton>
          <span>{choosing ? 'Select what to assign, then press its new key.' : 'Hold Alt to queue it.'}</span>
        </div>
        <div className="pad-keys">
          {bindings.map((binding) => (
            <button
              key={binding.name}
              type="button"
              className={waiting === binding.name ? 'is-waiting' : ''}
              onClick={(event) => press(binding, event.altKey)}
            >
              <kbd>{waiting === binding.name ? '…' : binding.key.toUpperCase()}</kbd> {binding.name}
              {binding.what === 'chain' && <small> chain</small>}
            </button>
          ))}
          {facing !== undefined && (
            <label className="field">
              <kbd>← ↑ ↓ →</kbd>
              <span>facing</span>
              <select value={facing} onChange={({ currentTarget }) => setFacing(currentTarget.value)}>
                {facings.map((one) => (
                  <option key={one}>{one}</option>
                ))}
              </select>
            </label>
          )}
        </div>
        <GaugeLine {...gauge} onClip={(clip) => setGauge({ clip, value: 0 })} onValue={moveGauge} />
      </div>
    </div>
  );
}

function GaugeLine({
  clip,
  value,
  onClip,
  onValue,
}: {
  readonly clip: string;
  readonly value: number;
  readonly onClip: (clip: string) => void;
  readonly onValue: (value: number) => void;
}) {
  const clips = useClipNames();
  return (
    <div className="panel-bar">
      <label className="field">
        <kbd>+ −</kbd>
        <span>gauge</span>
        <select value={clip} onChange={({ currentTarget }) => onClip(currentTarget.value)}>
          <option value="">none</option>
          {clips.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </select>
      </label>
      {clip && (
        <input
          type="range"
          min="0"
          max="1"
          step="0.01"
          value={value}
          aria-label={`Gauge of ${clip}`}
          onChange={(event) => onValue(event.currentTarget.valueAsNumber)}
        />
      )}
    </div>
  );
}

/** A player of the reel as it is, drawn in each frame; its events come first in the list. */
function useTryOut(gauge: { readonly clip: string; readonly value: number }) {
  const doc = useStore((state) => state.doc);
  const reel = useStore((state) => state.reel);
  const canvas = useRef<HTMLCanvasElement>(null);
  const pad = useRef<TryOut>(undefined);
  const latest = useRef(gauge);
  useEffect(() => {
    latest.current = gauge;
  }, [gauge]);
  const [heard, setHeard] = useState<readonly string[]>([]);
  useEffect(() => {
    if (!doc || !reel) return;
    const driven = Object.hasOwn(doc.clips, gauge.clip) ? latest.current : undefined;
    const made = new TryOut(doc, reel, driven, (message) =>
      setHeard((was) => [message, ...was].slice(0, SHOWN_EVENTS)),
    );
    pad.current = made;
    return animationFrames((dt) => {
      made.tick(dt);
      const pen = canvas.current?.getContext('2d');
      if (pen) made.paint(pen);
    });
  }, [doc, reel, gauge.clip]);
  return { canvas, pad, heard };
}
