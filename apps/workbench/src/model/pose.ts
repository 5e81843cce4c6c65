import { isShape, Pose, type Clip, type Reel, type Value } from 'unspool';

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
