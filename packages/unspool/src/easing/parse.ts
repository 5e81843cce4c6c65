import { UnspoolError } from '../errors/error.js';
import { suggest } from '../errors/nearest.js';
import { show } from '../errors/show.js';
import { remember } from './known.js';
import { compileEasing } from './compile.js';
import { BEZIER_KEYWORDS, EASING_NAMES, type BezierKeyword, type Easing } from './easing.js';
import { ease } from './evaluate.js';
import { FAMILY_EASINGS, type FamilyEasing } from './families.js';
import { MAX_OVERSHOOT } from './spring.js';
import { JUMP_TERMS, type JumpTerm } from './steps.js';

/** Why a text is not an easing, and what to do. */
export interface EasingProblem {
  readonly message: string;
  readonly hint: string;
}
/** The result of `parseEasing`: an easing, or what is wrong with the text. */
export type EasingReading = { readonly easing: Easing } | { readonly problem: EasingProblem };

/** Numbers beyond this are refused: no curve needs them, and they would drown every other digit. */
const MAX_NUMBER = 1e9;
const FUNCTIONS = ['cubic-bezier', 'steps', 'linear', 'spring'] as const;
const NUMBER = /^[+-]?(?:\d*\.)?\d+(?:e[+-]?\d+)?$/i;
const WHOLE = /^[+-]?\d+$/;
const SPACES = ' \t\n\r\f';
const SPACE = /[ \t\n\r\f]+/;

/** Carries the problem out of the readers below; never leaves this file. */
class Refusal {
  constructor(readonly problem: EasingProblem) {}
}

function refuse(message: string, hint: string): never {
  // eslint-disable-next-line @typescript-eslint/only-throw-error -- caught in parseEasing; no stack is wanted
  throw new Refusal({ message, hint });
}

/**
 * Parses an easing: the CSS easing functions and keywords in any case, `hold`, `smooth`, `curve`, `spring()` and the
 * named families. Unlike CSS, it rejects `calc()` and comments, a missing closing parenthesis, numbers beyond
 * 1e9, and `linear()` with a single stop.
 */
export function parseEasing(text: string): EasingReading {
  try {
    return { easing: read(text) };
  } catch (thrown) {
    if (thrown instanceof Refusal) return { problem: thrown.problem };
    throw thrown;
  }
}

function read(text: string): Easing {
  if (typeof text !== 'string') refuse(`${show(text)} is not an easing`, 'use a name, such as "ease-in-out"');
  const word = trimmed(text).toLowerCase();
  if (word === '') refuse('the easing is empty', 'omit "ease" for linear, or use a name, such as "ease-in-out"');
  const named = readName(word);
  if (named) return named;
  if (word.includes('/*')) refuse(`the easing ${show(text)} contains a comment`, 'remove the comment');
  if (word.includes('calc(')) refuse(`the easing ${show(text)} contains calc()`, 'write its result as a number');
  const open = word.indexOf('(');
  const name = open < 0 ? word : word.slice(0, open);
  if (!(FUNCTIONS as readonly string[]).includes(name)) {
    const known = open < 0 ? EASING_NAMES : FUNCTIONS;
    refuse(`unknown easing ${show(open < 0 ? text : name)}`, suggest(name.trim(), known));
  }
  if (open < 0) refuse(`the easing "${name}" needs arguments`, `write ${example(name)}`);
  if (!word.endsWith(')')) {
    refuse(
      `the easing ${show(text)} ${word.includes(')') ? 'has text after its closing parenthesis' : 'has no closing parenthesis'}`,
      `write ${example(name)}`,
    );
  }
  const inner = word.slice(open + 1, -1);
  if (/[()]/.test(inner)) refuse(`the easing ${show(text)} has nested parentheses`, `write ${example(name)}`);
  const args = inner.split(',').map((arg) => arg.split(SPACE).filter(Boolean));
  if (name === 'cubic-bezier') return readBezier(text, args);
  if (name === 'steps') return readSteps(text, args);
  if (name === 'spring') return readSpring(text, args);
  return readStops(text, args);
}

/** Without white space of CSS at either end. By hand: a pattern for the end of a text takes a look from each place. */
function trimmed(text: string): string {
  let [from, until] = [0, text.length];
  while (from < until && SPACES.includes(text[from]!)) from++;
  while (from < until && SPACES.includes(text[until - 1]!)) until--;
  return text.slice(from, until);
}

function example(name: string): string {
  if (name === 'steps') return 'it as steps(4) or steps(4, jump-both)';
  if (name === 'spring') return 'it as spring(0.3)';
  return name === 'linear' ? 'it as linear(0, 0.8 40%, 1)' : 'it as cubic-bezier(0.25, 0.1, 0.25, 1)';
}

function readName(word: string): Easing | undefined {
  if (word === 'linear' || word === 'hold' || word === 'smooth' || word === 'curve') return { kind: word };
  if (word === 'step-start') return { kind: 'steps', n: 1, jump: 'start' };
  if (word === 'step-end') return { kind: 'steps', n: 1, jump: 'end' };
  if (Object.hasOwn(BEZIER_KEYWORDS, word)) {
    const keyword = word as BezierKeyword;
    return { kind: 'bezier', points: BEZIER_KEYWORDS[keyword], keyword };
  }
  if ((FAMILY_EASINGS as readonly string[]).includes(word)) return { kind: 'family', name: word as FamilyEasing };
  return undefined;
}

