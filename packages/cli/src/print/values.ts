import type { Value } from 'unspool';

/** A number for people: four decimals, no trailing noise. What programs read has all of them. */
export function round(value: number): string {
  return String(Number(value.toFixed(4)) + 0);
}

/** Frames and seconds of a time: `9f  0.15 s`. Parts of a frame have at most two digits. */
export function frames(seconds: number, fps: number): string {
  return `${Number((seconds * fps).toFixed(2)) + 0}f`;
}

/** A value for people. Colours as #rrggbb, or #rrggbbaa where they are not opaque. */
export function formatValue(kind: string, value: Value): string {
  if (kind === 'color' && Array.isArray(value)) return hex(value);
  if (Array.isArray(value)) return value.map(round).join(', ');
  return typeof value === 'number' ? round(value) : String(value);
}

export function hex(color: readonly number[]): string {
  const pairs = color.map((channel) =>
    Math.round(channel * 255)
      .toString(16)
      .padStart(2, '0'),
  );
  return `#${pairs.slice(0, pairs[3] === 'ff' ? 3 : 4).join('')}`;
}
