/** What units a number may have, and by how much they are multiplied. */
export type Units = Readonly<Record<string, number>>;

/** Degrees and pixels are what values are written in; a percentage is of 1. */
export const VALUE_UNITS: Units = { '': 1, '°': 1, deg: 1, px: 1, '%': 0.01, turn: 360 };

/** Times as frames of a clip. */
export const timeUnits = (fps: number): Units => ({ '': 1, f: 1, s: fps, ms: fps / 1000 });

/** A number of frames as it is shown. */
export const formatFrames = (frames: number) => `${Number(frames.toFixed(3))}f`;

/** How the times of a clip, which are counted in frames, are typed and shown: as frames or as seconds. */
export function timesIn(inSeconds: boolean, fps: number) {
  return inSeconds
    ? { units: { ...timeUnits(fps), '': fps }, show: (frames: number) => `${Number((frames / fps).toFixed(4))} s` }
    : { units: timeUnits(fps), show: formatFrames };
}

/**
 * What can be typed for a number: arithmetic with + − * / and parentheses, numbers with units. A text that starts with
 * `+`, `*` or `/` changes the current number; `-40` is a number of its own, and `+-40` subtracts 40.
 *
 * @returns `undefined` for an invalid text
 */
export function evaluate(text: string, now: number, units: Units = VALUE_UNITS): number | undefined {
  const tokens = text.replaceAll('−', '-').replaceAll(',', '.').match(TOKEN) ?? [];
  if (tokens.join('') !== text.replaceAll('−', '-').replaceAll(',', '.').replace(/\s+/g, '')) return undefined;
  const isChange = '+*/'.includes(tokens[0] ?? ' ');
  let at = 0;

  const sum = (start?: number): number => {
    let left = start ?? product();
    while (tokens[at] === '+' || tokens[at] === '-') left += tokens[at++] === '+' ? product() : -product();
    return left;
  };
  const product = (start?: number): number => {
    let left = start ?? factor();
    while (tokens[at] === '*' || tokens[at] === '/') left = tokens[at++] === '*' ? left * factor() : left / factor();
    return left;
  };
  const factor = (): number => {
    const token = tokens[at++];
    if (token === '-') return -factor();
    if (token === '+') return factor();
    if (token === '(') {
      const inner = sum();
      return tokens[at++] === ')' ? inner : NaN;
    }
    const [, number, unit] = NUMBER.exec(token ?? '') ?? [];
    return number === undefined || !Object.hasOwn(units, unit!) ? NaN : Number(number) * units[unit!]!;
  };

  const value = isChange ? sum(product(now)) : sum();
  return at === tokens.length && Number.isFinite(value) ? value : undefined;
}

/**
 * What is done to many numbers at once: `+8` and `-8` are added, by `*1.5` and `/2` they are multiplied.
 *
 * @returns nothing for a text that is none of these
 */
export function changeOf(text: string): { readonly add: number } | { readonly times: number } | undefined {
  const [, sign, rest] = /^([-+*/])(.+)$/.exec(text.trim().replaceAll('−', '-')) ?? [];
  const amount = rest === undefined ? undefined : evaluate(rest, 0);
  if (amount === undefined || (sign === '/' && amount === 0)) return undefined;
  if (sign === '+' || sign === '-') return { add: sign === '+' ? amount : -amount };
  return { times: sign === '*' ? amount : 1 / amount };
}

const NUMBER = /^(\d+\.?\d*|\.\d+)([a-z°%]*)$/i;
const TOKEN = /(?:\d+\.?\d*|\.\d+)[a-z°%]*|[-+*/()]/gi;

/** A number as it is shown: at most three decimals, and four digits in all where there are decimals. */
export function shortNumber(value: number): string {
  const digits = Math.max(0, Math.min(3, 3 - Math.floor(Math.log10(Math.max(1, Math.abs(value))))));
  return String(Number(value.toFixed(digits))).replace('-', '−');
}
