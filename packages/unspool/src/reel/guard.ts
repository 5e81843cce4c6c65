import { LIMITS } from './limits.js';
import { FORBIDDEN } from './names.js';
import type { Path, Report } from './problems.js';

/**
 * Looks over a document before anything else reads it: finite numbers, plain data, no names that reach a prototype,
 * no more levels than allowed (a circle of objects is such a case).
 *
 * @param unusable receives the paths of values that nothing can be made of
 * @returns false when it is no use to read on
 */
export function guard(value: unknown, report: Report, unusable: Path[], path: Path = []): boolean {
  if (path.length > LIMITS.depth) {
    report('reel/too-deep', path.slice(0, 1), { limit: LIMITS.depth });
    return false;
  }
  if (typeof value === 'number') {
    if (Number.isFinite(value)) return true;
    report('reel/not-finite', path, { value });
    unusable.push(path);
    return true;
  }
  if (value === null || typeof value === 'string' || typeof value === 'boolean') return true;
  if (Array.isArray(value)) return value.every((item, index) => guard(item, report, unusable, [...path, index]));
  if (typeof value !== 'object') {
    report('reel/not-data', path, { value });
    unusable.push(path);
    return true;
  }
  return Object.entries(value).every(([name, member]) => {
    const here = [...path, name];
    if ((FORBIDDEN as readonly string[]).includes(name)) report('reel/forbidden-name', here, { name }, 'error', 'name');
    // An optional member that a program left undefined is not there.
    return member === undefined || guard(member, report, unusable, here);
  });
}
