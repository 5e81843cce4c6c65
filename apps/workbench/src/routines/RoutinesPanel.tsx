import { Plus, X } from 'lucide-react';
import { useRef, useState } from 'react';
import { Button } from 'react-aria-components';
import { addRoutine, addRule } from '../model/additions.js';
import { apply } from '../model/session.js';
import { useStore } from '../model/store.js';
import { NameField } from '../panels/NameField.js';
import { InputControls } from './InputControls.js';
import { RuleTable } from './RuleTable.js';
import { useRoutine } from './use-routine.js';

/** The rules of a routine, tried while they are edited: inputs as a game would set them, and why each rule plays or not. */
export function RoutinesPanel() {
  const routines = useStore((state) => state.doc?.routines) ?? {};
  const clip = useStore((state) => state.clip);
  const [chosen, choose] = useState<string>();
  const names = Object.keys(routines);
  const name = names.find((one) => one === chosen) ?? names[0];
  return (
    <div className="routines">
      <div className="panel-bar">
        {names.length > 1 && (
          <label className="field">
            <span>routine</span>
            <select aria-label="Routine" value={name} onChange={({ currentTarget }) => choose(currentTarget.value)}>
              {names.map((one) => (
                <option key={one}>{one}</option>
              ))}
            </select>
          </label>
        )}
        {name !== undefined && (
          <>
            <NameField what="routine" name={name} />
            <Button className="text-button" isDisabled={clip === undefined} onPress={() => addRule(name)}>
              <Plus size={12} aria-hidden /> Rule for {clip ?? 'a clip'}
            </Button>
          </>
        )}
        <Button className="text-button" isDisabled={clip === undefined} onPress={() => choose(addRoutine())}>
          <Plus size={12} aria-hidden /> New routine
        </Button>
        {name !== undefined && (
          <Button
            className="icon"
            aria-label={`Remove the routine ${name}`}
            onPress={() => apply({ do: 'remove', what: 'routine', name })}
          >
            <X size={13} aria-hidden />
          </Button>
        )}
      </div>
      {name === undefined ? (
        <p className="empty">
          A routine decides which clip plays, from rules in order of priority. Add one with the current clip.
        </p>
      ) : (
        <Routine key={name} name={name} />
      )}
    </div>
  );
}

function Routine({ name }: { readonly name: string }) {
  const routine = useStore((state) => state.doc?.routines?.[name]);
  const canvas = useRef<HTMLCanvasElement>(null);
  const run = useRoutine(name, canvas);
  if (!routine) return null;
  return (
    <div className="routine">
      <div className="routine-stage">
        <canvas ref={canvas} width={150} height={118} aria-hidden />
        <p>{run.playing}</p>
        <InputControls routine={name} inputs={routine.inputs ?? {}} run={run} />
      </div>
      <RuleTable routine={name} rules={routine.rules} reasons={run.reasons} />
    </div>
  );
}
