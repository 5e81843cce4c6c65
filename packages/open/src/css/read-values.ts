import { readColor } from './colors.js';

/** A value of CSS as one of a reel. */
export interface ReadValue {
  /** The property of the role: `position`, `glow`. */
  readonly property: string;
  readonly value: unknown;
  /** `2` and `3` for vectors, so that all keys of a track get the same. */
  readonly width?: 2 | 3;
}

const NUMBER = /^[+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?/i;
const TURNS: Readonly<Record<string, number>> = { deg: 1, grad: 0.9, turn: 360, rad: 180 / Math.PI };

/** A number with one of the units, or `undefined`. */
function measured(text: string, units: Readonly<Record<string, number>>): number | undefined {
  const number = NUMBER.exec(text)?.[0];
  if (number === undefined) return undefined;
  const unit = text.slice(number.length).toLowerCase();
  const n = Number(number);
  if (unit === '' && n === 0) return 0;
  return Object.hasOwn(units, unit) ? Number((n * units[unit]!).toPrecision(14)) : undefined;
}

const LENGTHS: Readonly<Record<string, number>> = {
  px: 1,
  in: 96,
  cm: 96 / 2.54,
  mm: 9.6 / 2.54,
  pt: 96 / 72,
  pc: 16,
  q: 2.4 / 2.54,
};
const length = (text: string) => measured(text, LENGTHS);
const angle = (text: string) => measured(text, TURNS);
const plain = (text: string) => measured(text, { '': 1, '%': 0.01 });

/** Splits a value at spaces that are in no parentheses. */
function words(text: string): string[] {
  return text.trim().match(/(?:[^\s()]+(?:\([^()]*\))?)+/g) ?? [];
}

function all(parts: readonly string[], read: (text: string) => number | undefined): number[] | undefined {
  const numbers = parts.map(read);
  return numbers.every((n) => n !== undefined) ? numbers : undefined;
}

/** Reads a declaration. Several values for a `transform`; none when a reel cannot say it. */
export function readDeclaration(property: string, text: string): readonly ReadValue[] | undefined {
  const parts = words(text);
  const one = (value: ReadValue | undefined) => value && [value];
  switch (property.toLowerCase()) {
    case 'translate': {
      const numbers = text.trim() === 'none' ? [0, 0] : all(parts, length);
      return one(numbers && numbers.length <= 3 ? point('position', numbers, 0) : undefined);
    }
    case 'scale': {
      const numbers = text.trim() === 'none' ? [1, 1] : all(parts, plain);
      const [x = 1, y = x, z] = numbers ?? [];
      return one(numbers && numbers.length <= 3 ? point('scale', z === undefined ? [x, y] : [x, y, z], 1) : undefined);
    }
    case 'rotate':
      return one(readRotation(parts));
    case 'opacity': {
      const n = plain(text.trim());
      return one(n === undefined ? undefined : { property: 'opacity', value: n });
    }
    case 'color': {
      const color = readColor(text.trim());
      return one(color && { property: 'tint', value: color });
    }
    case 'visibility':
      return /^(visible|hidden)$/i.test(text.trim()) ? [{ property: 'visible', value: text.trim().toLowerCase() === 'visible' }] : undefined; // prettier-ignore
    case 'transform-origin':
    case 'transformorigin': {
      const numbers = all(parts.slice(0, 2), length);
      return one(numbers?.length === 2 ? { property: 'pivot', value: numbers } : undefined);
    }
    case 'transform':
      return readTransform(text);
    default:
      return property.startsWith('--') ? one(readOwn(property, text.trim())) : undefined;
  }
}

function point(property: string, numbers: readonly number[], missing: number): ReadValue {
  if (numbers.length === 3) return { property, value: numbers, width: 3 };
  return { property, value: [numbers[0]!, numbers[1] ?? missing], width: 2 };
}

function readRotation(parts: readonly string[]): ReadValue | undefined {
  if (parts.length === 1) {
    const degrees = parts[0] === 'none' ? 0 : angle(parts[0]!);
    return degrees === undefined ? undefined : { property: 'rotation', value: degrees };
  }
  const degrees = angle(parts.at(-1)!) ?? angle(parts[0]!);
  const axes = parts.filter((part) => angle(part) === undefined || /^[+-]?[\d.]+$/.test(part));
  const named = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] }[axes[0]?.toLowerCase() ?? ''];
  const axis = parts.length === 2 ? named : all(parts.slice(0, 3), plain);
  if (degrees === undefined || !axis || (parts.length !== 2 && parts.length !== 4)) return undefined;
  const size = Math.hypot(...axis);
  if (size === 0) return { property: 'rotation', value: [0, 0, 0, 1] };
  const half = (degrees * Math.PI) / 360;
  return { property: 'rotation', value: [...axis.map((n) => (Math.sin(half) * n) / size), Math.cos(half)] };
}

/** `translate() rotate() scale()` in this order, each at most once: then the list is the same as the three properties. */
function readTransform(text: string): readonly ReadValue[] | undefined {
  if (text.trim() === 'none') return [point('position', [0, 0], 0), { property: 'rotation', value: 0 }, point('scale', [1, 1], 1)]; // prettier-ignore
  const found: ReadValue[] = [];
  let before = -1;
  for (const [, name = '', list = ''] of text.matchAll(/([a-z0-9]+)\(([^()]*)\)/gi)) {
    const parts = list.split(',').map((part) => part.trim());
    const lower = name.toLowerCase();
    const order = ['translate', 'rotate', 'scale'].findIndex((start) => lower.startsWith(start));
    if (order <= before) return undefined;
    before = order;
    const value = transformPart(lower, parts);
    if (!value) return undefined;
    found.push(value);
  }
  return found.length > 0 ? found : undefined;
}

function transformPart(name: string, parts: readonly string[]): ReadValue | undefined {
  const lengths = all(parts, length);
  const numbers = all(parts, plain);
  const [n = 0] = lengths ?? [];
  const [s = 1, t = s] = numbers ?? [];
  const turn = parts.length === 1 ? angle(parts[0]!) : undefined;
  if (name === 'translate' && lengths) return point('position', lengths.slice(0, 2), 0);
  if (name === 'translatex' && lengths) return point('position', [n, 0], 0);
  if (name === 'translatey' && lengths) return point('position', [0, n], 0);
  if (name === 'translate3d' && lengths?.length === 3) return point('position', lengths, 0);
  if ((name === 'rotate' || name === 'rotatez') && turn !== undefined) return { property: 'rotation', value: turn };
  if (name === 'scale' && numbers) return point('scale', [s, t], 1);
  if (name === 'scalex' && numbers) return point('scale', [s, 1], 1);
  if (name === 'scaley' && numbers) return point('scale', [1, s], 1);
  return undefined;
}

function readOwn(property: string, text: string): ReadValue | undefined {
  const name = property.slice(2);
  const n = plain(text) ?? length(text) ?? angle(text);
  if (n !== undefined) return { property: name, value: n };
  const color = readColor(text);
  return color && { property: name, value: color };
}
