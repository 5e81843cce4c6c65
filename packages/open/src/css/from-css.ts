import { checkReading, checkText } from '../given.js';
import type { Atrule, Block, CssNode, Rule } from 'css-tree';
import generate from 'css-tree/generator';
import parse from 'css-tree/parser';
import walk from 'css-tree/walker';
import type { ClipDocument, ReelDocument, RoleDocument } from 'unspool';
import { refuse } from '../errors.js';
import { validName, Names } from '../names.js';
import { Notes, type Converted } from '../report.js';
import { firstLine } from '../text.js';
import { unescaped } from './identifier.js';
import { playing, tracksOf, type InKeyframe, type InTiming } from './keyframes-in.js';
import { readDeclaration } from './read-values.js';

/** Options of `fromCss`. */
export interface FromCssOptions {
  /** Seconds of `@keyframes` that no rule plays, greater than 0. Default: 1. */
  readonly duration?: number;
}

interface Use extends InTiming {
  readonly keyframes: string;
  readonly easing: string;
}

/** A rule that plays animations. */
interface Player {
  readonly clip: string | undefined;
  readonly role: string;
  readonly uses: readonly Use[];
  readonly at: string;
}

/** Nested blocks and parentheses that a style sheet may have. */
const DEEPEST = 200;
/** Blocks and declarations: each becomes an object of the parser. */
const MOST_BLOCKS = 50_000;
const MOST_DECLARATIONS = 200_000;

/**
 * Reads a style sheet as a reel: each rule with `animation` as a clip. The last name of its selector is the role, and the
 * one before it (`.snap .claw`), else the `@keyframes`, the name of the clip. Rules without it give rest values.
 *
 * @throws ConversionError for a text that is no style sheet or has no `@keyframes`
 */
