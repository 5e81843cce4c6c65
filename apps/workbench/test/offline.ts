import type { ServerMessage } from '@unspool/cli/protocol';
import type { ReelDocument } from 'unspool';
import { vi } from 'vitest';

/**
 * The page's model without a page: what a browser gives it is here, and a server that opens a reel and then is away, so
 * that whatever is done is shown and waits. To be imported before anything of the page.
 */
const kept = new Map<string, string>();
const storage = {
  getItem: (key: string) => kept.get(key) ?? null,
  setItem: (key: string, text: string) => void kept.set(key, text),
  removeItem: (key: string) => void kept.delete(key),
};
vi.stubGlobal('location', new URL('http://127.0.0.1/#token'));
vi.stubGlobal('history', { replaceState: () => {} });
vi.stubGlobal('localStorage', storage);
vi.stubGlobal('sessionStorage', storage);
vi.stubGlobal('requestAnimationFrame', () => 1);
vi.stubGlobal('cancelAnimationFrame', () => {});

let served: ReelDocument;

class AwaySocket extends EventTarget {
  static readonly OPEN = 1;
  readonly readyState = 0;

  constructor() {
    super();
    const steps = { done: [], undone: [], doneCount: 0, undoneCount: 0 };
    const message: ServerMessage = { tell: 'open', doc: served, steps, file: { saved: true } };
    queueMicrotask(() => this.dispatchEvent(new MessageEvent('message', { data: JSON.stringify(message) })));
  }

  close(): void {}
}
vi.stubGlobal('WebSocket', AwaySocket);

let count = 0;

/** Opens a reel, and looks at one of its clips. */
export async function openOffline(doc: ReelDocument, clip: string): Promise<void> {
  const { openReel } = await import('../src/model/session.js');
  const { showClip, set } = await import('../src/model/store.js');
  served = doc;
  openReel(`reel-${count++}`);
  await Promise.resolve();
  set({ status: { message: '', isFault: false }, openRoles: new Set(), inSeconds: false });
  showClip(clip);
}
