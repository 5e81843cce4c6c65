import { useState } from 'react';
import { Button } from 'react-aria-components';
import type { LiveSample } from 'unspool/live';
import { lead } from '../model/live.js';
import { freeName } from '../model/names.js';
import { addRecorded, clipOf } from '../model/recorded-motion.js';
import { get, set, useStore } from '../model/store.js';
import { NumberField } from '../numbers/NumberField.js';

const ALL = 'all roles';
/** In pixels and degrees. */
const TOLERANCE = 0.5;

/** Records how objects of the running game move, and makes a clip of it. */
export function MotionRecorder({ roles }: { readonly roles: readonly string[] }) {
  const seconds = useStore((state) => state.live.moment?.recorded);
  const recorded = useStore((state) => state.live.recorded);
  const [role, setRole] = useState(ALL);
  const chosen = roles.includes(role) ? [role] : roles;
  return (
    <>
      <div className="panel-bar">
        <label className="field">
          <span>Motion of</span>
          <select value={role} onChange={({ currentTarget }) => setRole(currentTarget.value)}>
            {[ALL, ...roles].map((one) => (
              <option key={one}>{one}</option>
            ))}
          </select>
        </label>
        {seconds === undefined ? (
          <Button className="text-button" onPress={() => lead({ do: 'record', roles: [...chosen] })}>
            Record the motion
          </Button>
        ) : (
          <Button className="text-button" onPress={() => lead({ do: 'stop-recording' })}>
            Stop recording ({seconds.toFixed(1)} s)
          </Button>
        )}
      </div>
      {recorded && seconds === undefined && <Recorded samples={recorded} />}
    </>
  );
}

function Recorded({ samples }: { readonly samples: readonly LiveSample[] }) {
  const [tolerance, setTolerance] = useState(TOLERANCE);
  const [name, setName] = useState(() => freeName('recorded', get().doc?.clips ?? {}));
  const fps = useStore((state) => state.reel?.facts.fps ?? 60);
  const captured = clipOf(samples, tolerance, fps);
  const forget = () => set({ live: { ...get().live, recorded: undefined } });
  if (!captured)
    return <p className="soft">Nothing of these roles could be recorded: the game has no objects for them.</p>;
  const length = samples.at(-1)!.time - samples[0]!.time;
  return (
    <div className="panel-bar">
      <label className="field">
        <span>New clip</span>
        <input className="text-value" value={name} onChange={({ currentTarget }) => setName(currentTarget.value)} />
      </label>
      <NumberField label="Within" value={tolerance} least={0.001} onChange={setTolerance} />
      <span>
        {length.toFixed(2)} s, {captured.keys} keys from {samples.length} samples
      </span>
      <Button className="text-button" onPress={() => void addRecorded(name.trim(), captured)}>
        Add the clip
      </Button>
      <Button className="text-button" onPress={forget}>
        Discard the motion
      </Button>
    </div>
  );
}
