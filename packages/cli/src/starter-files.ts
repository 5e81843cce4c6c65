import { cpSync, existsSync, mkdirSync, readdirSync, renameSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { declarationOf, formatReel } from 'unspool';
import { CallError } from './failure.js';
import { readReelFile, writeNewFile } from './files.js';
import { STARTER_GAME } from './package-files.js';
import { titleOf, writePictures } from './starter-pictures.js';
import { STARTER } from './starter.js';

const ENDING = '.reel.json';

/** @param schema the path of the JSON Schema from its folder */
export const starterText = (schema: string, name: string) => formatReel({ $schema: schema, ...STARTER, name });

/**
 * Writes the reel to start from, and its pictures beside it where there are none of their names.
 *
 * @returns the names of the pictures that were written
 */
export async function writeStarter(file: string, force: boolean): Promise<readonly string[]> {
  if (!file.endsWith(ENDING))
    throw new CallError(
      `${file} does not end in ${ENDING}, by which folders are searched for reels`,
      `write: unspool new ${file.replace(/(\.json)?$/, ENDING)}`,
    );
  writeNewFile(file, starterText(schemaFor(dirname(file)), titleOf(file)), { overwrite: force });
  return writePictures(dirname(file));
}

/** The JSON Schema of the library that the nearest project has installed, as a path from a folder. */
export function schemaFor(folder: string): string {
  const schema = join('node_modules', 'unspool', 'reel.schema.json');
  for (let at = resolve(folder); ; at = dirname(at)) {
    if (existsSync(join(at, schema))) return linkTo(relative(resolve(folder), join(at, schema)));
    if (dirname(at) === at) return linkTo(schema);
  }
}

const linkTo = (path: string) => {
  const link = path.replaceAll('\\', '/');
  return link.startsWith('.') ? link : `./${link}`;
};

const REEL = 'hermit-crab.reel.json';

/** Writes a small Vite game with a reel into an empty or new folder. */
export async function writeGame(folder: string): Promise<void> {
  if (existsSync(folder) && readdirSync(folder).some((name) => name !== '.git'))
    throw new CallError(`the folder ${folder} is not empty`, 'name a new folder: nothing is replaced');
  cpSync(STARTER_GAME, folder, { recursive: true });
  // npm leaves a file of this name out of packages.
  renameSync(join(folder, 'gitignore'), join(folder, '.gitignore'));
  const reels = join(folder, 'reels');
  const reel = join(reels, REEL);
  mkdirSync(reels);
  writeNewFile(reel, starterText('../node_modules/unspool/reel.schema.json', titleOf(reel)), { overwrite: false });
  await writePictures(reels);
  writeNewFile(reel.replace(/\.json$/, '.d.json.ts'), declarationOf(readReelFile(reel).reel, 'reel', '@unspool/vite'), {
    overwrite: false,
  });
}
