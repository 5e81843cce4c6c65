/**
 * Stores a text in the browser; an empty one removes it.
 *
 * @returns whether it was stored: a browser may be full, or not allowed to store anything
 */
export function storeText(storage: Storage, key: string, text: string | undefined): boolean {
  try {
    if (text === undefined) storage.removeItem(key);
    else storage.setItem(key, text);
    return true;
  } catch {
    return false;
  }
}

/** What was kept under a key, read as JSON; nothing where there is none, or a text that is none. */
export function storedJson(storage: Storage, key: string): unknown {
  try {
    return JSON.parse(storage.getItem(key) ?? 'null') as unknown;
  } catch {
    return null;
  }
}
