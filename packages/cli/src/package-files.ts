import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

/** A file or folder of this package: one level above both `src` and `program`. */
const inPackage = (path: string) => fileURLToPath(new URL(`../${path}`, import.meta.url));

/** The page that `edit` serves. */
export const PAGE = inPackage('page');

/** The game that `new game` writes. */
export const STARTER_GAME = inPackage('starter');

export const font = (file: string) => inPackage(`fonts/${file}`);

export const version = (JSON.parse(readFileSync(inPackage('package.json'), 'utf8')) as { version: string }).version;
