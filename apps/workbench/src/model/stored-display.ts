import { storeText, storedJson } from '../link/stored.js';
import { set, DEFAULT_DISPLAY, SHARES, useStore, type DisplayOptions } from './store.js';

/** Stage view of each reel, stored in the browser: a reloaded page looks the same. */

const keyOf = (reel: string) => `unspool-look-${reel}`;

/** The look of a reel as it was left; the usual one where nothing was kept, or nothing that can be read. */
export function restoreDisplay(reel: string): void {
  const kept = storedJson(localStorage, keyOf(reel)) as Partial<DisplayOptions> | null;
  const shares = storedJson(localStorage, SHARES_KEY) as Partial<typeof SHARES> | null;
  set({ display: { ...DEFAULT_DISPLAY, ...kept, moving: undefined }, shares: { ...SHARES, ...shares } });
}

/** The page is divided alike for all reels. */
const SHARES_KEY = 'unspool-shares';

useStore.subscribe(({ shares }, was) => {
  if (shares !== was.shares && shares !== SHARES) storeText(localStorage, SHARES_KEY, JSON.stringify(shares));
});

useStore.subscribe(({ display, reelName }, was) => {
  if (display === was.display || reelName === undefined || reelName !== was.reelName || display === DEFAULT_DISPLAY)
    return;
  storeText(localStorage, keyOf(reelName), JSON.stringify(display));
});
