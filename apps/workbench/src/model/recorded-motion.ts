import type { Value } from 'unspool';
import { capture, type Captured } from 'unspool/edit';
import type { LiveSample } from 'unspool/live';
import { isMultiplied } from './names.js';
import { isAlike } from './pose.js';
import { apply } from './session.js';
import { get, set, showClip } from './store.js';

/** How much finer a scale or an opacity is kept than a place in pixels. */
const FINE = 0.02;

/**
 * A clip of a recorded motion with few keys, from its first sample on. What did not move is left out, unless nothing
 * did.
 *
 * @param tolerance in pixels and degrees; a fiftieth of it for scales and opacities
 */
export function clipOf(samples: readonly LiveSample[], tolerance: number, fps: number): Captured | undefined {
  const [first] = samples;
  if (!first) return undefined;
  const all = Object.keys(first.values).filter((name) =>
    samples.every(({ values }) => values[name] !== undefined && isAlike(values[name], first.values[name]!)),
  );
  const moving = all.filter((name) => samples.some(({ values }) => differ(values[name]!, first.values[name]!)));
  const names = moving.length > 0 ? moving : all;
  if (names.length === 0) return undefined;
  return capture(
    samples.map(({ time, values }) => {
      return { time: time - first.time, values: Object.fromEntries(names.map((name) => [name, values[name]!])) };
    }),
    {
      tolerance: Object.fromEntries(names.map((name) => [name, isMultiplied(name) ? tolerance * FINE : tolerance])),
      fps,
    },
  );
}

const differ = (a: Value, b: Value) => JSON.stringify(a) !== JSON.stringify(b);

/** Adds the clip of a recorded motion, and opens it. Returns whether it was not refused. */
export function addRecorded(name: string, { clip }: Captured): boolean {
  if (!apply({ do: 'add', what: 'clip', name, value: clip })) return false;
  set({ live: { ...get().live, recorded: undefined } });
  showClip(name);
  return true;
}
