import { Plus, X } from 'lucide-react';
import { Button } from 'react-aria-components';
import type { ReelDocument } from 'unspool';
import { apply } from '../model/actions.js';
import { lookAt, useClipNames, useStore } from '../model/store.js';
import { freeName } from '../model/names.js';
import { NameField } from './NameField.js';

type Facing = NonNullable<ReelDocument['facings']>[string];
type Sides = Exclude<Facing, readonly unknown[]>;

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
  const add = () => {
    if (clip !== undefined)
      apply({
        do: 'add',
        what: 'facing',
        name: freeName('facing', facings ?? {}),
        value: { right: clip, left: { mirror: 'right' } },
      });
  };
  return (
    <section aria-label="Facings">
      <h3>
        Facings
        <Button className="text-button" isDisabled={clip === undefined} onPress={add}>
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
    const list = facing as readonly { readonly toward: readonly [number, number]; readonly clip: string }[];
    return (
      <div className="facing">
        {head}
        <ul>
          {list.map(({ toward, clip }) => (
            <li key={toward.join()}>
              toward {toward.join(', ')}:{' '}
              <button type="button" className="text-button" onClick={() => lookAt(clip)}>
                {clip}
              </button>
            </li>
          ))}
        </ul>
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
