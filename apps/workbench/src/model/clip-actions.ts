import type { Operation } from 'unspool/edit';
import { shown } from './actions.js';
import { freeName } from './names.js';
import { apply } from './session.js';
import { showClip } from './store.js';

/** New clips: empty, or copies of others. */

/** Adds a clip: empty, or a copy of another, which keeps its length, with a loop mode. */
export function addClip(name: string, duration: string, loop = 'once', source?: string): boolean {
  const to = { loop: loop === 'once' ? null : loop };
  const copy: Operation = {
    do: 'group',
    said: `copied ${source} to ${name}`,
    operations: [
      { do: 'copy-clip', clip: source ?? '', to: name },
      { do: 'change', what: 'clip', name, to },
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
