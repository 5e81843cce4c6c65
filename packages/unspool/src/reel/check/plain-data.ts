import { LIMITS } from '../document/limits.js';
import { FORBIDDEN } from '../document/names.js';
import type { DocumentPath, Report } from '../diagnostics/diagnostic-messages.js';

/**
 * Checks that a document is plain data before anything else reads it: finite numbers, lists without holes, no names
 * that reach a prototype, and not too deep (an object that contains itself is).
 *
 * @param unusable receives the paths of unusable values
 * @returns false when the rest cannot be checked
 */
export function checkPlainData(
  value: unknown,
  report: Report,
  unusable: DocumentPath[],
  path: DocumentPath = [],
): boolean {
  if (typeof value === 'number') {
    if (Number.isFinite(value)) return true;
    report('reel/not-finite', path, { value });
    unusable.push(path);
    return true;
  }
  if (value === null || typeof value === 'string' || typeof value === 'boolean') return true;
  if (path.length >= LIMITS.depth) {
    report('reel/too-deep', path.slice(0, 1), { limit: LIMITS.depth });
    return false;
  }
  // Not by its own iteration, which goes over holes.
  if (Array.isArray(value))
    return Array.from(value).every((item, index) => checkPlainData(item, report, unusable, [...path, index]));
  if (typeof value !== 'object') {
    report('reel/not-data', path, { value });
    unusable.push(path);
    return true;
  }
  return Object.entries(value).every(([name, member]) => {
    const here = [...path, name];
    if (isForbidden(name, here)) {
      report('reel/forbidden-name', here, { name }, 'error', 'name');
      // The schema ignores such a member: it must not be read.
      unusable.push(here);
      return true;
    }
    // An optional member that a program left undefined is not there.
    return member === undefined || checkPlainData(member, report, unusable, here);
  });
}

/** In data of the author's own, which nothing here ever writes to, only `__proto__` is odd. */
function isForbidden(name: string, path: DocumentPath): boolean {
  if (!(FORBIDDEN as readonly string[]).includes(name)) return false;
  const free = path.some(
    (step, i) =>
      (String(step).startsWith('x-') && !isNameGiven(path, i)) || (step === 'data' && path[i - 2] === 'cues'),
  );
  return !free || name === '__proto__';
}

/** A role or clip called `x-` something is not custom data; nor is a track, span or rest value. */
function isNameGiven(path: DocumentPath, index: number): boolean {
  return index === 1 || (index === 3 && ['tracks', 'spans', 'rest'].includes(String(path[2])));
}