export function fromCss(text: string, options: FromCssOptions = {}): Converted<ReelDocument> {
  checkReading(options);
  const { duration = 1 } = options;
  if (!(duration > 0 && duration < Infinity)) refuse('option', `duration is ${duration}`, 'use seconds greater than 0');
  checkText(text, 'style sheet');
  checkShape(text);
  const notes = new Notes();
  const sheet = parseSheet(text, notes);
  const keyframes = new Map<string, InKeyframe[]>();
  const players: Player[] = [];
  const rests: Record<string, Record<string, unknown>> = {};
  walk(sheet, {
    enter(node: CssNode) {
      if (node.type === 'Atrule') {
        if (/^(-webkit-)?keyframes$/i.test(node.name)) {
          const name = node.prelude ? unescaped(generate(node.prelude).replace(/^["']|["']$/g, '')) : '';
          keyframes.set(name, readKeyframes(node, notes));
        } else if (!/^property$/i.test(node.name)) notes.dropped(lineOf(node), `@${node.name}`);
        return walk.skip;
      }
      if (node.type !== 'Rule') return undefined;
      readRule(node, players, rests, notes);
      return walk.skip;
    },
  });
  if (keyframes.size === 0) refuse('css', 'the style sheet has no @keyframes', 'use one that animates something');
  const used = new Set(players.flatMap(({ uses }) => uses.map((use) => use.keyframes)));
  for (const name of keyframes.keys()) {
    if (used.has(name)) continue;
    notes.approximated(`@keyframes ${name}`, `no rule plays it: it lasts ${duration} s`);
    const use = { keyframes: name, easing: 'ease', duration, iterations: 1, direction: 'normal', fill: 'forwards' };
    players.push({ clip: undefined, role: 'object', uses: [use], at: `@keyframes ${name}` });
  }
  return notes.of(assemble(players, keyframes, rests, notes));
}

/** What would make the parser call itself too often, or take too much memory, is refused before it. */
function checkShape(text: string): void {
  let [depth, blocks, ends] = [0, 0, 0];
  for (const letter of text) {
    if (letter === '{' || letter === '(' || letter === '[') depth++;
    if (letter === '}' || letter === ')' || letter === ']') depth = Math.max(0, depth - 1);
    if (letter === '{') blocks++;
    if (letter === ';') ends++;
    if (blocks > MOST_BLOCKS || ends > MOST_DECLARATIONS)
      refuse('css', `the style sheet has more than ${MOST_BLOCKS} blocks or ${MOST_DECLARATIONS} declarations`, 'use a part of it'); // prettier-ignore
    if (depth > DEEPEST) refuse('css', `blocks are nested deeper than ${DEEPEST}`, 'check that it is a style sheet');
  }
}

const lineOf = (node: CssNode) => `line ${node.loc?.start.line ?? '?'}`;

function parseSheet(text: string, notes: Notes): CssNode {
  let problems = 0;
  try {
    return parse(text, {
      positions: true,
      parseValue: false,
      parseRulePrelude: false,
      parseAtrulePrelude: false,
      onParseError: (error) => {
        if (problems++ < 20) notes.dropped(`line ${(error as { line?: number }).line ?? '?'}`, firstLine(error));
      },
    });
  } catch (error) {
    return refuse('css', `the style sheet cannot be parsed: ${firstLine(error)}`, 'check it');
  }
}

function declarations(block: Block): (readonly [string, string])[] {
  return block.children
    .toArray()
    .flatMap((one) => (one.type === 'Declaration' ? [[one.property, generate(one.value).trim()] as const] : []));
}

const EASING = 'animation-timing-function';

function readKeyframes({ block }: Atrule, notes: Notes): InKeyframe[] {
  return (block?.children.toArray() ?? []).flatMap((rule): InKeyframe[] => {
    if (rule.type !== 'Rule') return [];
    const at = lineOf(rule);
    const all = declarations(rule.block);
    const easing = all.findLast(([property]) => property.toLowerCase() === EASING)?.[1];
    const own = all.filter(([property]) => !/^animation-/i.test(property));
    return generate(rule.prelude)
      .split(',')
      .flatMap((selector) => {
        const offset = offsetOf(selector.trim());
        if (offset !== undefined) return [{ offset, easing, declarations: own, at }];
        notes.dropped(at, `${selector.trim()} is not a place in an animation`);
        return [];
      });
  });
}

function offsetOf(selector: string): number | undefined {
  if (/^from$/i.test(selector)) return 0;
  if (/^to$/i.test(selector)) return 1;
  const percent = /^([+-]?[\d.]+(?:e[+-]?\d+)?)%$/i.exec(selector)?.[1];
  const share = Number(percent) / 100;
  return share >= 0 && share <= 1 ? share : undefined;
}

/** Names in a selector, in order: of classes, ids and elements. */
const namesIn = (selector: string) =>
  [
    ...selector.matchAll(
      /[.#]?(-?(?:[_a-z]|\\[0-9a-f]{1,6}\s?|\\[^0-9a-f])(?:[\w-]|\\[0-9a-f]{1,6}\s?|\\[^0-9a-f])*)/gi,
    ),
  ].map(([, name]) => unescaped(name!)); // prettier-ignore;

function readRule(rule: Rule, players: Player[], rests: Record<string, Record<string, unknown>>, notes: Notes): void {
  const at = lineOf(rule);
  const all = declarations(rule.block);
  const [selector = ''] = generate(rule.prelude).split(',');
  const names = namesIn(selector.replace(/:[\w-]+(\([^()]*\))?|\[[^\]]*\]/g, ''));
  const role = validName(names.at(-1) ?? '', 'object');
  const uses = usesOf(all, at, notes);
  if (uses.length > 0) players.push({ clip: names.length > 1 ? names.at(-2) : undefined, role, uses, at });
  else {
    for (const [property, text] of all) {
      if (/^animation/i.test(property)) continue;
      const values = readDeclaration(property, text);
      if (!values) continue;
      for (const { property: name, value } of values) (rests[role] ??= {})[name] = value;
    }
  }
}

/** The animations of a rule, from `animation` and its longhands. */
function usesOf(all: readonly (readonly [string, string])[], at: string, notes: Notes): Use[] {
  let lists: Record<string, string[]>[] = [];
  for (const [property, text] of all) {
    const name = property.toLowerCase().replace(/^-webkit-/, '');
    if (name === 'animation') lists = commas(text).map((one) => sorted(spaces(one)));
    else if (name.startsWith('animation-')) {
      const member = name.slice('animation-'.length);
      const values = commas(text);
      if (member === 'name') while (lists.length < values.length) lists.push({});
      lists.forEach((list, i) => (list[member] = [values[i % values.length]!]));
    }
  }
  return lists.flatMap((list): Use[] => {
    const one = (member: string, otherwise: string) => list[member]?.[0] ?? otherwise;
    const keyframes = unescaped(one('name', 'none').replace(/^["']|["']$/g, ''));
    if (keyframes === 'none') return [];
    const delay = seconds(one('delay', '0s'));
    if (delay !== undefined && delay !== 0) notes.dropped(at, `a delay of ${delay} s: start the playback later`);
    const count = one('iteration-count', '1');
    return [
      {
        keyframes,
        easing: one('timing-function', 'ease'),
        duration: seconds(one('duration', '0s')) ?? 0,
        iterations: count === 'infinite' ? Infinity : Math.max(0, Number(count) || 0),
        direction: one('direction', 'normal'),
        fill: one('fill-mode', 'none'),
      },
    ];
  });
}

/** The words of `animation`, by which of its longhands they belong to. */
function sorted(parts: readonly string[]): Record<string, string[]> {
  const found: Record<string, string[]> = {};
  for (const part of parts) {
    const member = memberOf(part, found);
    (found[member] ??= []).push(part);
  }
  return found;
}

function memberOf(part: string, found: Readonly<Record<string, string[]>>): string {
  if (seconds(part) !== undefined) return found['duration'] ? 'delay' : 'duration';
  if (/^(infinite|[+]?[\d.]+)$/i.test(part)) return 'iteration-count';
  if (/^(normal|reverse|alternate|alternate-reverse)$/i.test(part) && !found['direction']) return 'direction';
  if (/^(none|forwards|backwards|both)$/i.test(part) && !found['fill-mode']) return 'fill-mode';
  if (/^(running|paused)$/i.test(part)) return 'play-state';
  const isEasing = /^(ease|ease-in|ease-out|ease-in-out|linear|step-start|step-end)$|^(cubic-bezier|steps|linear)\(/i;
  return isEasing.test(part) && !found['timing-function'] ? 'timing-function' : 'name';
}

function seconds(text: string): number | undefined {
  const [, n, unit] = /^([+-]?[\d.]+(?:e[+-]?\d+)?)(m?s)$/i.exec(text.trim()) ?? [];
  const value = Number(n) * (unit?.toLowerCase() === 'ms' ? 0.001 : 1);
  return n !== undefined && Number.isFinite(value) ? value : undefined;
}

const commas = (text: string) => text.match(/(?:[^,()]|\([^()]*\))+/g)?.map((one) => one.trim()) ?? [];
const spaces = (text: string) => text.match(/(?:[^\s()]+(?:\([^()]*\))?)+/g) ?? [];

function assemble(
  players: readonly Player[],
  keyframes: ReadonlyMap<string, readonly InKeyframe[]>,
  rests: Record<string, Record<string, unknown>>,
  notes: Notes,
): ReelDocument {
  const clips: Record<string, ClipDocument> = {};
  const timings = new Map<string, string>();
  const names = new Names('clip', notes);
  const known = new Map<string, string>();
  for (const { clip, role, uses, at } of players) {
    for (const { keyframes: name, easing, ...timing } of uses) {
      const frames = keyframes.get(name);
      if (!frames) {
        notes.dropped(at, `@keyframes ${name} is not there`);
        continue;
      }
      if (!(timing.duration > 0)) {
        notes.dropped(at, `${name} lasts ${timing.duration} s`);
        continue;
      }
      // What begins together and lasts equally long is one clip.
      const wanted = clip ?? name;
      const key = `${wanted}\0${JSON.stringify(timing)}`;
      let title = known.get(key);
      if (title === undefined) {
        title = names.of(wanted, 'clip');
        known.set(key, title);
        timings.set(title, key);
        clips[title] = { duration: timing.duration, ...playing(timing, at, notes), tracks: {} };
      }
      const tracks = tracksOf(role, frames, timing.duration, easing, rests, notes);
      for (const track of Object.keys(tracks)) notes.kept(at, `${title}: ${track}`);
      clips[title] = { ...clips[title]!, tracks: { ...clips[title]!.tracks, ...tracks } };
    }
  }
  const roles: Record<string, RoleDocument> = {};
  const animated = new Set(players.map(({ role }) => role));
  for (const role of animated) roles[role] = rests[role] ? { rest: rests[role] } : {};
  return { unspool: 1, roles, clips };
}
