import { createRequire } from 'node:module';
import { join } from 'node:path';

/** The file that a name leads to for the modules of a folder; `undefined` when it is not installed. */
export function resolvedFrom(folder: string, name: string): string | undefined {
  try {
    return createRequire(join(folder, 'package.json')).resolve(name);
  } catch {
    return undefined;
  }
}
