/** Plain objects and lists as an editor changes them: always a new one, in the author's order. */

type Members<T> = Readonly<Record<string, T>>;

/** With a member put in before another one, or at the end. */
export function insertMember<T>(object: Members<T> | undefined, name: string, value: T, before?: string): Members<T> {
  const entries = Object.entries(object ?? {});
  const place = before === undefined ? -1 : entries.findIndex(([other]) => other === before);
  entries.splice(place < 0 ? entries.length : place, 0, [name, value]);
  return fromEntries(entries);
}

export function withoutMember<T>(object: Members<T>, name: string): Members<T> {
  return fromEntries(Object.entries(object).filter(([other]) => other !== name));
}

/** With other names for some members, each in its place. */
export function renameMembers<T>(object: Members<T>, to: (name: string) => string): Members<T> {
  const entries = Object.entries(object);
  return entries.every(([name]) => to(name) === name)
    ? object
    : fromEntries(entries.map(([name, value]) => [to(name), value]));
}

/** With other values for some members; the same object where none is another. */
export function mapMembers<O extends Members<unknown> | undefined>(
  object: O,
  to: (value: NonNullable<O>[string], name: string) => NonNullable<O>[string],
): O {
  if (object === undefined) return object;
  let changed = false;
  const entries = Object.entries(object).map(([name, value]): [string, unknown] => {
    const next = to(value as NonNullable<O>[string], name);
    changed ||= next !== value;
    return [name, next];
  });
  return changed ? (fromEntries(entries) as O) : object;
}

/** With members set; `undefined` takes one out. */
export function setMembers<O extends object>(object: O, members: { readonly [K in keyof O]?: O[K] | undefined }): O {
  const next = { ...object } as Record<string, unknown>;
  for (const [name, value] of Object.entries(members)) {
    if (value === undefined) delete next[name];
    else next[name] = value;
  }
  return next as O;
}

/** As a list's `map`; the same list where nothing is another. */
export function mapList<T>(list: readonly T[], to: (item: T, index: number) => T): readonly T[] {
  let changed = false;
  const next = list.map((item, index) => {
    const one = to(item, index);
    changed ||= one !== item;
    return one;
  });
  return changed ? next : list;
}

/** Own members even for names such as `__proto__`, which the check refuses, but which must not reach a prototype. */
function fromEntries<T>(entries: readonly (readonly [string, T])[]): Members<T> {
  return Object.fromEntries(entries);
}
