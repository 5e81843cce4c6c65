import { storeText, storedJson } from './stored.js';

const KEPT = 'unspool-token';

/**
 * What the server is asked with. It comes in the printed address, and is taken out of it at once: an address is seen,
 * shared and kept. This tab keeps it for when it is loaded anew.
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

  /** The server was started anew, and has another one. */
  become(text: string): void {
    this.#text = text;
    storeText(sessionStorage, KEPT, JSON.stringify(text));
  }
}
