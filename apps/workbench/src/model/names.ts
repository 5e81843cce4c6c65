/** A name that is free: the base itself, or with a number from 2 on behind it. */
export function freeName(base: string, taken: object): string {
  let name = base;
  for (let i = 2; Object.hasOwn(taken, name); i++) name = `${base}-${i}`;
  return name;
}

/** The role and the property that a name speaks of: `claw` and `rotation` of `claw.rotation`. */
export function partsOf(name: string): readonly [role: string, property: string] {
  const dot = name.indexOf('.');
  return [name.slice(0, dot), name.slice(dot + 1)];
}

/** Whether an offset of a property multiplies it, as that of a scale does, and is not added to it. */
export const isMultiplied = (name: string) => /\.(scale|opacity)$/.test(name);
