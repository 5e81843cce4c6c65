import type { DocumentNames } from './names.js';
import type { Reel } from './reel.js';

/**
 * The names of a reel, or of a document's type. The result of `defineReel`, and a JSON module with the declaration that
 * `unspool types` writes, have all of them. From a plain JSON module only the names of clips, roles, chains, facings and
 * routines are known. A string or an unknown value allows any name.
 *
 * @example
 * import crab from './crab.reel.json';
 * type Crab = Player<NamesOf<typeof crab>>;
 */
export type NamesOf<D> = D extends Reel<infer N> ? N : DocumentNames<D>;
