import { shown } from '../model/actions.js';
import { keysOf } from '../model/keys.js';
import type { State } from '../model/store.js';

/** Whether a role is not shown on this page. */
export function isHidden({ hidden, solo }: State['display'], role: string): boolean {
  return solo === undefined ? hidden.includes(role) : solo !== role;
}

/** The times of ghost poses before and after the playhead, the nearest first. */
export function ghostTimes(state: State, count: number): readonly [readonly number[], readonly number[]] {
  const now = shown(state)!;
  const { time, display } = state;
  if (display.ghostStep > 0) {
    const steps = Array.from({ length: count }, (_, i) => ((i + 1) * display.ghostStep) / now.fps);
    return [steps.map((by) => time - by), steps.map((by) => time + by)];
  }
  const tracks = Object.values(now.clip.tracks ?? {});
  const all = [...new Set(tracks.flatMap((track) => keysOf(track, now.fps).map(({ at }) => at)))].sort((a, b) => a - b);
  const before = all.filter((at) => at < time - 1e-6).reverse();
  return [before.slice(0, count), all.filter((at) => at > time + 1e-6).slice(0, count)];
}
