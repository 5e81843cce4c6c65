import { readdirSync, readFileSync, realpathSync, statSync } from 'node:fs';
import { extname, isAbsolute, join, relative, resolve, sep } from 'node:path';

/** What may be served as a picture. No SVG: it can have scripts in it. */
const PICTURES = new Set(['.png', '.jpg', '.jpeg', '.webp', '.gif', '.avif']);
const LARGEST = 64 * 1024 * 1024;
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
export function pictureIn(folders: readonly string[], name: string): Buffer | undefined {
  if (!PICTURES.has(extname(name).toLowerCase())) return undefined;
  for (const folder of folders) {
    const file = fileIn(folder, name);
    if (file === undefined || !PICTURES.has(extname(file).toLowerCase())) continue;
    return statSync(file).size > LARGEST ? undefined : readFileSync(file);
  }
  return undefined;
}

/** The names of the pictures in folders, in order. */
export function picturesIn(folders: readonly string[]): string[] {
  const names = new Set<string>();
  const walk = (folder: string, before: string, depth: number): void => {
    for (const entry of entriesOf(folder)) {
      if (names.size >= MAX_PICTURES || entry.name.startsWith('.') || entry.name === 'node_modules') continue;
      const name = before + entry.name;
      if (entry.isDirectory() && depth < DEPTH) walk(join(folder, entry.name), `${name}/`, depth + 1);
      else if (entry.isFile() && PICTURES.has(extname(name).toLowerCase())) names.add(name);
    }
  };
  for (const folder of folders) walk(folder, '', 0);
  return [...names];
}

function entriesOf(folder: string) {
  try {
    return readdirSync(folder, { withFileTypes: true }).sort((a, b) => (a.name < b.name ? -1 : 1));
  } catch {
    return [];
  }
}
