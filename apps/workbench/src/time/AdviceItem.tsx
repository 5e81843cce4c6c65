import { CircleAlert, Lightbulb, TriangleAlert } from 'lucide-react';
import type { Diagnostic, Severity } from 'unspool';
import type { Advice } from 'unspool/edit';
import { apply, goTo } from '../model/actions.js';
import { placeOf } from '../model/advice.js';
import { keysOf } from '../model/keys.js';
import { partsOf } from '../model/names.js';
import { get, showClip, set } from '../model/store.js';

const ICONS: Readonly<Record<Severity, typeof Lightbulb>> = {
  error: CircleAlert,
  warning: TriangleAlert,
  advice: Lightbulb,
};

export function AdviceItem({ one }: { readonly one: Advice }) {
  const { severity, message, hint, code, path, fix } = one;
  const Icon = ICONS[severity];
  const place = placeOf(one);
  return (
    <li className={`advice is-${severity}`}>
      <Icon size={15} aria-label={severity} />
      <div>
        <button type="button" className="link" title={`Show it: ${path}`} onClick={() => show(one)}>
          {place ? [place.clip, place.track].filter(Boolean).join(', ') : path || 'the reel'}
        </button>
        <p>{message}</p>
        <p className="hint">{hint}</p>
      </div>
      {fix && (
        <button
          type="button"
          className="text-button"
          title={`${code}: one step, can be undone`}
          onClick={() => apply({ do: 'group', operations: fix })}
        >
          Fix
        </button>
      )}
    </li>
  );
}

/** Goes to what a finding is about. */
function show(one: Diagnostic): void {
  const place = placeOf(one);
  if (!place) return;
  const { doc, clip } = get();
  if (place.clip !== clip) showClip(place.clip);
  const { track, key } = place;
  if (track === undefined) return;
  set({ row: track, role: partsOf(track)[0], curves: [track] });
  const list = doc?.clips[place.clip]?.tracks?.[track];
  const at = list && key !== undefined ? keysOf(list, get().reel!.clip(place.clip).fps)[key]?.at : undefined;
  if (at === undefined) return;
  goTo(at, false);
  set({ selectedKeys: { [track]: [at] } });
}
