import { readdirSync, readFileSync, realpathSync, statSync, writeFileSync } from 'node:fs';
import { LARGEST_PICTURE } from './request-guard.js';
import { extname, isAbsolute, join, relative, resolve, sep } from 'node:path';

/** What may be served as a sound. */
const SOUNDS = new Set(['.wav', '.mp3', '.ogg', '.opus', '.m4a', '.flac']);
/** What may be served as a picture. No SVG: it can have scripts in it. */
const PICTURES = new Set(['.png', '.jpg', '.jpeg', '.webp', '.gif', '.avif']);
/** The most pictures that are listed, and the deepest level of folders. */
const MAX_PICTURES = 2000;
const DEPTH = 4;

/**
 * The file of a name in a folder, or nothing: no name leads out of it, be it by `..`, as an absolute path or through a
 * link; nor to anything that begins with a dot.
 */
export function fileIn(folder: string, name: string): string | undefined {
  if (name.includes('\0') || isAbsolute(name)) return undefined;
  const steps = name.split(/[/\\]/);
  if (steps.some((step) => step === '' || step.startsWith('.'))) return undefined;
  try {
    const root = realpathSync(folder);
    const real = realpathSync(resolve(root, ...steps));
    const inside = relative(root, real);
    if (inside === '' || inside.startsWith(`..${sep}`) || inside === '..' || isAbsolute(inside)) return undefined;
    return statSync(real).isFile() ? real : undefined;
  } catch {
    return undefined;
  }
}

/** A picture by its name, in the first folder that has it. */
export const pictureIn = (folders: readonly string[], name: string) => mediumIn(folders, name, PICTURES);

/** A sound by its name, in the first folder that has it. */
export const soundIn = (folders: readonly string[], name: string) => mediumIn(folders, name, SOUNDS);

function mediumIn(folders: readonly string[], name: string, kinds: ReadonlySet<string>): Buffer | undefined {
  if (!kinds.has(extname(name).toLowerCase())) return undefined;
  for (const folder of folders) {
    const file = fileIn(folder, name);
    if (file === undefined || !kinds.has(extname(file).toLowerCase())) continue;
    return statSync(file).size > LARGEST_PICTURE ? undefined : readFileSync(file);
  }
  return undefined;
}

/** A picture or sound that can be asked for, and a number that is another when its file has changed. */
export interface Listed {
  readonly name: string;
  readonly version: number;
}

/** The pictures in folders, in order. */
export const picturesIn = (folders: readonly string[]): Listed[] => mediaIn(folders, PICTURES);

/** The sounds in folders, in order. */
export const soundsIn = (folders: readonly string[]): Listed[] => mediaIn(folders, SOUNDS);

function mediaIn(folders: readonly string[], kinds: ReadonlySet<string>): Listed[] {
  const names = new Map<string, number>();
  const walk = (folder: string, before: string, depth: number): void => {
    for (const entry of entriesOf(folder)) {
      if (names.size >= MAX_PICTURES || entry.name.startsWith('.') || entry.name === 'node_modules') continue;
      const name = before + entry.name;
      if (entry.isDirectory() && depth < DEPTH) walk(join(folder, entry.name), `${name}/`, depth + 1);
      else if (entry.isFile() && kinds.has(extname(name).toLowerCase()) && !names.has(name))
        names.set(name, changedAt(join(folder, entry.name)));
    }
  };
  for (const folder of folders) walk(folder, '', 0);
  return [...names].map(([name, version]) => ({ name, version }));
}

/** Milliseconds; 0 for a file that has gone. */
function changedAt(file: string): number {
  try {
    return statSync(file).mtimeMs;
  } catch {
    return 0;
  }
}

/** The first bytes of each kind of picture, and where they stand. */
const SIGNATURES: Readonly<Record<string, readonly [at: number, text: string]>> = {
  '.png': [0, '\x89PNG\r\n\x1a\n'],
  '.jpg': [0, '\xff\xd8\xff'],
  '.jpeg': [0, '\xff\xd8\xff'],
  '.webp': [8, 'WEBP'],
  '.gif': [0, 'GIF8'],
  '.avif': [4, 'ftyp'],
};

/**
 * Puts a new picture into the first folder. Returns why not, if it does not: no file is replaced, and nothing but a
 * picture is written.
 */
export function addPicture(folders: readonly string[], name: string, bytes: Buffer): string | undefined {
  const [folder] = folders;
  const kind = SIGNATURES[extname(name).toLowerCase()];
  if (folder === undefined) return 'no folder for pictures was given. Start the workbench with --pictures FOLDER';
  if (!/^[\p{L}\d_][\p{L}\d_ .()-]{0,120}$/u.test(name) || name.endsWith('.'))
    return `${JSON.stringify(name)} cannot be the name of a picture. Use letters, digits, - and _`;
  if (!kind) return `${name} is not a picture that can be used. Use PNG, JPEG, WebP, GIF or AVIF`;
  if (bytes.toString('latin1', kind[0], kind[0] + kind[1].length) !== kind[1])
    return `${name} does not contain a picture of its kind. Save it again as ${extname(name).slice(1).toUpperCase()}`;
  try {
    writeFileSync(join(folder, name), bytes, { flag: 'wx' });
  } catch (error) {
    const { code, message } = error as NodeJS.ErrnoException;
    if (code !== 'EEXIST') return `${name} could not be written: ${message}`;
    const there = fileIn(folder, name);
    if (there !== undefined && readFileSync(there).equals(bytes)) return undefined;
    return `there is another ${name} already. Rename one of them`;
  }
  return undefined;
}

function entriesOf(folder: string) {
  try {
    return readdirSync(folder, { withFileTypes: true }).sort((a, b) => (a.name < b.name ? -1 : 1));
  } catch {
    return [];
  }
}
