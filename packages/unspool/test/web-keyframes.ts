import type { ReelDocument } from '../src/index.js';

/** A case of fixtures/keyframes.json: animations of the Web Animations API, and what they came to. */
export interface WebCase {
  readonly id: string;
  readonly props: readonly string[];
  readonly base: Readonly<Record<string, string>>;
  readonly animations: readonly WebAnimation[];
  readonly computedOffsets: readonly (readonly number[])[];
  /** [currentTime, progress (of each animation, if several), value of each property …] */
  readonly samples: readonly (readonly unknown[])[];
  readonly exact?: readonly (readonly unknown[])[];
}
type WebKeyframe = Readonly<Record<string, string | number>>;
interface WebAnimation {
  readonly keyframes: readonly WebKeyframe[] | Readonly<Record<string, readonly (string | number)[] | string>>;
  readonly options: Readonly<Record<string, unknown>>;
}

/** Says why a case cannot be said as a reel. */
export class Unsayable extends Error {}

const CANNOT: readonly [RegExp, string][] = [
  [/per-keyframe composite/, 'a track adds or replaces as a whole, not key by key'],
  [/duplicate/, 'two keys at one time are refused'],
  [/opacity composite add/, 'an offset of opacity multiplies'],
  [
    /transform scale composite (add|accumulate)/,
    'an offset of scale multiplies; CSS accumulates about 1, or multiplies matrices',
  ],
  [/transform list composite add/, 'a product of matrices: a matter of parents, not of a track'],
  [/skew|matri/, 'reels have position, rotation and scale, no matrices'],
  [/implicit keyframe over lower/, 'a key has a value of its own'],
  [/oklch/, 'colors are mixed in srgb, linear or oklab'],
];

/** The clips of a case, lowest first: one each for its animations, a second long. */
export function toReel(one: WebCase): ReelDocument {
  for (const [pattern, reason] of CANNOT) if (pattern.test(one.id)) throw new Unsayable(reason);
  const rest: Record<string, unknown> = {};
  for (const [property, value] of Object.entries(one.base)) {
    for (const [name, numbers] of Object.entries(read(property, value))) rest[name] = numbers;
  }
  const clips = one.animations.map((animation, index) => clipOf(one, animation, index, rest));
  const entries = clips.map((clip, index): [string, unknown] => [`animation${index}`, clip]);
  return { unspool: 1, roles: { a: { rest } }, clips: Object.fromEntries<unknown>(entries) } as unknown as ReelDocument;
}

function clipOf(one: WebCase, { keyframes, options }: WebAnimation, index: number, rest: object): unknown {
  const frames = framesOf(keyframes);
  const offsets = one.computedOffsets[index]!;
  const composites = new Set([options['composite'], ...frames.map((frame) => frame['composite'])].filter(Boolean));
  if (composites.size > 1) throw new Unsayable(CANNOT[0]![1]);
  const added = composites.has('add') || composites.has('accumulate');
  const tracks: Record<string, { space: string; mix?: string; keys: unknown[] }> = {};
  frames.forEach((frame, i) => {
    for (const property of one.props.filter((name) => frame[name] !== undefined)) {
      for (const [name, value] of Object.entries<unknown>(read(property, frame[property]!))) {
        const track = (tracks[`a.${name}`] ??= { space: added ? 'offset' : 'absolute', keys: [] });
        if (name === 'tint' && String(frame[property]).startsWith('color(')) track.mix = 'oklab';
        track.keys.push({ at: offsets[i]!, value, ease: String(frame['easing'] ?? 'linear') });
      }
    }
  });
  for (const [name, { keys, space }] of Object.entries(tracks)) {
    // Where CSS takes the property's own value for the first or last key, a reel says it.
    const own = (rest as Record<string, unknown>)[name.slice(2)] ?? (name === 'a.scale' ? [1, 1] : undefined);
    const neutral = space === 'offset' ? 0 : (own ?? (name === 'a.rotation' ? 0 : undefined));
    const [first, last] = [keys[0] as { at: number }, keys.at(-1) as { at: number }];
    if (neutral === undefined && (first.at > 0 || last.at < 1)) throw new Unsayable('a key has a value of its own');
    if (first.at > 0) keys.unshift({ at: 0, value: neutral });
    if (last.at < 1) keys.push({ at: 1, value: neutral });
  }
  return { duration: 1, tracks };
}

