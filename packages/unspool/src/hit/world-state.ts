import { UnspoolError } from '../errors/error.js';
import { show } from '../errors/show.js';

/** The saved state of a world, plain JSON. See `world.save`. */
export interface HitWorldState {
  readonly time: number;
  /** Where its bodies were at the end of the frame. */
  readonly places: readonly (readonly [body: string, x: number, y: number])[];
  /** With the activation of the body, where it has one. */
  readonly bodies: readonly (readonly [
    body: string,
    shape: string,
    targets: readonly string[],
    activation?: string | number | null,
  ])[];
}

/** Throws for anything but what `world.save` returned. */
export function checkWorldState(state: HitWorldState): void {
  const message = state as unknown as Readonly<Partial<Record<keyof HitWorldState, unknown>>> | null;
  const isText = (value: unknown): value is string => typeof value === 'string';
  const isHit = (value: unknown) => {
    const [owner, shape, targets, which] = (Array.isArray(value) ? value : []) as readonly unknown[];
    const isActivation = which === undefined || which === null || isText(which) || Number.isFinite(which);
    return isText(owner) && isText(shape) && Array.isArray(targets) && targets.every(isText) && isActivation;
  };
  const isPlace = (value: unknown) => {
    const [owner, x, y] = (Array.isArray(value) ? value : []) as readonly unknown[];
    return isText(owner) && Number.isFinite(x) && Number.isFinite(y);
  };
  const { time, bodies, places } = message ?? {};
  const isTime = typeof time === 'number' && time >= 0 && time < Infinity;
  const areLists = Array.isArray(bodies) && bodies.every(isHit) && Array.isArray(places) && places.every(isPlace);
  if (!isTime || !areLists)
    throw new UnspoolError('hit/state', `${show(state)} is not a saved state`, 'pass what save() returned');
}
