import type { Operation, Selection } from 'unspool/edit';
import { apply, firstShape, mapSelection, selectedRange, selection, shown, switchShape } from '../model/actions.js';
import { writeAt } from '../model/keys.js';
import { rangeOrSelection } from '../model/range.js';
import { freeName, partsOf } from '../model/names.js';
import { placeOf, rolesOf } from '../model/rows.js';
import { get, showClip, setStatus, set } from '../model/store.js';
import { moved, wholeOf, zoomed } from '../model/axis.js';

/** What commands do that nothing else does. */

export const zoomTime = (factor: number) => {
  const now = shown();
  const { view, time } = get();
  if (now) set({ view: zoomed(view, factor, time, now.duration, now.fps) });
};

export const panTime = (share: number) => {
  const now = shown();
  const { view } = get();
  if (now) set({ view: moved(view, (view.until - view.from) * share, now.duration) });
};

export function nextClip(by: 1 | -1): void {
  const { doc, clip } = get();
  const names = Object.keys(doc?.clips ?? {});
  const next = names[(names.indexOf(clip ?? '') + by + names.length) % names.length];
  if (next !== undefined) showClip(next);
}

export function clipOperation(make: (name: string) => Operation): void {
  const now = shown();
  if (now) apply(make(now.name));
}

export function switchRow(on: boolean): void {
  const { row, doc } = get();
  if (row !== undefined && doc && firstShape(doc, row) !== undefined) switchShape(row, on);
  else setStatus('Select the track of a shape first.', true);
}

export function loopAs(loop: string | null): void {
  clipOperation((name) => ({ do: 'change', what: 'clip', name, to: { loop } }));
}

export function nextRole(by: 1 | -1): void {
  const { doc, reel, role } = get();
  if (!doc || !reel) return;
  const names = rolesOf(doc, reel);
  const index = role === undefined ? -1 : names.indexOf(role);
  const next = index < 0 && by < 0 ? names.at(-1) : names[(index + by + names.length) % names.length];
  if (next !== undefined) set({ role: next, openRoles: new Set([...get().openRoles, next]) });
}

export function withSelection(make: (keys: Selection) => Operation): boolean {
  const keys = selection();
  return keys !== undefined && apply(make(keys));
}

export function scaleSelection(factor: number): void {
  const range = selectedRange();
  if (!range) return;
  const [about] = range;
  if (withSelection((keys) => ({ do: 'scale-times', ...keys, factor, about })))
    mapSelection((at) => about + (at - about) * factor);
}

export function addSpan(): void {
  const now = shown();
  if (!now) return;
  const [from, until] = selectedRange() ?? [get().time, now.duration];
  const name = freeName('part', now.clip.spans ?? {});
  const write = (seconds: number) => writeAt(seconds, now.fps, now.clip);
  if (apply({ do: 'add', what: 'span', clip: now.name, name, value: [write(from), write(until)] }))
    set({ selectedMark: { what: 'span', name }, selectedKeys: {} });
}

export function restTrial(): void {
  const { trial, doc } = get();
  const byRole = new Map<string, Record<string, unknown>>();
  for (const [name, value] of Object.entries(trial)) {
    const [role, property] = partsOf(name);
    byRole.set(role, { ...(byRole.get(role) ?? doc?.roles?.[role]?.rest), [property]: value });
  }
  const operations = [...byRole].map(([name, rest]) => ({ do: 'change', what: 'role', name, to: { rest } }) as const);
  if (
    operations.length > 0 &&
    apply({ do: 'group', said: `made the rest pose of ${[...byRole.keys()].join(', ')}`, operations })
  )
    set({ trial: {} });
}

/** Loops what is played, or the range of the selected keys. */
export function trimToRange(): void {
  const now = shown();
  const stretch = rangeOrSelection();
  if (!now) return;
  if (!stretch) return setStatus('Select at least two keys, or loop a range, first. The clip keeps that range.', true);
  const [from, until] = stretch.map((seconds) => writeAt(seconds, now.fps, now.clip));
  if (!apply({ do: 'trim', clip: now.name, from: from!, until: until! })) return;
  set({ view: wholeOf(stretch[1] - stretch[0], now.fps), time: 0, range: undefined, selectedKeys: {} });
}

/** A vector's row as one for each of its channels, or those as one again. */
export function rowChannels(how: 'split' | 'join'): void {
  const { row } = get();
  const now = shown();
  if (!now || row === undefined) return setStatus('Select the track of a vector first.', true);
  const track = how === 'join' ? (placeOf(now.reel, ...partsOf(row))?.property ?? row) : row;
  const operation = { do: `${how}-channels`, clip: now.name, track } as const;
  if (!apply(operation)) return;
  const tracks = Object.keys(shown()!.clip.tracks ?? {}).filter(
    (name) => name === track || name.startsWith(`${track}.`),
  );
  set({ row: tracks[0], curves: tracks, selectedKeys: {} });
}
