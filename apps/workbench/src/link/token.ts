import { storeText, storedJson } from './stored.js';

const KEPT = 'unspool-token';

/**
 * The token for requests. It comes in the printed address and is removed from it at once, because an address is seen,
 * shared and stored. This tab keeps it for a reload.
 */
export class Token {
  #text: string;

  constructor() {
    const given = location.hash.slice(1);
    if (given !== '') history.replaceState(null, '', location.pathname + location.search);
    const kept = storedJson(sessionStorage, KEPT);
    this.#text = given || (typeof kept === 'string' ? kept : '');
    this.become(this.#text);
  }

  get text(): string {
    return this.#text;
  }

  /** The server was restarted and has another token. */
  become(text: string): void {
    this.#text = text;
    storeText(sessionStorage, KEPT, JSON.stringify(text));
  }
}