/** The keyframes as a list, whichever of the API's two forms they have. */
function framesOf(keyframes: WebAnimation['keyframes']): readonly WebKeyframe[] {
  if (Array.isArray(keyframes)) return keyframes as readonly WebKeyframe[];
  const { easing, ...properties } = keyframes as Record<string, readonly (string | number)[] | string>;
  delete properties['offset'];
  const count = Math.max(...Object.values(properties).map((list) => list.length));
  return Array.from({ length: count }, (_, i) => ({
    ...Object.fromEntries(Object.entries(properties).map(([name, list]) => [name, list[i]!])),
    ...(typeof easing === 'string' && { easing }),
  }));
}

const DEGREES: Readonly<Record<string, number>> = { deg: 1, turn: 360, grad: 0.9, rad: 180 / Math.PI };

function degrees(text: string): number {
  const [, number, unit] = /^(-?[\d.]+)([a-z]+)$/.exec(text)!;
  return Number(number) * DEGREES[unit!]!;
}

/** A CSS value as values of a role. */
function read(property: string, value: string | number): Record<string, unknown> {
  if (property === '--n') return { n: Number(value) };
  if (property === 'opacity') return { opacity: Number(value) };
  if (property === '--a') return { rotation: degrees(String(value)) };
  if (property === '--c') return { tint: color(String(value)) };
  const values: Record<string, unknown> = {};
  for (const [, name, list] of String(value).matchAll(/(\w+)\(([^)]*)\)/g)) {
    const args = list!.split(',').map((arg) => arg.trim());
    if (name === 'translate') values['position'] = args.map(parseFloat);
    if (name === 'rotate') values['rotation'] = degrees(args[0]!);
    if (name === 'scale') values['scale'] = args.length === 1 ? [+args[0]!, +args[0]!] : args.map(Number);
  }
  return values;
}

/** A color that Chromium prints or is given, as r g b a. */
export function color(text: string): number[] {
  if (text === 'transparent') return [0, 0, 0, 0];
  const numbers = text.match(/-?[\d.]+(e-?\d+)?/g)!.map(Number);
  const alpha = numbers[3] ?? 1;
  if (text.startsWith('rgb')) return [...numbers.slice(0, 3).map((n) => n / 255), alpha];
  if (text.startsWith('color(srgb')) return [...numbers.slice(0, 3), alpha];
  // oklab, by the sample code of CSS Color 4: oklab → LMS → XYZ → linear sRGB → sRGB.
  const [l, a, b] = numbers as [number, number, number];
  const lms = [
    l + 0.3963377773761749 * a + 0.2158037573099136 * b,
    l - 0.1055613458156586 * a - 0.0638541728258133 * b,
    l - 0.0894841775298119 * a - 1.2914855480194092 * b,
  ].map((n) => n ** 3);
  const by = (matrix: number[][], v: number[]) => matrix.map((row) => row.reduce((sum, n, k) => sum + n * v[k]!, 0));
  const xyz = by(
    [
      [1.2268798758459243, -0.5578149944602171, 0.2813910456659647],
      [-0.0405757452148008, 1.112286803280317, -0.0717110580655164],
      [-0.0763729366746601, -0.4214933324022432, 1.5869240198367816],
    ],
    lms,
  );
  const linear = by(
    [
      [12831 / 3959, -329 / 214, -1974 / 3959],
      [-851781 / 878810, 1648619 / 878810, 36519 / 878810],
      [705 / 12673, -2585 / 12673, 705 / 667],
    ],
    xyz,
  );
  return [...linear.map((n) => (n > 0.0031308 ? 1.055 * n ** (1 / 2.4) - 0.055 : 12.92 * n)), alpha];
}
