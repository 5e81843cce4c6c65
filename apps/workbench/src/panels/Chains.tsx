import { ArrowDown, ArrowUp, Plus, X } from 'lucide-react';
import { Button } from 'react-aria-components';
import type { ReelDocument } from 'unspool';
import { apply } from '../model/actions.js';
import { addChain } from '../model/additions.js';
import { useClipNames, useStore } from '../model/store.js';
import { LinkFields } from './LinkFields.js';
import { NameField } from './NameField.js';

type Chain = NonNullable<ReelDocument['chains']>[string];

/** Clips that are played one after the other. */
export function Chains() {
  const chains = useStore((state) => state.doc?.chains);
  const clip = useStore((state) => state.clip);
  return (
    <section aria-label="Chains">
      <h3>
        Chains
        <Button className="text-button" isDisabled={clip === undefined} onPress={addChain}>
          <Plus size={12} aria-hidden /> New, with {clip ?? 'a clip'}
        </Button>
      </h3>
      {Object.entries(chains ?? {}).map(([name, links]) => (
        <ChainRow key={name} name={name} links={links} />
      ))}
    </section>
  );
}

function ChainRow({ name, links }: { readonly name: string; readonly links: Chain }) {
  const clips = useClipNames();
  const changed = (to: Chain) => ({ do: 'change', what: 'chain', name, to }) as const;
  const change = (to: Chain) => apply(changed(to));
  return (
    <div className="chain">
      <NameField what="chain" name={name} />
      <ol>
        {links.map((link, i) => (
          <li key={i}>
            <LinkFields chain={name} link={link} changed={(next) => changed(links.with(i, next))} />
            <Button
              className="icon"
              aria-label={`${i + 1} earlier`}
              isDisabled={i === 0}
              onPress={() => change(swapped(links, i, i - 1))}
            >
              <ArrowUp size={12} aria-hidden />
            </Button>
            <Button
              className="icon"
              aria-label={`${i + 1} later`}
              isDisabled={i === links.length - 1}
              onPress={() => change(swapped(links, i, i + 1))}
            >
              <ArrowDown size={12} aria-hidden />
            </Button>
            <Button
              className="icon"
              aria-label={`Remove ${i + 1}`}
              isDisabled={links.length === 1}
              onPress={() => change(links.toSpliced(i, 1))}
            >
              <X size={12} aria-hidden />
            </Button>
          </li>
        ))}
      </ol>
      <select
        aria-label={`Add a clip to ${name}`}
        value=""
        onChange={({ currentTarget }) => currentTarget.value && change([...links, currentTarget.value])}
      >
        <option value="">add …</option>
        {clips.map((clip) => (
          <option key={clip}>{clip}</option>
        ))}
      </select>
      <Button
        className="icon"
        aria-label={`Remove the chain ${name}`}
        onPress={() => apply({ do: 'remove', what: 'chain', name })}
      >
        <X size={13} aria-hidden />
      </Button>
    </div>
  );
}

function swapped<T>(list: readonly T[], a: number, b: number): T[] {
  return list.with(a, list[b]!).with(b, list[a]!);
}
