import { Check, X } from 'lucide-react';
import { useEffect, useState } from 'react';
import { storeText, storedJson } from '../link/stored.js';
import { get, set, useStore, type State } from '../model/store.js';

const KEY = 'unspool-first-clip';
/** A reel with more clips than these is not somebody's first. */
const FEW = 2;

/** The steps to a first clip that moves. Each is done when the page shows that it is. */
const STEPS: readonly (readonly [text: string, isDone: (state: State, first: readonly string[]) => boolean])[] = [
  [
    'Make a clip: press Alt+N, type a name, press Enter.',
    ({ clip }, first) => clip !== undefined && !first.includes(clip),
  ],
  ['Press R to record: what you change is keyed at the playhead.', ({ recording }) => recording],
  [
    'Drag the playhead in the ruler to frame 15, and click a part of the creature.',
    ({ time, role }) => time > 0 && role !== undefined,
  ],
  [
    'Drag the round handle to turn it. A key appears.',
    ({ doc, clip }) => Object.keys(doc?.clips[clip ?? '']?.tracks ?? {}).length > 0,
  ],
  ['Press Space. It moves.', ({ playing }) => playing],
];

/** The guided first clip: shown for a small reel until it is dismissed, for ever. */
export function Guide() {
  const isSmall = useStore(({ doc }) => doc !== undefined && Object.keys(doc.clips).length <= FEW + 1);
  const [isGone, setGone] = useState(() => storedJson(localStorage, KEY) === true);
  const isWanted = useStore((state) => state.guide);
  if (isWanted === undefined ? isGone || !isSmall : !isWanted) return null;
  const dismiss = () => {
    storeText(localStorage, KEY, 'true');
    setGone(true);
    set({ guide: false });
  };
  return <Steps onDismiss={dismiss} />;
}

function Steps({ onDismiss }: { readonly onDismiss: () => void }) {
  // The clips that were there before the first step.
  const [first] = useState(() => Object.keys(get().doc?.clips ?? {}));
  const [done, setDone] = useState(0);
  useEffect(
    () =>
      useStore.subscribe((state) => {
        setDone((count) => (STEPS[count]?.[1](state, first) ? count + 1 : count));
      }),
    [first],
  );
  return (
    <section className="guide" aria-label="Your first clip">
      <h3>
        Your first clip
        <button type="button" className="icon" aria-label="Dismiss the first steps" onClick={onDismiss}>
          <X size={13} aria-hidden />
        </button>
      </h3>
      <ol>
        {STEPS.map(([text], i) => (
          <li
            key={text}
            className={i < done ? 'is-done' : i === done ? 'is-next' : ''}
            aria-current={i === done ? 'step' : undefined}
          >
            {i < done ? <Check size={12} aria-label="done" /> : <span aria-hidden>{i + 1}</span>} {text}
          </li>
        ))}
      </ol>
      {done === STEPS.length && (
        <p>
          That was a clip. Pick easings in the bar below, and play it in the try-out panel as the game would.{' '}
          <button type="button" className="text-button is-main" onClick={onDismiss}>
            Done
          </button>
        </p>
      )}
    </section>
  );
}
