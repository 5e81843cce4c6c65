import type { RoutineDocument } from 'unspool';
import { ruleText } from 'unspool/edit';
import { FONT, type DrawOptions } from './sheet.js';
import { element, fitText, text } from './svg.js';
import { THEMES, type Theme } from './theme.js';

type Rule = RoutineDocument['rules'][number];
type Inputs = NonNullable<RoutineDocument['inputs']>;

const TOP = 116;
const ROW = 46;
const INPUT_WIDTH = 168;
const RULES_LEFT = 300;
/** Of a cell of the matrix, and of all of it. */
const CELL = 24;
const MATRIX_WIDTH = 320;

/** The height of a routine of so many rules and inputs. */
export function routineHeight({ rules, inputs = {} }: RoutineDocument): number {
  return TOP + ROW * Math.max(rules.length, Object.keys(inputs).length) + 30;
}

/** Draws a routine: its inputs at the left with lines to the rules that read them, its rules, and what may cut what. */
export function drawRoutine(
  name: string,
  routine: RoutineDocument,
  { width, height, theme: themeName }: DrawOptions,
): string {
  const theme = THEMES[themeName];
  const { inputs = {}, rules } = routine;
  const cell = Math.min(CELL, MATRIX_WIDTH / rules.length);
  const matrix = width - 24 - Math.max(264, cell * rules.length);
  const parts = [
    text(name, { x: 24, y: 38, 'font-size': 22, 'font-weight': 'bold', fill: theme.ink }),
    text('routine  ·  the first rule is the strongest', { x: 24, y: 60, fill: theme.muted }),
    text('inputs', { x: 24, y: TOP - 12, fill: theme.muted }),
    text('rules', { x: RULES_LEFT, y: TOP - 12, fill: theme.muted }),
    drawLegend(matrix, theme, rules.length, cell),
    ...rules.map((rule, i) => drawRule(rule, i, matrix - 14, theme)),
    ...Object.keys(inputs).map((input, i) => drawInput(input, inputs, rules, i, theme)),
    ...rules.flatMap((_, i) => rules.map((__, j) => drawCut(cutOf(rules, i, j), matrix + cell * (j + 0.5), i, theme))),
  ];
  const size = { width, height, viewBox: `0 0 ${width} ${height}` };
  const font = { 'font-family': FONT, 'font-size': 12 };
  const about = { role: 'img', 'aria-label': `${name}, routine` };
  return element(
    'svg',
    { xmlns: 'http://www.w3.org/2000/svg', ...size, ...font, ...about },
    element('rect', { width, height, fill: theme.background }),
    ...parts,
  );
}

const middleOf = (i: number) => TOP + ROW * i + ROW / 2 - 4;
const colorOf = (theme: Theme, i: number) => theme.lines[i % theme.lines.length]!;

function drawRule(rule: Rule, i: number, right: number, theme: Theme): string {
  const { when, plays } = ruleText(rule);
  const y = TOP + ROW * i;
  const room = right - RULES_LEFT;
  const layer = rule.layer === undefined ? '' : `  (${rule.layer})`;
  const free = rule.free === undefined ? '' : `, free from ${rule.free}`;
  const [x, name] = [RULES_LEFT + 10, 150];
  const says = { fill: theme.ink, 'font-size': 12 };
  return [
    element('rect', { x: RULES_LEFT, y, width: room, height: ROW - 8, rx: 4, fill: theme.panel }),
    text(String(i + 1), { x, y: y + 24, fill: theme.muted }),
    text(fitText(rule.name, 13, name - 10), {
      x: x + 22,
      y: y + (layer ? 17 : 24),
      fill: theme.ink,
      'font-size': 13,
      'font-weight': 'bold',
    }),
    layer
      ? text(fitText(rule.layer!, 11, name - 10), { x: x + 22, y: y + 32, fill: theme.muted, 'font-size': 11 })
      : '',
    text(fitText(when, 12, room - name - 40), { x: x + 22 + name, y: y + 17, ...says }),
    text(fitText(`→ ${plays}${free}`, 12, room - name - 40), { x: x + 22 + name, y: y + 32, fill: theme.muted }),
  ].join('');
}

