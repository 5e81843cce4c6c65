import { isObject } from '../../errors/is-object.js';
import * as v from 'valibot';
import { strictOf } from '../document/schema-parts.js';

/** Whether a value is what a schema wants, without a word about why not. */
type Accepts = (value: unknown) => boolean;

/**
 * The issues of a value. Nearly every document has none, and a plain yes or no takes less time than a list of issues:
 * the schema library runs only to word a refusal.
 */
export function issuesOf(schema: v.GenericSchema, value: unknown): readonly v.BaseIssue<unknown>[] {
  return accepts(schema)(value) ? [] : (v.safeParse(schema, value).issues ?? []);
}

const known = new WeakMap<object, Accepts>();

/** What a schema accepts, put together once from the schema itself. */
export function accepts(schema: object): Accepts {
  let found = known.get(schema);
  if (!found) known.set(schema, (found = build(schema as Node)));
  return found;
}

/** What is read of schemas and validations. */
interface Node {
  readonly type: string;
  readonly pipe?: readonly Node[];
  readonly requirement?: unknown;
  readonly entries?: Readonly<Record<string, Node>>;
  readonly wrapped?: Node;
  readonly key?: Node;
  readonly value?: Node;
  readonly item?: Node;
  readonly items?: readonly Node[];
  readonly options?: readonly unknown[];
  readonly literal?: unknown;
  readonly check?: Accepts;
  readonly getter?: (value: unknown) => Node;
}

function build(node: Node): Accepts {
  if (node.pipe) {
    // What `members` adds to its object is in how that is accepted.
    const all = node.pipe
      .filter(({ type }) => type !== 'raw_check')
      .map((one, i) => (i === 0 ? accepts(one) : make(one)));
    return (value) => all.every((one) => one(value));
  }
  return make(node);
}

function make(node: Node): Accepts {
  const maker = MAKERS[node.type];
  if (!maker) throw new Error(`no plain form of the schema ${node.type}: add one to MAKERS`);
  return maker(node);
}

/** By the type of a schema or a validation. */
const MAKERS: Readonly<Record<string, ((node: Node) => Accepts) | undefined>> = {
  string: () => (value) => typeof value === 'string',
  boolean: () => (value) => typeof value === 'boolean',
  number: () => (value) => typeof value === 'number' && !Number.isNaN(value),
  literal:
    ({ literal }) =>
    (value) =>
      value === literal,
  picklist:
    ({ options }) =>
    (value) =>
      options!.includes(value),
  custom: ({ check }) => check!,
  lazy:
    ({ getter }) =>
    (value) =>
      accepts(getter!(value))(value),
  optional: ({ wrapped }) => {
    const inner = accepts(wrapped!);
    return (value) => value === undefined || inner(value);
  },
  nullable: ({ wrapped }) => {
    const inner = accepts(wrapped!);
    return (value) => value === null || inner(value);
  },
  array: ({ item }) => {
    const inner = accepts(item!);
    // Not by its own iteration, which goes over holes.
    return (value) => Array.isArray(value) && Array.from<unknown>(value).every(inner);
  },
  strict_tuple: ({ items }) => {
    const all = items!.map(accepts);
    return (value) => Array.isArray(value) && value.length === all.length && all.every((one, i) => one(value[i]));
  },
  record: ({ key, value }) => {
    const [name, inner] = [accepts(key!), accepts(value!)];
    return (map) => isObject(map) && Object.keys(map).every((one) => IGNORED.includes(one) || (name(one) && inner(map[one]))); // prettier-ignore
  },
  loose_object: (node) => {
    const entries = Object.entries(node.entries!).map(
      ([name, schema]) => [name, accepts(schema), schema.type === 'optional'] as const,
    );
    const names = new Set(Object.keys(node.entries!));
    const isStrict = strictOf(node) !== undefined;
    return (value) =>
      isObject(value) &&
      entries.every(([name, inner, isOptional]) => (name in value ? inner(value[name]) : isOptional)) &&
      (!isStrict ||
        Object.keys(value).every((name) => names.has(name) || name.startsWith('x-') || IGNORED.includes(name)));
  },
  regex: test<RegExp>((value, pattern) => pattern.test(value as string)),
  min_value: test<number>((value, least) => (value as number) >= least),
  gt_value: test<number>((value, low) => (value as number) > low),
  min_length: test<number>((value, least) => (value as readonly unknown[]).length >= least),
  finite: test((value) => Number.isFinite(value)),
  integer: test((value) => Number.isInteger(value)),
};

function test<R>(isGood: (value: unknown, requirement: R) => boolean) {
  return ({ requirement }: Node): Accepts =>
    (value) =>
      isGood(value, requirement as R);
}

/** Names that the schema library passes over: the check for plain data has refused them before. */
const IGNORED = ['__proto__', 'prototype', 'constructor'];
