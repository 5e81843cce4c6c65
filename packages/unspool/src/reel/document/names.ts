import { parseTime, type Time } from '../../time/units.js';

/** Names of roles, sheets, clips, cues, spans, chains, facings and shapes. */
export const NAME = /^(?!__proto__$)[A-Za-z0-9_-]{1,64}$/;

/** Names that JavaScript objects have of their own. A track may not use them, so that nothing writes to a prototype. */
export const FORBIDDEN = ['__proto__', 'constructor', 'prototype'] as const;

export function isTime(value: unknown): value is Time {
  return parseTime(value, 1) !== undefined;
}

/** A track's name, in its dotted segments; the role is the first. `undefined` when it has fewer than two, or odd ones. */
export function splitTrackName(name: string): readonly [role: string, property: string] | undefined {
  const dot = name.indexOf('.');
  const segments = name.split('.');
  if (dot < 0 || !segments.every((segment) => NAME.test(segment))) return undefined;
  return [name.slice(0, dot), name.slice(dot + 1)];
}
