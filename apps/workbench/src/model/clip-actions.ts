import type { Operation } from 'unspool/edit';
import { shown } from './actions.js';
import { freeName } from './names.js';
import { apply } from './session.js';
import { get, setStatus, showClip } from './store.js';

/** New clips: empty, or copies of others. */

/** What a new clip has unless something else is asked for. A copy keeps what its source has then. */
export const NEW_CLIP = { duration: '30f', loop: 'once' };

/** Adds a clip: empty, or a copy of another with what differs from `NEW_CLIP`. */
export function addClip(name: string, duration: string, loop = NEW_CLIP.loop, source?: string): boolean {
  const to = { ...(duration !== NEW_CLIP.duration && { duration }), ...(loop !== NEW_CLIP.loop && { loop }) };
  const copy: Operation = {
    do: 'group',
    said: `copied ${source} to ${name}`,
    operations: [
      { do: 'copy-clip', clip: source ?? '', to: name },
      ...(Object.keys(to).length > 0 ? [{ do: 'change', what: 'clip', name, to } as const] : []),
    ],
  };
  const value = { duration, ...(loop !== 'once' && { loop }) };
  if (!apply(source === undefined ? { do: 'add', what: 'clip', name, value } : copy)) return false;
  showClip(name);
  return true;
}

/** Duplicates a clip under a free name; mirrored on request. */
export function copyClip(mirrored: boolean): void {
  const now = shown();
  if (!now) return;
  const to = freeName(`${now.name}-${mirrored ? 'mirrored' : 'variant'}`, now.doc.clips);
  const copy: Operation = { do: 'copy-clip', clip: now.name, to };
  const both: Operation = {
    do: 'group',
    said: `copied ${now.name}, mirrored, to ${to}`,
    operations: [copy, { do: 'mirror', clip: to }],
  };
  if (apply(mirrored ? both : copy)) showClip(to);
}

/** Whether each iteration of the selected track builds on where the last one ended: turns that on or off. */
export function toggleAccumulate(): void {
  const now = shown();
  const { row } = get();
  const track = row === undefined ? undefined : now?.clip.tracks?.[row];
  if (!now || row === undefined || !track) return setStatus('Select a track first.', true);
  const is = !Array.isArray(track) && 'accumulate' in track && track.accumulate === true;
  apply({ do: 'change', what: 'track', clip: now.name, name: row, to: { accumulate: is ? null : true } });
}
