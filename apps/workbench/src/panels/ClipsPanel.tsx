import { Copy, FlipHorizontal2, Pencil, Plus, Trash2 } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { Button } from 'react-aria-components';
import { apply } from '../model/actions.js';
import { copyClip } from '../model/clip-actions.js';
import { valuesAt } from '../model/pose.js';
import { get, showClip, useClipNames, useStore } from '../model/store.js';
import { painterOf } from '../stage/painter.js';
import { askClipName, askNewClip } from '../commands/prompts.js';
import { AdviceMark } from '../time/AdviceMark.js';
import { Chains } from './Chains.js';
import { Facings } from './Facings.js';
import { Guide } from './Guide.js';

/** How often the small pictures move on, in milliseconds. */
const EVERY = 66;

/** The clips of the reel, each with a small moving picture; and its chains and facings. */
export function ClipsPanel() {
  const names = useClipNames();
  const clip = useStore((state) => state.clip);
  const list = useRef<HTMLUListElement>(null);
  useMoving(list);
  return (
    <div className="clips-panel">
      <Guide />
      <div className="panel-bar" role="toolbar" aria-label="Clips">
        <Button className="text-button" onPress={askNewClip}>
          <Plus size={13} aria-hidden /> New
        </Button>
        <Button className="text-button" isDisabled={clip === undefined} onPress={() => copyClip(false)}>
          <Copy size={13} aria-hidden /> Variant
        </Button>
        <Button className="text-button" isDisabled={clip === undefined} onPress={() => copyClip(true)}>
          <FlipHorizontal2 size={13} aria-hidden /> Mirrored
        </Button>
        <Button className="text-button" isDisabled={clip === undefined} onPress={askClipName}>
          <Pencil size={13} aria-hidden /> Rename
        </Button>
        <Button
          className="text-button"
          isDisabled={clip === undefined}
          onPress={() => apply({ do: 'remove', what: 'clip', name: clip! })}
        >
          <Trash2 size={13} aria-hidden /> Remove
        </Button>
      </div>
      <ul className="clip-list" ref={list} aria-label="Clips">
        {names.map((name) => (
          <li key={name}>
            <button type="button" className="clip" aria-current={name === clip} onClick={() => showClip(name)}>
              <canvas width={72} height={56} data-clip={name} aria-hidden="true" />
              <span>{name}</span>
            </button>
            <AdviceMark place={name} message={name} />
          </li>
        ))}
      </ul>
      <Chains />
      <Facings />
    </div>
  );
}

/** Animates the visible pictures; with reduced motion they show the pose at a third of the clip. */
function useMoving(list: React.RefObject<HTMLUListElement | null>): void {
  useEffect(() => {
    const still = matchMedia('(prefers-reduced-motion: reduce)');
    const start = performance.now();
    const paint = () => {
      const { doc, reel, pictures } = get();
      if (!doc || !reel || !pictures || !list.current || document.hidden) return;
      const painter = painterOf(pictures);
      const box = painter.boxOf(doc, reel, valuesAt(reel, undefined, 0));
      const frame = list.current.parentElement!.getBoundingClientRect();
      for (const canvas of list.current.querySelectorAll('canvas')) {
        const { top, bottom } = canvas.getBoundingClientRect();
        const name = canvas.dataset['clip']!;
        if (bottom < frame.top || top > frame.bottom || !Object.hasOwn(doc.clips, name)) continue;
        const clip = reel.clip(name);
        const time = still.matches ? clip.duration / 3 : ((performance.now() - start) / 1000) % (clip.duration + 0.3);
        painter.paint(canvas.getContext('2d')!, doc, reel, valuesAt(reel, clip, Math.min(time, clip.duration)), box);
      }
    };
    const timer = setInterval(paint, EVERY);
    return () => clearInterval(timer);
  }, [list]);
}