/** An input, and a line to each rule that reads it. */
function drawInput(name: string, inputs: Inputs, rules: readonly Rule[], i: number, theme: Theme): string {
  const { kind, keep } = inputs[name]!;
  const [y, right, color] = [TOP + ROW * i, 24 + INPUT_WIDTH, colorOf(theme, i)];
  const facts = keep === undefined ? kind : `${kind}, kept ${keep}`;
  const lines = rules.flatMap((rule, j) => {
    if (!reads(rule, name)) return [];
    const [from, to] = [middleOf(i), middleOf(j)];
    const d = `M${right} ${from} C${right + 60} ${from} ${RULES_LEFT - 60} ${to} ${RULES_LEFT} ${to}`;
    return [element('path', { d, fill: 'none', stroke: color, 'stroke-width': 1.4, opacity: 0.75 })];
  });
  return [
    ...lines,
    element('rect', { x: 24, y, width: INPUT_WIDTH, height: ROW - 8, rx: 4, fill: theme.panel }),
    element('rect', { x: right - 4, y, width: 4, height: ROW - 8, fill: color }),
    text(fitText(name, 13, INPUT_WIDTH - 24), {
      x: 34,
      y: y + 17,
      fill: theme.ink,
      'font-size': 13,
      'font-weight': 'bold',
    }),
    text(fitText(facts, 11, INPUT_WIDTH - 24), { x: 34, y: y + 32, fill: theme.muted, 'font-size': 11 }),
  ].join('');
}

function reads({ on, if: conditions = {}, toward, rate }: Rule, input: string): boolean {
  return (
    on === input ||
    toward === input ||
    Object.hasOwn(conditions, input) ||
    (typeof rate === 'object' && rate.input === input)
  );
}

/** Whether rule j may cut rule i: at any time, only from where it is free, or never. */
export function cutOf(rules: readonly Rule[], i: number, j: number): 'any' | 'free' | undefined {
  const [one, other] = [rules[i]!, rules[j]!];
  if ((one.layer ?? 'base') !== (other.layer ?? 'base')) return undefined;
  if (j < i) return 'any';
  // What plays by its conditions gives way when they no longer hold, and to nothing weaker.
  const hasReason = other.on !== undefined || other.if !== undefined || other.during !== undefined;
  return one.on !== undefined && one.free !== undefined && hasReason && (j > i || other.on !== undefined)
    ? 'free'
    : undefined;
}

function drawCut(cut: ReturnType<typeof cutOf>, x: number, i: number, theme: Theme): string {
  const at = { cx: x, cy: middleOf(i) };
  if (cut === 'any') return element('circle', { ...at, r: 5, fill: theme.ink });
  if (cut === 'free') return element('circle', { ...at, r: 4.5, fill: 'none', stroke: theme.cue, 'stroke-width': 2 });
  return element('circle', { ...at, r: 1, fill: theme.muted });
}

function drawLegend(x: number, theme: Theme, count: number, cell: number): string {
  const y = 58;
  const heads = Array.from({ length: count }, (_, j) =>
    cell < 14 && j % 5 !== 4
      ? ''
      : text(String(j + 1), { x: x + cell * (j + 0.5), y: TOP - 12, 'text-anchor': 'middle', fill: theme.muted }),
  );
  return [
    text('may be cut by', { x, y: y - 20, fill: theme.ink }),
    element('circle', { cx: x + 6, cy: y - 4, r: 5, fill: theme.ink }),
    text('at any time', { x: x + 18, y, fill: theme.muted }),
    element('circle', { cx: x + 110, cy: y - 4, r: 4.5, fill: 'none', stroke: theme.cue, 'stroke-width': 2 }),
    text('where it is free', { x: x + 122, y, fill: theme.muted }),
    ...heads,
  ].join('');
}
