import { Plus, X } from 'lucide-react';
import { Button } from 'react-aria-components';
import type { ReelDocument } from 'unspool';
import type { Operation } from 'unspool/edit';
import { apply, changing } from '../model/session.js';
import { useClipNames, useStore } from '../model/store.js';
import { NumberField } from '../numbers/NumberField.js';
import { addFacing } from '../model/additions.js';
import { NameField } from './NameField.js';

type Facing = NonNullable<ReelDocument['facings']>[string];
type Sides = Exclude<Facing, readonly unknown[]>;
type Directed = Extract<Facing, readonly unknown[]>;

/** Where each side lies: x to the right, y down. */
const SIDES = {
  right: [1, 0],
  'down-right': [1, 1],
  down: [0, 1],
  'down-left': [-1, 1],
  left: [-1, 0],
  'up-left': [-1, -1],
  up: [0, -1],
  'up-right': [1, -1],
} as const;

/** Sets of clips of which a direction picks one, on a rose. */
export function Facings() {
  const facings = useStore((state) => state.doc?.facings);
  const clip = useStore((state) => state.clip);
  return (
    <section aria-label="Facings">
      <h3>
        Facings
        <Button className="text-button" isDisabled={clip === undefined} onPress={addFacing}>
          <Plus size={12} aria-hidden /> New, with {clip ?? 'a clip'}
        </Button>
      </h3>
      <div className="facings">
        {Object.entries(facings ?? {}).map(([name, facing]) => (
          <FacingRose key={name} name={name} facing={facing} />
        ))}
      </div>
    </section>
  );
}

function FacingRose({ name, facing }: { readonly name: string; readonly facing: Facing }) {
  const clips = useClipNames();
  const head = (
    <div className="facing-head">
      <NameField what="facing" name={name} />
      <Button
        className="icon"
        aria-label={`Remove the facing ${name}`}
        onPress={() => apply({ do: 'remove', what: 'facing', name })}
      >
        <X size={13} aria-hidden />
      </Button>
    </div>
  );
  if (Array.isArray(facing)) {
    return (
      <div className="facing">
        {head}
        <Directions name={name} list={facing} clips={clips} />
      </div>
    );
  }
  const sides = facing as Sides;
  const change = (side: string, value: string) => {
    const { [side]: _, ...others } = sides;
    const one = value.startsWith('~') ? { mirror: value.slice(1) } : value;
    apply({ do: 'change', what: 'facing', name, to: value === '' ? others : { ...sides, [side]: one } });
  };
  return (
    <div className="facing">
      {head}
      <div className="rose" role="group" aria-label={`Sides of ${name}`}>
        {Object.entries(SIDES).map(([side, [x, y]]) => {
          const given = sides[side];
          const value = given === undefined ? '' : typeof given === 'string' ? given : `~${given.mirror}`;
          const mirrors = Object.keys(sides).filter((other) => other !== side && typeof sides[other] === 'string');
          return (
            <select
              key={side}
              aria-label={side}
              title={side}
              className={value ? 'is-given' : ''}
              style={{ gridColumn: x + 2, gridRow: y + 2 }}
              value={value}
              onChange={(event) => change(side, event.currentTarget.value)}
            >
              <option value="">–</option>
              {clips.map((clip) => (
                <option key={clip}>{clip}</option>
              ))}
              {mirrors.map((other) => (
                <option key={`~${other}`} value={`~${other}`}>
                  {other}, mirrored
                </option>
              ))}
            </select>
          );
        })}
        <svg viewBox="-10 -10 20 20" style={{ gridColumn: 2, gridRow: 2 }} aria-hidden>
          <path d="M0-9 2-2 9 0 2 2 0 9-2 2-9 0-2-2Z" />
        </svg>
      </div>
    </div>
  );
}

/** Sides that are given as directions: any number of them. */
function Directions({
  name,
  list,
  clips,
}: {
  readonly name: string;
  readonly list: Directed;
  readonly clips: readonly string[];
}) {
  const changed = (to: Directed): Operation => ({ do: 'change', what: 'facing', name, to });
  const change = (to: Directed) => apply(changed(to));
  return (
    <ul aria-label={`Directions of ${name}`}>
      {list.map((one, i) => (
        <li key={i} className="direction">
          toward
          {one.toward.map((n, k) => (
            <NumberField
              key={k}
              className="is-short"
              label={`Direction ${i + 1}: ${'xy'[k]}`}
              value={n}
              step={0.1}
              {...changing((next) =>
                changed(list.with(i, { ...one, toward: k === 0 ? [next, one.toward[1]] : [one.toward[0], next] })),
              )}
            />
          ))}
          <ClipSelect
            label={`Clip of direction ${i + 1}`}
            clips={clips}
            value={one.clip}
            onChange={(clip) => change(list.with(i, { ...one, clip }))}
          />
          <Button
            className="icon"
            aria-label={`Remove direction ${i + 1}`}
            isDisabled={list.length === 1}
            onPress={() => change(list.toSpliced(i, 1))}
          >
            <X size={12} aria-hidden />
          </Button>
        </li>
      ))}
      <li>
        <ClipSelect
          label={`Add a direction to ${name}`}
          clips={clips}
          value=""
          onChange={(clip) => change([...list, { toward: [1, 0], clip }])}
        />
      </li>
    </ul>
  );
}

function ClipSelect({
  label,
  clips,
  value,
  onChange,
}: {
  readonly label: string;
  readonly clips: readonly string[];
  readonly value: string;
  readonly onChange: (clip: string) => void;
}) {
  return (
    <select aria-label={label} value={value} onChange={({ currentTarget }) => onChange(currentTarget.value)}>
      {value === '' && <option value="">add …</option>}
      {clips.map((clip) => (
        <option key={clip}>{clip}</option>
      ))}
    </select>
  );
}
