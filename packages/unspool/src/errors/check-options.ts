import { UnspoolError } from './error.js';
import { suggest } from './nearest.js';
import { show } from './show.js';

/**
 * Throws for options that are not an object, and for unknown ones.
 *
 * @param call the call that they are of, as messages name it
 * @param area the start of the error's code
 */
export function checkOptions(options: object, known: readonly string[], call: string, area = 'play'): void {
  if (typeof options !== 'object' || (options as object | null) === null || Array.isArray(options))
    throw new UnspoolError(
      `${area}/options`,
      `${call} expects an object as options, found ${show(options)}`,
      'pass an object such as {}',
    );
  for (const option of Object.keys(options)) {
    if (known.includes(option)) continue;
    throw new UnspoolError(
      `${area}/unknown-option`,
      `unknown option ${show(option)} of ${call}`,
      suggest(option, known),
    );
  }
}
