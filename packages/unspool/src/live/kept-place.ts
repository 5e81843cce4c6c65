import type { PlayerState } from '../play/state/saved.js';
import { platform } from './platform.js';

/** Whether a player goes on where it was when its page is loaded again, and where that is. For one tab, until it closes. */
interface KeptPlace {
  readonly state?: PlayerState;
}

const keyOf = (name: string) => `unspool-place ${name}`;

export function readPlace(name: string): KeptPlace | undefined {
  try {
    const text = platform.sessionStorage?.getItem(keyOf(name));
    return typeof text === 'string' ? (JSON.parse(text) as KeptPlace) : undefined;
  } catch {
    return undefined; // No storage, or a text that was not written here.
  }
}

export function writePlace(name: string, place: KeptPlace | undefined): void {
  try {
    if (place) platform.sessionStorage?.setItem(keyOf(name), JSON.stringify(place));
    else platform.sessionStorage?.removeItem(keyOf(name));
  } catch {
    // A page without storage, or a full one: then it starts anew.
  }
}
