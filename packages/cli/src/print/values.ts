import type { ShapeKind, Value } from 'unspool';

/** A number for people: four decimals, no trailing noise. What programs read has all of them. */
export function round(value: number): string {
  return String(Number(value.toFixed(4)) + 0);
}

/** Frames and seconds of a time: `9f  0.15 s`. Parts of a frame have at most two digits. */
export function frames(seconds: number, fps: number): string {
  return `${Number((seconds * fps).toFixed(2)) + 0}f`;
}

/** A value for people. Colors as #rrggbb, or #rrggbbaa where they are not opaque. */
export function formatValue(kind: string, value: Value): string {
  if (kind === 'color' && Array.isArray(value)) return hex(value);
  if (Array.isArray(value)) return value.map(round).join(', ');
  if (value === null) return '–';
  if (typeof value === 'object')
    return shapeText(kind as ShapeKind, Object.values(value as Record<string, number>).flat());
  return typeof value === 'number' ? round(value) : String(value);
}

/** A shape in a few signs: `(10, 0) 22 × 8 at -40°`, `(3, 4) r 5`, `(0, 0)–(10, 0) r 2`. */
export function shapeText(kind: ShapeKind, numbers: readonly number[]): string {
  return SHAPE_TEXTS[kind](numbers.map(round));
}

const cornersText = (numbers: readonly string[]) =>
  numbers.flatMap((x, i) => (i % 2 === 0 ? [`(${x}, ${numbers[i + 1]})`] : [])).join(' ');

const SHAPE_TEXTS: { readonly [K in ShapeKind]: (numbers: readonly string[]) => string } = {
  box: ([x, y, width, height, angle]) => `(${x}, ${y}) ${width} × ${height}${angle === '0' ? '' : ` at ${angle}°`}`,
  circle: ([x, y, radius]) => `(${x}, ${y}) r ${radius}`,
  capsule: ([x0, y0, x1, y1, radius]) => `(${x0}, ${y0})–(${x1}, ${y1}) r ${radius}`,
  sector: ([x, y, radius, from, to]) => `(${x}, ${y}) r ${radius} from ${from}° to ${to}°`,
  polygon3: cornersText,
  polygon4: cornersText,
  polygon5: cornersText,
  polygon6: cornersText,
  polygon7: cornersText,
  polygon8: cornersText,
};

export function hex(color: readonly number[]): string {
  const pairs = color.map((channel) =>
    Math.round(channel * 255)
      .toString(16)
      .padStart(2, '0'),
  );
  return `#${pairs.slice(0, pairs[3] === 'ff' ? 3 : 4).join('')}`;
}