function number(text: string, token: string): number {
  if (!NUMBER.test(token)) refuse(`${show(token)} in the easing ${show(text)} is not a number`, 'write 0.4 or 4e-1');
  const value = Number(token);
  if (!(Math.abs(value) <= MAX_NUMBER)) {
    refuse(`${token} in the easing ${show(text)} is beyond ±${MAX_NUMBER}`, 'use a smaller number');
  }
  return value;
}

function readBezier(text: string, args: string[][]): Easing {
  if (args.length !== 4 || args.some((arg) => arg.length !== 1)) {
    refuse(`the easing ${show(text)} needs exactly four numbers`, `write ${example('cubic-bezier')}`);
  }
  const [x1, y1, x2, y2] = args.map(([token]) => number(text, token!)) as [number, number, number, number];
  for (const x of [x1, x2]) {
    if (x < 0 || x > 1) {
      refuse(
        `x ${x} in the easing ${show(text)} is not from 0 to 1`,
        'keep the first and third number from 0 to 1, so that time does not run backwards',
      );
    }
  }
  return { kind: 'bezier', points: [x1, y1, x2, y2] };
}

function readSteps(text: string, args: string[][]): Easing {
  const [count = [], term] = args;
  if (args.length > 2 || count.length !== 1 || (term && term.length !== 1)) {
    refuse(`the easing ${show(text)} needs a count and at most one jump term`, `write ${example('steps')}`);
  }
  const jump = (term?.[0] ?? 'jump-end') as JumpTerm;
  if (!JUMP_TERMS.includes(jump)) refuse(`unknown jump term ${show(jump)}`, suggest(jump, JUMP_TERMS));
  if (!WHOLE.test(count[0]!)) {
    refuse(`${show(count[0])} in the easing ${show(text)} is not an integer`, `write ${example('steps')}`);
  }
  const n = number(text, count[0]!);
  const least = jump === 'jump-none' ? 2 : 1;
  if (n < least) refuse(`the easing ${show(text)} has ${n} steps`, `use at least ${least} with ${jump}`);
  return { kind: 'steps', n, jump };
}

function readSpring(text: string, args: string[][]): Easing {
  if (args.length !== 1 || args[0]!.length !== 1) {
    refuse(`the easing ${show(text)} needs exactly one number`, `write ${example('spring')}`);
  }
  const overshoot = number(text, args[0]![0]!) + 0;
  if (overshoot < 0 || overshoot > MAX_OVERSHOOT) {
    refuse(
      `the overshoot ${overshoot} in the easing ${show(text)} is not from 0 to ${MAX_OVERSHOOT}`,
      'use the first overshoot as a fraction of the change, such as 0.3',
    );
  }
  return { kind: 'spring', overshoot };
}

function readStops(text: string, args: string[][]): Easing {
  const xs: (number | undefined)[] = [];
  const ys: number[] = [];
  for (const [place, arg] of args.entries()) {
    const percents = arg.filter((token) => token.endsWith('%'));
    const outputs = arg.filter((token) => !token.endsWith('%'));
    const middle = arg.length === 3 && arg[1] === outputs[0];
    if (outputs.length !== 1 || percents.length > 2 || middle) {
      refuse(
        `stop ${place + 1} of the easing ${show(text)} is invalid: ${show(arg.join(' '))}`,
        'write one number with at most two percentages',
      );
    }
    const y = number(text, outputs[0]!);
    const positions = percents.map((token) => number(text, token.slice(0, -1)));
    for (const x of positions.length ? positions : [undefined]) {
      xs.push(x);
      ys.push(y);
    }
  }
  if (args.length < 2) refuse(`the easing ${show(text)} has only one stop`, 'add a second stop, such as linear(0, 1)');
  spread(xs);
  return { kind: 'stops', stops: xs.flatMap((x, i) => [x!, ys[i]!]) };
}

/** Places stops that say no percentage: the first at 0, the last at 100, others evenly; none before an earlier one. */
function spread(xs: (number | undefined)[]): void {
  const last = xs.length - 1;
  xs[0] ??= 0;
  let greatest = xs[0];
  for (let i = 1; i <= last; i++) {
    if (i === last) xs[i] ??= Math.max(100, greatest);
    const x = xs[i];
    if (x !== undefined) xs[i] = greatest = Math.max(x, greatest);
  }
  for (let i = 1, end = 1; i < last; i++) {
    if (xs[i] !== undefined) continue;
    if (end < i) end = i;
    while (xs[end] === undefined) end++;
    const before = xs[i - 1]!;
    xs[i] = before + (xs[end]! - before) / (end - i + 1);
  }
}

/**
 * Returns an easing as a function of progress: `easing('ease-out')(0.5)`. The function takes any finite number and
 * throws a `RangeError` for others; its second argument is the CSS "before flag". Throws when the text is not an
 * easing.
 */
export function easing(text: string): (x: number, before?: boolean) => number {
  const reading = parseEasing(text);
  if ('problem' in reading) throw new UnspoolError('easing/unreadable', reading.problem.message, reading.problem.hint);
  const { easing: found } = reading;
  if (found.kind === 'smooth' || found.kind === 'curve') {
    const message = `the easing "${found.kind}" depends on the neighboring keys, so it is not a function of progress`;
    throw new UnspoolError('easing/no-function', message, 'sample a clip that uses it');
  }
  const table: number[] = [];
  const code = compileEasing(found, table);
  const cell = new Float64Array(1);
  const run = (x: number, before = false) => {
    if (!Number.isFinite(x)) throw new RangeError(`the progress ${show(x)} is not a finite number. Use 0 to 1.`);
    cell[0] = x;
    ease(code, table, 0, before, cell);
    return cell[0];
  };
  return remember(run, { code, table });
}
