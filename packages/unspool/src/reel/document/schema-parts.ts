import * as v from 'valibot';

/** A JSON Schema fragment, as far as this project writes any. */
export type JsonSchema = Record<string, unknown>;

/** The message of an issue about a list in place of an object. */
export const NO_OBJECT = 'reel/object';

/** A schema of objects that takes no list: to the schema library, lists are objects too. */
function noList<S extends v.GenericSchema>(schema: S): S {
  const refuse = v.custom<never>(() => false, NO_OBJECT);
  const guarded = v.lazy((input) => (Array.isArray(input) ? refuse : schema)) as unknown as S;
  choices.set(guarded, [schema]);
  return guarded;
}

/** A map from names to values. */
export function mapOf<const K extends v.GenericSchema<string, string>, const V extends v.GenericSchema>(
  key: K,
  value: V,
) {
  return noList(v.record(key, value));
}

const fragments = new WeakMap<object, JsonSchema>();
const choices = new WeakMap<object, readonly v.GenericSchema[]>();

/** Gives a custom schema its form in JSON Schema. */
export function jsonAs<S extends v.GenericSchema>(schema: S, fragment: JsonSchema): S {
  fragments.set(schema, fragment);
  return schema;
}

/**
 * One of several schemas, selected by looking at the input, so that a problem inside is reported at its place, and not
 * as "none of these fits".
 */
export function either<const O extends readonly [v.GenericSchema, ...v.GenericSchema[]]>(
  options: O,
  pick: (input: unknown) => number,
): v.GenericSchema<v.InferInput<O[number]>> {
  const schema = v.lazy((input) => options[pick(input)]!) as unknown as v.GenericSchema<v.InferInput<O[number]>>;
  choices.set(schema, options);
  return schema;
}

const strict = new WeakMap<object, v.GenericSchema>();

/**
 * An object with these members and no others, but for those that begin with `x-`. Reports every unknown member (a
 * plain strict object stops at the first), with `expected` naming the known ones.
 */
export function members<const E extends v.ObjectEntries>(
  entries: E,
): v.GenericSchema<v.InferInput<v.StrictObjectSchema<E, undefined>>> {
  const names = Object.keys(entries);
  const loose = v.looseObject(entries);
  const schema = v.pipe(
    loose,
    v.rawCheck(({ dataset, addIssue }) => {
      const input: unknown = dataset.value;
      if (typeof input !== 'object' || input === null) return;
      for (const [key, value] of Object.entries<unknown>(input as Record<string, unknown>)) {
        if (Object.hasOwn(entries, key) || key.startsWith('x-')) continue;
        const item = { type: 'object', origin: 'key', input: input as Record<string, unknown>, key, value } as const;
        addIssue({ message: 'reel/unknown-member', input: key, expected: names.join(' '), path: [item] });
      }
    }),
  ) as unknown as v.GenericSchema<v.InferInput<v.StrictObjectSchema<E, undefined>>>;
  strict.set(loose, v.strictObject(entries));
  return noList(schema);
}

export const strictOf = (schema: object): v.GenericSchema | undefined => strict.get(schema);
export const fragmentOf = (schema: object): JsonSchema | undefined => fragments.get(schema);
export const choicesOf = (schema: object): readonly v.GenericSchema[] | undefined => choices.get(schema);
