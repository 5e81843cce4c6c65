import type * as v from 'valibot';
import { nearest } from '../../errors/nearest.js';
import type { DocumentPath, ProblemCode, Report } from '../diagnostics/diagnostic-messages.js';
import { NO_OBJECT } from '../document/schema-parts.js';

type Issue = v.BaseIssue<unknown>;

/** Codes that a validation of the schema gives as its message, all with the value as their only fact. */
const VALUE_CODES = ['reel/time', 'reel/positive', 'reel/negative', 'reel/whole', 'reel/version'] as const;
type ValueCode = Extract<ProblemCode, (typeof VALUE_CODES)[number]>;

const UNKNOWN_MEMBER = 'reel/unknown-member';

/** How a message names what the schema wanted. */
const EXPECTED: Readonly<Record<string, string>> = {
  loose_object: 'an object',
  record: 'an object',
  array: 'a list',
  strict_tuple: 'a list of two',
  string: 'a string',
  number: 'a number',
  boolean: 'true or false',
};

/** Reports an issue of the schema library as the problem that it is. */
export function reportIssue(issue: Issue, document: object, report: Report): void {
  const path: DocumentPath = (issue.path ?? []).map((item) => item.key as string | number);
  const last = path.at(-1);
  if (issue.message === UNKNOWN_MEMBER) {
    report(UNKNOWN_MEMBER, path, { name: String(last), known: (issue.expected ?? '').split(' ') }, 'error', 'name');
  } else if (issue.message === 'reel/name') {
    report('reel/name', path, { name: String(issue.input) }, 'error', isMemberName(issue) ? 'name' : 'value');
  } else if (issue.input === undefined && !isPresent(document, path)) {
    // A member that is there under a name like it is reported as that.
    const owner = valueAt(document, path.slice(0, -1));
    const misspelled = Object.keys(owner ?? {}).some((name) => nearest(name, [String(last)]) !== undefined);
    if (!misspelled) report('reel/missing', path.slice(0, -1), { name: String(last) });
  } else if (issue.message === NO_OBJECT) {
    report('reel/type', path, { expected: EXPECTED['record']!, value: issue.input });
  } else if (issue.message === 'reel/no-cells') {
    report('reel/no-cells', path, { sheet: String(path.at(-2)) });
  } else if (issue.message === 'reel/no-clips') {
    report('reel/no-clips', path, {});
  } else if (issue.message === 'reel/no-keys') {
    report('reel/no-keys', path, { track: String(last === 'keys' ? path.at(-2) : last) });
  } else if (VALUE_CODES.includes(issue.message as ValueCode)) {
    report(issue.message as ValueCode, path, { value: issue.input });
  } else if (issue.type === 'picklist') {
    const known = (issue.expected ?? '').split(' | ').map((word) => word.replace(/^\(?"|"\)?$/g, ''));
    report('reel/choice', path, { value: issue.input, known });
  } else {
    report('reel/type', path, { expected: EXPECTED[issue.type] ?? issue.expected ?? issue.type, value: issue.input });
  }
}

/** Whether an issue makes its subject unusable. An invalid name does not. */
export function isHarmful(issue: Issue): boolean {
  return issue.message !== UNKNOWN_MEMBER && issue.message !== 'reel/no-clips' && !isMemberName(issue);
}

function isMemberName(issue: Issue): boolean {
  return issue.message === 'reel/name' && issue.path?.at(-1)?.origin === 'key';
}

function isPresent(document: object, path: DocumentPath): boolean {
  const owner = valueAt(document, path.slice(0, -1));
  return owner !== undefined && Object.hasOwn(owner, path.at(-1)!);
}

/** The object or list at a path. */
function valueAt(document: object, path: DocumentPath): object | undefined {
  let value: unknown = document;
  for (const step of path) {
    if (typeof value !== 'object' || value === null || !Object.hasOwn(value, step)) return undefined;
    value = (value as Record<string | number, unknown>)[step];
  }
  return typeof value === 'object' && value !== null ? value : undefined;
}
