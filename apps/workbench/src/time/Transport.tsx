import {
  ChevronFirst,
  ChevronLast,
  Pause,
  Play,
  Repeat,
  SkipBack,
  SkipForward,
  StepBack,
  StepForward,
} from 'lucide-react';
import { Button, ToggleButton } from 'react-aria-components';
import { apply, goTo, goToEnd, goToKey, shown, stepFrames } from '../model/actions.js';
import { writeAt } from '../model/keys.js';
import { changing, finishPreview } from '../model/session.js';
import { set, shownClip, useStore } from '../model/store.js';
import { NumberField } from '../numbers/NumberField.js';
import { timesIn } from '../numbers/expression.js';
import { LoopFields } from '../numbers/LoopFields.js';
import { wholeOf } from '../model/axis.js';
import { ClipFields } from './ClipFields.js';
import { togglePlaying, toggleRange } from './playing.js';

const RATES = [0.1, 0.25, 0.5, 1, 1.5, 2];

/** The transport: play, step, the playhead, and the time options of the clip. */
export function Transport() {
  const playing = useStore((state) => state.playing);
  const name = useStore((state) => state.clip);
  return (
    <div className="transport" role="toolbar" aria-label="Time">
      <Icon label="Go to start (Home)" onPress={() => goTo(0)} icon={<ChevronFirst size={16} />} />
      <Icon label="Previous key (B)" onPress={() => goToKey(-1)} icon={<SkipBack size={14} />} />
      <Icon label="Previous frame (,)" onPress={() => stepFrames(-1)} icon={<StepBack size={14} />} />
      <ToggleButton
        className="icon play"
        aria-label={playing ? 'Stop (Space)' : 'Play (Space)'}
        isSelected={playing}
        onChange={togglePlaying}
      >
        {playing ? <Pause size={16} aria-hidden /> : <Play size={16} aria-hidden />}
      </ToggleButton>
      <Icon label="Next frame (.)" onPress={() => stepFrames(1)} icon={<StepForward size={14} />} />
      <Icon label="Next key (N)" onPress={() => goToKey(1)} icon={<SkipForward size={14} />} />
      <Icon label="Go to end (End)" onPress={goToEnd} icon={<ChevronLast size={16} />} />
      {name !== undefined && <Times />}
    </div>
  );
}

function Icon({
  label,
  onPress,
  icon,
}: {
  readonly label: string;
  readonly onPress: () => void;
  readonly icon: React.ReactNode;
}) {
  return (
    <Button className="icon" aria-label={label} onPress={onPress}>
      {icon}
    </Button>
  );
}

function Times() {
  const [time, rate, onTwos, inSeconds, range] = [
    useStore((s) => s.time),
    useStore((s) => s.rate),
    useStore((s) => s.onTwos),
    useStore((s) => s.inSeconds),
    useStore((s) => s.range),
  ];
  const fps = useStore((state) => shownClip(state)?.fps ?? 60);
  const duration = useStore((state) => shownClip(state)?.duration ?? 0);
  const loop = useStore((state) => (state.clip === undefined ? undefined : state.doc?.clips[state.clip]?.loop));
  const name = useStore((state) => state.clip)!;
  const times = timesIn(inSeconds, fps);
  return (
    <>
      <span className="pair">
        <NumberField
          label="Playhead"
          className="wide"
          value={time * fps}
          {...times}
          least={0}
          onChange={(frames) => goTo(frames / fps, false)}
        />
        <span aria-hidden>/</span>
        <Duration frames={duration * fps} times={times} />
      </span>
      <button
        type="button"
        className="text-button"
        aria-pressed={inSeconds}
        title="Switch between frames and seconds"
        onClick={() => set({ inSeconds: !inSeconds })}
      >
        {inSeconds ? 's' : 'f'}
      </button>
      <LoopFields
        caption="Loop"
        counts={false}
        loop={loop}
        onChange={(next) => apply({ do: 'change', what: 'clip', name, to: { loop: next } })}
      />
      <ClipFields name={name} />
      <label className="field">
        <span>Preview rate</span>
        <select value={rate} onChange={({ currentTarget }) => set({ rate: Number(currentTarget.value) })}>
          {[...new Set([...RATES, rate])]
            .sort((a, b) => a - b)
            .map((one) => (
              <option key={one} value={one}>
                {one}
              </option>
            ))}
        </select>
      </label>
      <ToggleButton
        className="text-button"
        isSelected={onTwos}
        onChange={(is) => set({ onTwos: is })}
        aria-label="2s: hold every 2 frames (“on twos”)"
      >
        2s
      </ToggleButton>
      <ToggleButton
        className="icon"
        isSelected={range !== undefined}
        onChange={toggleRange}
        aria-label="Loop the selection"
      >
        <Repeat size={14} aria-hidden />
      </ToggleButton>
    </>
  );
}

function Duration({ frames, times }: { readonly frames: number; readonly times: ReturnType<typeof timesIn> }) {
  return (
    <NumberField
      label="Duration"
      className="wide"
      value={frames}
      {...times}
      least={0}
      {...changing((next) => {
        const { name, fps, clip } = shown()!;
        return { do: 'change', what: 'clip', name, to: { duration: writeAt(next / fps, fps, clip) } };
      })}
      onDone={() => {
        if (!finishPreview()) return;
        const { duration, fps } = shown()!;
        set({ view: wholeOf(duration, fps) });
      }}
    />
  );
}
