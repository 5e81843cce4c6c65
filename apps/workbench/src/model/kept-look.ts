import { keep, keptIn } from '../link/kept.js';
import { set, USUAL_LOOK, useStore, type Look } from './store.js';

/** What the stage shows of each reel, kept in the browser: a page that is loaded anew looks as it did. */

const keyOf = (reel: string) => `unspool-look-${reel}`;

/** The look of a reel as it was left; the usual one where nothing was kept, or nothing that can be read. */
export function showKeptLook(reel: string): void {
  const kept = keptIn(localStorage, keyOf(reel)) as Partial<Look> | null;
  set({ look: { ...USUAL_LOOK, ...kept, moving: undefined } });
}

useStore.subscribe(({ look, reelName }, was) => {
  if (look === was.look || reelName === undefined || reelName !== was.reelName || look === USUAL_LOOK) return;
  keep(localStorage, keyOf(reelName), JSON.stringify(look));
});
