import { Plus, X } from 'lucide-react';
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { Button } from 'react-aria-components';
import type { RoutineDocument } from 'unspool';
import { apply } from '../model/session.js';
import { freeName } from '../model/names.js';
import { NumberField } from '../numbers/NumberField.js';
import { TypedField } from '../numbers/TypedField.js';
import { SIDE_KEYS } from '../panels/try-out-keys.js';
import { isTimeText, timeOf } from './time-text.js';
import type { Given } from './try-routine.js';
import type { RunningRoutine } from './use-routine.js';

type Input = NonNullable<RoutineDocument['inputs']>[string];
const KINDS: readonly Input['kind'][] = ['number', 'vec2', 'flag', 'signal'];

/** The inputs of a routine, each with what a game would set it by: a slider, a stick, a switch or a button. */
export function InputControls({
  routine,
  inputs,
  run,
}: {
  readonly routine: string;
  readonly inputs: Readonly<Record<string, Input>>;
  readonly run: RunningRoutine;
}) {
  return (
    <ul className="inputs" aria-label={`Inputs of ${routine}`}>
      {Object.entries(inputs).map(([name, input]) => (
        <li key={name}>
          <TypedField
            caption=""
            label={`Name of the input ${name}`}
            text={name}
            isGood={(text) => text.trim() !== ''}
            onTake={(to) => apply({ do: 'rename', what: 'input', routine, name, to })}
          />
          <Control name={name} input={input} value={run.given[name] ?? firstValue(input)} run={run} />
          {input.kind === 'signal' && (
            <TypedField
              caption="keep"
              label={`${name}: how long it is kept`}
              text={String(input.keep ?? '')}
              hint="0f"
              isGood={isTimeText}
              onTake={(text) => change(routine, name, { keep: text.trim() === '' ? null : timeOf(text) })}
            />
          )}
          <Button
            className="icon"
            aria-label={`Remove the input ${name}`}
            onPress={() => apply({ do: 'remove', what: 'input', routine, name })}
          >
            <X size={12} aria-hidden />
          </Button>
        </li>
      ))}
      <li>
        <Plus size={12} aria-hidden />
        <select
          aria-label={`Add an input to ${routine}`}
          value=""
          onChange={({ currentTarget }) => {
            const kind = currentTarget.value as Input['kind'];
            apply({ do: 'add', what: 'input', routine, name: freeName(kind, inputs), value: { kind } });
          }}
        >
          <option value="">input …</option>
          {KINDS.map((kind) => (
            <option key={kind}>{kind}</option>
          ))}
        </select>
      </li>
    </ul>
  );
}

function change(routine: string, name: string, to: Readonly<Record<string, unknown>>): void {
  apply({ do: 'change', what: 'input', routine, name, to });
}

function firstValue({ kind, value }: Input): Given {
  if (value !== undefined) return value as Given;
  return kind === 'vec2' ? [0, 0] : kind === 'flag' ? false : 0;
}

function Control({
  name,
  input,
  value,
  run,
}: {
  readonly name: string;
  readonly input: Input;
  readonly value: Given;
  readonly run: RunningRoutine;
}) {
  switch (input.kind) {
    case 'signal':
      return (
        <Button className="text-button" aria-label={`Give ${name}`} onPress={() => run.signal(name)}>
          give
        </Button>
      );
    case 'flag':
      return (
        <input
          type="checkbox"
          role="switch"
          aria-label={name}
          checked={value === true}
          onChange={({ currentTarget }) => run.set(name, currentTarget.checked)}
        />
      );
    case 'vec2':
      return <Stick name={name} value={value as readonly [number, number]} onChange={(to) => run.set(name, to)} />;
    case 'number': {
      const number = value as number;
      // As far as it goes by hand; more can be typed.
      const most = Math.max(100, 2 * Math.abs(number));
      return (
        <>
          <input
            type="range"
            aria-label={name}
            min={number < 0 ? -most : 0}
            max={most}
            step="any"
            value={number}
            onChange={({ currentTarget }) => run.set(name, Number(currentTarget.valueAsNumber.toPrecision(3)))}
            // Arrow keys, Home and End are its own, and no commands.
            onKeyDown={(event) => !event.ctrlKey && !event.metaKey && event.stopPropagation()}
          />
          <NumberField
            className="is-short"
            label={`${name}: number`}
            value={number}
            onChange={(to) => run.set(name, to)}
          />
        </>
      );
    }
  }
}

const RADIUS = 22;
/** A stick for two numbers from −1 to 1: dragged, or by the arrow keys; it goes back to the middle when it is let go. */
function Stick({
  name,
  value: [x, y],
  onChange,
}: {
  readonly name: string;
  readonly value: readonly [x: number, y: number];
  readonly onChange: (value: readonly [x: number, y: number]) => void;
}) {
  const held = useRef(new Set<string>());
  const point = (event: PointerEvent<HTMLElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const way = [event.clientX - box.x - box.width / 2, event.clientY - box.y - box.height / 2] as const;
    const far = Math.max(RADIUS, Math.hypot(...way));
    onChange([Number((way[0] / far).toFixed(2)), Number((way[1] / far).toFixed(2))]);
  };
  const press = (event: KeyboardEvent, isDown: boolean) => {
    if (!Object.hasOwn(SIDE_KEYS, event.key)) return;
    event.preventDefault();
    event.stopPropagation();
    if (isDown === held.current.has(event.key)) return;
    if (isDown) held.current.add(event.key);
    else held.current.delete(event.key);
    const sum = (k: 0 | 1) => Math.sign([...held.current].reduce((all, key) => all + SIDE_KEYS[key]![k], 0));
    onChange([sum(0), sum(1)]);
  };
  const release = () => {
    held.current.clear();
    if (x !== 0 || y !== 0) onChange([0, 0]);
  };
  return (
    <button
      type="button"
      className="stick"
      aria-label={`${name}: ${x}, ${y}. Arrow keys move it`}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        point(event);
      }}
      onPointerMove={(event) => event.currentTarget.hasPointerCapture(event.pointerId) && point(event)}
      onPointerUp={release}
      onPointerCancel={release}
      onKeyDown={(event) => press(event, true)}
      onKeyUp={(event) => press(event, false)}
      onBlur={release}
    >
      <i style={{ translate: `${x * RADIUS}px ${y * RADIUS}px` }} />
    </button>
  );
}
