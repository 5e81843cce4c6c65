import { useEffect } from 'react';
import { readReel, type Diagnostic } from 'unspool';
import { advise, withoutAccepted, type Advice } from 'unspool/edit';
import { adviseShapes } from 'unspool/hit';
import { set, useStore } from './store.js';

/** The document is checked this long (ms) after the last change. */
const AFTER = 350;

/** Keeps what `check` has to say of the document as it is. */
export function useAdvice(): void {
  const doc = useStore((state) => state.doc);
  useEffect(() => {
    if (!doc) return;
    const timer = setTimeout(() => {
      const { reel, diagnostics } = readReel(doc);
      const found: Advice[] = reel ? [...diagnostics, ...adviseShapes(reel, {}), ...advise(doc)] : diagnostics;
      const advice = withoutAccepted(doc, found);
      set({ advice, adviceAt: byPlace(advice) });
    }, AFTER);
    return () => clearTimeout(timer);
  }, [doc]);
}

/** The clip and the track that a finding is about. */
export function placeOf({
  path,
}: Diagnostic): { readonly clip: string; readonly track?: string; readonly key?: number } | undefined {
  const [, clips, clip, member, track, ...rest] = path
    .split('/')
    .map((step) => step.replaceAll('~1', '/').replaceAll('~0', '~'));
  if (clips !== 'clips' || clip === undefined) return undefined;
  if (member !== 'tracks' || track === undefined) return { clip };
  const key = Number(rest[0] === 'keys' ? rest[1] : rest[0]);
  return { clip, track, ...(Number.isInteger(key) && { key }) };
}

const NONE: readonly Advice[] = [];

/** What is to be said of a clip (`snap`), or of a track of it (`snap claw.rotation`). */
export function useAdviceAt(place: string): readonly Advice[] {
  return useStore((state) => state.adviceAt[place] ?? NONE);
}

function byPlace(advice: readonly Advice[]): Readonly<Record<string, readonly Advice[]>> {
  const places: Record<string, Advice[]> = {};
  for (const one of advice) {
    const place = placeOf(one);
    if (!place) continue;
    (places[place.clip] ??= []).push(one);
    if (place.track !== undefined) (places[`${place.clip} ${place.track}`] ??= []).push(one);
  }
  return places;
}
