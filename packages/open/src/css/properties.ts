import type { Kind, Slot } from 'unspool';
import { toMixed, type MixedColor } from './colors.js';

/** A property of a role as CSS has it. */
export interface CssProperty {
  /** `translate`, `--glow`. */
  readonly name: string;
  /** The text of a value. */
  readonly text: (numbers: readonly number[]) => string;
  /** For a number of the reel's own: what `@property` says of it. */
  readonly own?: { readonly syntax: string; readonly initial: string };
}

const number = (n: number) => String(Number(n.toPrecision(12)) + 0);
const px = (n: number) => `${number(n)}px`;
const list = (numbers: readonly number[], unit: (n: number) => string) => numbers.map(unit).join(' ');

/** A quaternion as axis and angle, 0 to 180 degrees. */
export function axisAngle([x = 0, y = 0, z = 0, w = 1]: readonly number[]): readonly [number, number, number, number] {
  const sign = w < 0 ? -1 : 1;
  const size = Math.hypot(x, y, z);
  const degrees = (Math.atan2(size, w * sign) * 360) / Math.PI;
  return size < 1e-12 ? [0, 0, 1, 0] : [(sign * x) / size, (sign * y) / size, (sign * z) / size, degrees];
}

/** What CSS has for the properties that reels know. `undefined`: it has nothing. */
export function cssProperty(
  { property, kind }: Pick<Slot, 'property' | 'kind'>,
  color?: MixedColor,
): CssProperty | undefined {
  switch (property) {
    case 'position':
      return { name: 'translate', text: (numbers) => list(numbers, px) };
    case 'rotation':
      if (kind === 'angle') return { name: 'rotate', text: ([n]) => `${number(n!)}deg` };
      return { name: 'rotate', text: (turn) => `${list(axisAngle(turn).slice(0, 3), number)} ${number(axisAngle(turn)[3])}deg` }; // prettier-ignore
    case 'scale':
      return { name: 'scale', text: (numbers) => list(numbers, number) };
    case 'opacity':
      return { name: 'opacity', text: ([n]) => number(n!) };
    case 'tint':
      return { name: 'color', text: (mixed) => toMixed(color ?? 'srgb', mixed) };
    case 'visible':
      return { name: 'visibility', text: ([n]) => (n === 0 ? 'hidden' : 'visible') };
    case 'pivot':
      return { name: 'transform-origin', text: (numbers) => list(numbers, px) };
    default:
      return ownProperty(property, kind, color);
  }
}

/** `weights.bulge` as `--weights-bulge`. */
export const ownName = (property: string) => `--${property.replaceAll('.', '-')}`;

function ownProperty(property: string, kind: Kind, color?: MixedColor): CssProperty | undefined {
  const name = ownName(property);
  if (kind === 'number' || kind === 'integer' || kind === 'flag')
    return { name, text: ([n]) => number(n!), own: { syntax: '<number>', initial: '0' } };
  if (kind === 'angle') return { name, text: ([n]) => `${number(n!)}deg`, own: { syntax: '<angle>', initial: '0deg' } };
  if (kind === 'color')
    return {
      name,
      text: (mixed) => toMixed(color ?? 'srgb', mixed),
      own: { syntax: '<color>', initial: 'transparent' },
    };
  return undefined;
}
