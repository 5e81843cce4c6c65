import { show } from '../../errors/show.js';
import { clipsOf } from '../../reel/check/check-routines.js';
import type { ReelDocument, RuleDocument } from '../../reel/document/document.js';
import { BASE_LAYER } from '../../reel/document/routines.js';
import { resolveLoop } from '../../reel/resolve/loop.js';
import { parseTime, type Time } from '../../time/units.js';
import { durationIn } from '../track-curve.js';
import { fpsIn } from '../document-access.js';
import { formatTime } from '../format-values.js';
import { referencesTo } from '../operations/references.js';
import type { Finding } from './advice.js';

/** What is probably not meant in the routines of a reel. */
export function routineAdvice(document: ReelDocument): Finding[] {
  return Object.entries(document.routines ?? {}).flatMap(([routine, { inputs = {}, rules }]) => [
    ...Object.entries(inputs).flatMap(([name, { kind }]) => unreadInput(document, routine, name, kind === 'signal')),
    ...rules.flatMap((rule, place) => {
      const path = ['routines', routine, 'rules', place];
      return [
        ...neverPlays(rules, place, routine).map((one) => ({ ...one, path: [...path, 'name'] })),
        ...neverEnds(document, rule).map((one) => ({ ...one, path })),
        ...freeTooLate(document, rule).map((one) => ({ ...one, path: [...path, 'free'] })),
      ];
    }),
  ]);
}

function unreadInput(document: ReelDocument, routine: string, name: string, isSignal: boolean): Finding[] {
  const thing = { what: 'input', routine, name } as const;
  if (referencesTo(document, thing).length > 0) return [];
  const message = isSignal ? `no rule waits for the signal ${show(name)}` : `no rule reads the input ${show(name)}`;
  const path = ['routines', routine, 'inputs', name];
  return [{ code: 'unused', path, of: 'name', message, hint: 'use the input or remove it', fix: [{ do: 'remove', ...thing }] }]; // prettier-ignore
}

const layerOf = ({ layer = BASE_LAYER }: RuleDocument) => layer;

/** A rule below one that always applies, or below one that takes the same signal whenever it comes. */
function neverPlays(rules: readonly RuleDocument[], place: number, routine: string): Omit<Finding, 'path'>[] {
  const rule = rules[place]!;
  const above = rules.slice(0, place).find((other) => {
    if (layerOf(other) !== layerOf(rule) || other.if || other.during) return false;
    return other.on === undefined || other.on === rule.on;
  });
  if (!above) return [];
  const reason = above.on === undefined ? 'always applies' : `takes every ${show(above.on)}`;
  return [
    {
      code: 'rule-never',
      message: `the rule ${show(rule.name)} never plays: ${show(above.name)} above it ${reason}`,
      hint: `move ${show(rule.name)} above it, or give ${show(above.name)} a condition`,
      ...(above.on === undefined && {
        fix: [{ do: 'reorder', what: 'rule', routine, name: rule.name, before: above.name }] as const,
      }),
    },
  ];
}

/** A signal starts a clip that loops forever, so that nothing below it ever plays again. */
function neverEnds(document: ReelDocument, rule: RuleDocument): Omit<Finding, 'path'>[] {
  if (rule.on === undefined || rule.until !== undefined || rule.free !== undefined) return [];
  const endless = clipsOf(document, rule).find((clip) => {
    const links = typeof rule.play === 'string' ? document.chains?.[rule.play] : undefined;
    const link = links?.find((one) => (typeof one === 'string' ? one : one.clip) === clip);
    const own = typeof link === 'object' ? link.loop : undefined;
    return resolveLoop(own ?? rule.loop ?? document.clips[clip]!.loop).count === Infinity;
  });
  // A pick plays one round, however its clip loops.
  if (endless === undefined || Array.isArray(rule.play)) return [];
  return [
    {
      code: 'rule-endless',
      message: `the rule ${show(rule.name)} never ends: ${show(endless)} loops forever, and no weaker rule plays again`,
      hint: 'set a "loop" with a count, "until" or "free"; or use a condition in place of "on"',
    },
  ];
}

/** Weaker rules may cut it only when its clip has ended anyway. */
function freeTooLate(document: ReelDocument, rule: RuleDocument): Omit<Finding, 'path'>[] {
  const { free } = rule;
  if (free === undefined) return [];
  const late = clipsOf(document, rule).flatMap((clip) => {
    const { cues = [], spans = {} } = document.clips[clip]!;
    const fps = fpsIn(document, document.clips[clip]!);
    const starts: Time[] = cues.filter(({ name }) => name === free).map(({ at }) => at);
    if (Object.hasOwn(spans, free)) starts.push(spans[free]![0]);
    const seconds = (time: string | number | undefined) => (time === undefined ? undefined : parseTime(time, fps));
    const span = rule.span === undefined ? undefined : spans[rule.span]?.[1];
    const end = Math.min(durationIn(document, clip), seconds(rule.until) ?? Infinity, seconds(span) ?? Infinity);
    return starts.map((at) => ({ clip, at, isLate: parseTime(at, fps)! >= end }));
  });
  if (late.length === 0 || late.some(({ isLate }) => !isLate)) return [];
  const { clip, at } = late[0]!;
  return [
    {
      code: 'free-late',
      message: `${show(free)} begins at ${formatTime(at)}, when ${show(clip)} has ended, so no weaker rule cuts ${show(rule.name)}`,
      hint: 'move it earlier, or remove "free"',
    },
  ];
}
