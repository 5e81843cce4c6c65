import { clipsOf, momentsOf } from '../../reel/check/check-routines.js';
import type { DocumentPath } from '../../reel/diagnostics/diagnostic-messages.js';
import type { ReelDocument, RoutineDocument, RuleDocument } from '../../reel/document/document.js';
import { mapList, mapMembers, renameMembers, setMembers } from '../immutable.js';
import type { Thing } from '../operation.js';

/** A place that speaks of a thing by its name. */
export interface Reference {
  readonly path: DocumentPath;
  /** `the track claw.rotation of snap` */
  readonly summary: string;
}

type Routines = ReelDocument['routines'];

/** The members of a rule that name a moment of its clips. */
const MOMENTS = ['span', 'from', 'until', 'free'] as const;

/** Whether a rule speaks of a moment that its clips have from one clip alone: themselves, or as a part. */
function isMomentOf(document: ReelDocument, rule: RuleDocument | undefined, thing: Thing): boolean {
  if (!rule || (thing.what !== 'cue' && thing.what !== 'span')) return false;
  const { name } = thing;
  const clip = document.clips[thing.clip]!;
  const { cues = [], spans = {} } = clip;
  const others = cues.filter((cue) => cue.name !== name);
  if (cues.length - others.length + (Object.hasOwn(spans, name) ? 1 : 0) !== 1) return false;
  const bare = { ...clip, cues: others, spans: renameMembers(spans, (one) => (one === name ? '' : one)) };
  const without = { ...document, clips: { ...document.clips, [thing.clip]: bare } };
  const clips = clipsOf(document, rule);
  const isIn = (one: ReelDocument) => clips.some((each) => momentsOf(one, each).has(name));
  return isIn(document) && !isIn(without);
}

/** A rule with every name of a thing in it made another; the same one when it has none. */
function renamedRule(
  document: ReelDocument,
  rules: readonly RuleDocument[],
  rule: RuleDocument,
  thing: Thing,
  to: string,
  isOwn: boolean,
): RuleDocument {
  const { what, name } = thing;
  const next: Record<string, unknown> = {};
  const put = (member: keyof RuleDocument, value: unknown) => (next[member] = value);
  const { play, during } = rule;
  if (what === 'clip' || what === 'chain') {
    if (play === name) put('play', to);
    if (typeof play === 'object' && what === 'clip' && namesIn(play).includes(name))
      put('play', play.map((one) => (typeof one === 'string' ? (one === name ? to : one) : one.clip === name ? { ...one, clip: to } : one))); // prettier-ignore
  }
  if (what === 'facing' && rule.face === name) put('face', to);
  if (isMomentOf(document, rule, thing)) for (const member of MOMENTS) if (rule[member] === name) put(member, to);
  const other = during && rules.find((one) => one.name === during.rule);
  if (during && isMomentOf(document, other, thing)) {
    if (during.span === name) put('during', { ...during, span: to });
    if (during.cue === name) put('during', { ...during, cue: to });
  }
  if (isOwn && what === 'rule' && during?.rule === name) put('during', { ...during, rule: to });
  if (isOwn && what === 'input') {
    if (rule.on === name) put('on', to);
    if (rule.toward === name) put('toward', to);
    if (typeof rule.rate === 'object' && rule.rate.input === name) put('rate', { ...rule.rate, input: to });
    if (rule.if && Object.hasOwn(rule.if, name))
      put(
        'if',
        renameMembers(rule.if, (one) => (one === name ? to : one)),
      );
  }
  return Object.keys(next).length === 0 ? rule : { ...rule, ...next };
}

const namesIn = (list: readonly (string | { readonly clip: string })[]) =>
  list.map((one) => (typeof one === 'string' ? one : one.clip));

const isOwnOf = (thing: Thing, routine: string) =>
  (thing.what === 'rule' || thing.what === 'input') && thing.routine === routine;

/** The rules that speak of a thing. */
export function usesInRoutines(document: ReelDocument, thing: Thing): Reference[] {
  return Object.entries(document.routines ?? {}).flatMap(([routine, { rules }]) =>
    rules.flatMap((rule, place): Reference[] => {
      // What a new name would change is what speaks of the old one.
      const isUse = renamedRule(document, rules, rule, thing, `${thing.name}'`, isOwnOf(thing, routine)) !== rule;
      return isUse
        ? [{ path: ['routines', routine, 'rules', place], summary: `the rule ${rule.name} of ${routine}` }]
        : [];
    }),
  );
}

/** The routines with every use of a thing's name made one of another. */
export function renameInRoutines(document: ReelDocument, thing: Thing, to: string): Routines {
  return mapMembers(document.routines, (routine, name): RoutineDocument => {
    const rules = mapList(routine.rules, (rule) =>
      renamedRule(document, routine.rules, rule, thing, to, isOwnOf(thing, name)),
    );
    return rules === routine.rules ? routine : { ...routine, rules };
  });
}

/**
 * The routines without what speaks of a thing. A rule that loses what it plays or what it waits for is removed, and with
 * it those that stand during it: what is left of them would apply when nobody means it to.
 */
export function dropFromRoutines(document: ReelDocument, thing: Thing): Routines {
  return mapMembers(document.routines, (routine, name): RoutineDocument => {
    const isOwn = isOwnOf(thing, name);
    const gone = new Set<string>(isOwn && thing.what === 'rule' ? [thing.name] : []);
    let rules: readonly RuleDocument[] = routine.rules.flatMap((rule) => {
      if (renamedRule(document, routine.rules, rule, thing, `${thing.name}'`, isOwn) === rule) return [rule];
      const kept = leftOf(rule, thing);
      if (!kept) gone.add(rule.name);
      return kept ? [kept] : [];
    });
    for (const other of gone) {
      const during = rules.filter((rule) => rule.during?.rule === other);
      rules = rules.filter((rule) => !during.includes(rule));
      for (const rule of during) gone.add(rule.name);
    }
    return rules.length === routine.rules.length && rules.every((rule, i) => rule === routine.rules[i])
      ? routine
      : { ...routine, rules };
  });
}

/** What is left of a rule that speaks of a thing. */
function leftOf(rule: RuleDocument, thing: Thing): RuleDocument | undefined {
  const { what, name } = thing;
  if (what === 'clip' && typeof rule.play === 'object') {
    const play = rule.play.filter((one) => (typeof one === 'string' ? one : one.clip) !== name);
    return play.length > 0 ? { ...rule, play } : undefined;
  }
  const isRateOnly =
    what === 'input' && rule.on !== name && rule.toward !== name && !(rule.if && Object.hasOwn(rule.if, name));
  if (isRateOnly) return setMembers(rule, { rate: undefined });
  if ((what !== 'cue' && what !== 'span') || rule.during?.span === name || rule.during?.cue === name) return undefined;
  const left = MOMENTS.filter((member) => rule[member] === name).map((member) => [member, undefined]);
  return setMembers(rule, Object.fromEntries(left) as Partial<RuleDocument>);
}
