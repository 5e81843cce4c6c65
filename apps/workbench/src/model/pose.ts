import { isShape, Pose, type Clip, type Reel, type Value } from 'unspool';
import { FIRST_SHAPES } from './first-shapes.js';

/** Values by `role.property`. */
export type Values = Readonly<Record<string, Value>>;

const USUAL: Readonly<Record<string, Value>> = {
  position: [0, 0],
  rotation: 0,
  scale: [1, 1],
  opacity: 1,
  tint: [1, 1, 1, 1],
  visible: true,
  pivot: [0, 0],
};

/**
 * The pose that is shown at a time: that of the clip, and the rest values of everything else. Shapes only while they
 * are active.
 */
export function valuesAt(reel: Reel, clip: Clip | undefined, time: number): Record<string, Value> {
  const values: Record<string, Value> = { ...restOf(reel) };
  if (!clip) return values;
  // Keys may be set after the end, where its last pose stays.
  const pose = clip.sample(Math.min(time, clip.duration));
  for (const { name } of clip.layout.slots) values[name] = pose.get(name);
  return values;
}

/**
 * Values with those that a running game shows in their places. What it says of properties that the reel does not have,
 * or of another kind, is left out.
 *
 * @param mine a clip whose properties stay as they are
 */
export function valuesWith(reel: Reel, values: Values, shown: Values, mine: Clip | undefined): Values {
  const out = { ...values };
  const kept = new Set(mine?.layout.slots.map(({ name }) => name));
  for (const [name, value] of Object.entries(shown)) {
    if (kept.has(name) || !Object.hasOwn(values, name)) continue;
    const kind = reel.layout.find(name)?.kind;
    // A shape may be there or not.
    const isShown = kind && isShape(kind) ? value === null || isAlike(FIRST_SHAPES[kind], value) : isAlike(values[name]!, value); // prettier-ignore
    if (isShown) out[name] = value;
  }
  return out;
}

/** Whether two values are of one kind: as long, or with the same members. */
export function isAlike(one: unknown, other: unknown): boolean {
  if (typeof one !== 'object' || one === null || typeof other !== 'object' || other === null)
    return one !== null && other !== null && typeof one === typeof other;
  const names = Object.keys(one);
  return (
    Array.isArray(one) === Array.isArray(other) &&
    names.length === Object.keys(other).length &&
    names.every((name) => isAlike(one[name as keyof typeof one], other[name as keyof typeof other]))
  );
}

const rests = new WeakMap<Reel, Values>();

function restOf(reel: Reel): Values {
  let values = rests.get(reel);
  if (!values) {
    const made: Record<string, Value> = {};
    const roles = new Set([...reel.roles, ...Object.keys(reel.document.roles ?? {})]);
    for (const role of roles) for (const name in USUAL) made[`${role}.${name}`] = USUAL[name]!;
    const pose = new Pose(reel.layout);
    for (const { name, kind } of reel.layout.slots) if (!isShape(kind)) made[name] = pose.get(name);
    values = made;
    rests.set(reel, values);
  }
  return values;
}
