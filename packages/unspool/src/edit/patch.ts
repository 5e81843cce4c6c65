import { isObject } from '../errors/is-object.js';
import { pointerOf } from '../reel/diagnostics/text-locations.js';
import { show } from '../errors/show.js';
import { insertMember, withoutMember } from './immutable.js';
import { refuse } from './refusal.js';

/**
 * One exact change of a document: a member of an object, or neighboring items of a list. It contains the value before
 * and after, so its inverse is the swap of the two.
 */
export type Change = MemberChange | ListChange;

/** A change of one member of an object. */
export interface MemberChange {
  /** JSON Pointer of the object (RFC 6901). */
  readonly path: string;
  readonly member: string;
  /** Omitted when the member did not exist before, or does not exist now. */
  readonly was?: unknown;
  readonly now?: unknown;
  /** The member that it precedes; omitted at the end. */
  readonly before?: string;
}

/** A change of neighboring items of a list. */
export interface ListChange {
  /** JSON Pointer of the list. */
  readonly path: string;
  /** Index in the list, from 0. */
  readonly at: number;
  readonly was: readonly unknown[];
  readonly now: readonly unknown[];
}

/**
 * Returns the changes that turn one document into another. Law: `applyChanges(a, changesBetween(a, b))` equals `b` byte
 * for byte.
 */
export function changesBetween(a: unknown, b: unknown): Change[] {
  const changes: Change[] = [];
  compare([], a, b, changes);
  return changes;
}

/** Returns the changes that undo these changes. */
export function inverseOf(changes: readonly Change[]): Change[] {
  return changes.toReversed().map((change): Change => {
    if ('at' in change) return { ...change, was: change.now, now: change.was };
    const { was, now, ...place } = change;
    return { ...place, ...(now !== undefined && { was: now }), ...(was !== undefined && { now: was }) };
  });
}

/** Applies changes, or refuses when the document is not the expected one. Unchanged parts are shared. */
export function applyChanges<D>(document: D, changes: readonly Change[]): D {
  return changes.reduce((next: unknown, change) => applyChange(next, stepsOf(change.path), change), document) as D;
}

function applyChange(value: unknown, [step, ...rest]: readonly string[], change: Change): unknown {
  if (step !== undefined) {
    const list = Array.isArray(value);
    if (!isObject(value) || !Object.hasOwn(value, step)) throw stale(change, `${show(step)} does not exist`);
    const inner = applyChange((value as Record<string, unknown>)[step], rest, change);
    return list ? (value as unknown[]).with(Number(step), inner) : { ...value, [step]: inner };
  }
  if ('at' in change) {
    if (!Array.isArray(value)) throw stale(change, 'it is not a list');
    const { at, was, now } = change;
    if (at > value.length || !isSame(value.slice(at, at + was.length), was)) throw stale(change, 'the list differs');
    return value.toSpliced(at, was.length, ...now);
  }
  if (!isObject(value) || Array.isArray(value)) throw stale(change, 'it is not an object');
  const { member, was, now, before } = change;
  const there = Object.hasOwn(value, member) ? value[member] : undefined;
  if (!isSame(there, was)) throw stale(change, `${show(member)} is ${show(there)}, not ${show(was)}`);
  if (now === undefined) return withoutMember(value, member);
  if (there !== undefined) return { ...value, [member]: now };
  // When the member that it preceded was removed since, it goes to the end: not a reason to refuse.
  return insertMember(value, member, now, before);
}

function stale({ path }: Change, found: string): Error {
  return refuse(
    'edit/stale',
    `at ${path || 'the top'} ${found}. The document is not the one that the patch was made for.`,
  );
}

function compare(path: readonly string[], a: unknown, b: unknown, changes: Change[]): void {
  if (a === b) return;
  if (Array.isArray(a) && Array.isArray(b)) {
    const change = compareLists(pointerOf(path), a, b);
    if (change) changes.push(change);
    return;
  }
  const [from, to] = [a as Readonly<Record<string, unknown>>, b as Readonly<Record<string, unknown>>];
  const here = pointerOf(path);
  const [names, next] = [namesOf(from), namesOf(to)];
  const kept = new Set(names.filter((name) => next.includes(name)));
  // Where members have changed places, those that have are taken out and put in again.
  const order = next.filter((name) => kept.has(name));
  const stood = names.filter((name) => kept.has(name));
  for (let i = 0; i < order.length; i++) if (order[i] !== stood[i]) kept.delete(order[i]!);
  names.forEach((member, i) => {
    if (kept.has(member)) return;
    const before = names[i + 1];
    changes.push({ path: here, member, was: from[member], ...(before !== undefined && { before }) });
  });
  for (const member of next) {
    if (!kept.has(member) || from[member] === to[member]) continue;
    const [was, now] = [from[member], to[member]];
    const deep = isObject(was) && isObject(now) && Array.isArray(was) === Array.isArray(now);
    if (deep) compare([...path, member], was, now, changes);
    else if (!isSame(was, now)) changes.push({ path: here, member, was, now });
  }
  next.toReversed().forEach((member, i) => {
    if (kept.has(member)) return;
    const before = next[next.length - i];
    changes.push({ path: here, member, now: to[member], ...(before !== undefined && { before }) });
  });
}

function compareLists(path: string, a: readonly unknown[], b: readonly unknown[]): ListChange | undefined {
  let first = 0;
  const least = Math.min(a.length, b.length);
  while (first < least && isSame(a[first], b[first])) first++;
  let last = 0;
  while (last < least - first && isSame(a[a.length - 1 - last], b[b.length - 1 - last])) last++;
  const [was, now] = [a.slice(first, a.length - last), b.slice(first, b.length - last)];
  return was.length + now.length === 0 ? undefined : { path, at: first, was, now };
}

function namesOf(object: Readonly<Record<string, unknown>>): string[] {
  return Object.keys(object).filter((name) => object[name] !== undefined);
}

/** Whether two values are written the same, members in order. */
export function isSame(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (Array.isArray(a) || Array.isArray(b))
    return Array.isArray(a) && Array.isArray(b) && a.length === b.length && a.every((one, i) => isSame(one, b[i]));
  if (!isObject(a) || !isObject(b)) return false;
  const [names, others] = [namesOf(a), namesOf(b)];
  return names.length === others.length && names.every((name, i) => name === others[i] && isSame(a[name], b[name]));
}

/** A JSON Pointer as its steps. */
export function stepsOf(pointer: string): string[] {
  return pointer
    .split('/')
    .slice(1)
    .map((step) => step.replaceAll('~1', '/').replaceAll('~0', '~'));
}
