import type { ReelDocument, RoutineDocument, RuleDocument } from '../../reel/document/document.js';
import { suggest } from '../../errors/nearest.js';
import { show } from '../../errors/show.js';
import { withHint } from '../../errors/sentence.js';
import { setMembers } from '../immutable.js';
import type { Thing } from '../operation.js';
import { refuse } from '../refusal.js';

/** A rule of a routine. Rules are in a list, because their order says which is stronger. */
export type RuleThing = Thing & { readonly what: 'rule' };

/** The routine of a name. */
export function routineIn(document: ReelDocument, name: string): RoutineDocument {
  const { routines = {} } = document;
  if (Object.hasOwn(routines, name)) return routines[name]!;
  throw refuse('edit/unknown-routine', withHint(`unknown routine ${show(name)}`, suggest(name, Object.keys(routines))));
}

export function withRoutine(document: ReelDocument, name: string, members: Partial<RoutineDocument>): ReelDocument {
  const routine = { ...routineIn(document, name), ...members };
  return { ...document, routines: { ...document.routines, [name]: routine } };
}

/** The place of a rule in its list. */
function placeOf(rules: readonly RuleDocument[], name: string): number {
  const place = rules.findIndex((rule) => rule.name === name);
  if (place >= 0) return place;
  const known = rules.map((rule) => rule.name);
  throw refuse('edit/unknown-rule', withHint(`unknown rule ${show(name)}`, suggest(name, known)));
}

/** A change of the list of rules that one is in. */
function withRules(
  document: ReelDocument,
  { routine, name }: RuleThing,
  change: (rules: readonly RuleDocument[], place: number) => readonly RuleDocument[],
): ReelDocument {
  const { rules } = routineIn(document, routine);
  return withRoutine(document, routine, { rules: change(rules, placeOf(rules, name)) });
}

function inserted(rules: readonly RuleDocument[], rule: RuleDocument, before: string | undefined) {
  return rules.toSpliced(before === undefined ? rules.length : placeOf(rules, before), 0, rule);
}

export function addRule(document: ReelDocument, thing: RuleThing, value: unknown, before?: string): ReelDocument {
  const { rules } = routineIn(document, thing.routine);
  expectFree(rules, thing.name);
  const rule = { name: thing.name, ...(value as object | undefined) } as RuleDocument;
  return withRoutine(document, thing.routine, { rules: inserted(rules, rule, before) });
}

export function removeRule(document: ReelDocument, thing: RuleThing): ReelDocument {
  return withRules(document, thing, (rules, place) => rules.toSpliced(place, 1));
}

export function renameRule(document: ReelDocument, thing: RuleThing, to: string): ReelDocument {
  if (to !== thing.name) expectFree(routineIn(document, thing.routine).rules, to);
  return withRules(document, thing, (rules, place) => rules.with(place, { ...rules[place]!, name: to }));
}

export function changeRule(document: ReelDocument, thing: RuleThing, members: object): ReelDocument {
  return withRules(document, thing, (rules, place) => rules.with(place, setMembers(rules[place]!, members)));
}

/** Puts a rule before another: it is stronger then; or last, where it is the weakest. */
export function reorderRule(document: ReelDocument, thing: RuleThing, before?: string): ReelDocument {
  if (before === thing.name) return document;
  return withRules(document, thing, (rules, place) => inserted(rules.toSpliced(place, 1), rules[place]!, before));
}

function expectFree(rules: readonly RuleDocument[], name: string): void {
  if (rules.some((rule) => rule.name === name))
    throw refuse('edit/name-taken', `the rule ${show(name)} already exists. Use another name.`);
}
