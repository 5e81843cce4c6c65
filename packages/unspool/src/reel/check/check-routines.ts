import type { ConditionDocument, ReelDocument, RoutineDocument, RuleDocument } from '../document/document.js';
import type { DocumentPath, Report } from '../diagnostics/diagnostic-messages.js';
import type { InputKind } from '../document/input-kinds.js';
import { playedBy } from './check-played.js';
import { BASE_LAYER } from '../document/routines.js';
import { isNumber } from '../../value/number.js';
import { parseTime } from '../../time/units.js';

type Inputs = NonNullable<RoutineDocument['inputs']>;

/** Checks the routines of a reel: what they name exists, and every rule can be decided. */
export function checkRoutines(reel: ReelDocument, report: Report): void {
  for (const [name, { inputs = {}, rules }] of Object.entries(reel.routines ?? {})) {
    const path = ['routines', name];
    for (const [input, { kind, value, keep }] of Object.entries(inputs)) {
      const here = [...path, 'inputs', input];
      if (value !== undefined && !isValueOf(kind, value))
        report('reel/input-value', [...here, 'value'], { value, kind });
      if (keep !== undefined && kind !== 'signal') report('reel/input-keep', [...here, 'keep'], { name: input, kind });
    }
    rules.forEach((rule, place) => {
      new RuleCheck(reel, inputs, rules, rule, [...path, 'rules', place], report).run(place);
    });
  }
}

function isValueOf(kind: InputKind, value: unknown): boolean {
  if (kind === 'flag') return typeof value === 'boolean';
  if (kind === 'vec2') return Array.isArray(value) && value.length === 2 && value.every(isNumber);
  return kind === 'number' && isNumber(value);
}

/** The order in which layers are decided: that of their first rules. */
function layerOrder(rules: readonly RuleDocument[]): string[] {
  return [...new Set(rules.map(({ layer = BASE_LAYER }) => layer))];
}

class RuleCheck {
  constructor(
    private readonly reel: ReelDocument,
    private readonly inputs: Inputs,
    private readonly rules: readonly RuleDocument[],
    private readonly rule: RuleDocument,
    private readonly path: DocumentPath,
    private readonly report: Report,
  ) {}

  run(place: number): void {
    const { rule, rules, report, path } = this;
    if (rules.findIndex(({ name }) => name === rule.name) < place)
      report('reel/rule-name', [...path, 'name'], { name: rule.name });
    if (rule.on !== undefined) this.#expectInput(rule.on, ['signal'], 'on');
    for (const [input, condition] of Object.entries(rule.if ?? {})) this.#checkCondition(input, condition);
    this.#checkDuring();
    this.#checkPlayed();
    if (typeof rule.rate === 'object') {
      this.#expectInput(rule.rate.input, ['number', 'vec2'], 'rate', 'input');
      if (rule.rate.at === 0) report('reel/rule-rate', [...path, 'rate', 'at'], {});
    }
  }

  #expectInput(name: string, kinds: readonly InputKind[], ...at: string[]): boolean {
    const known = Object.keys(this.inputs).filter((input) => kinds.includes(this.inputs[input]!.kind));
    if (known.includes(name)) return true;
    this.report('reel/unknown-input', [...this.path, ...at], { name, known, needs: kinds.join(' or ') });
    return false;
  }

  #checkCondition(input: string, condition: ConditionDocument): void {
    const { report } = this;
    const path = [...this.path, 'if', input];
    if (!this.#expectInput(input, ['number', 'vec2', 'flag'], 'if', input)) return;
    const { kind } = this.inputs[input]!;
    const said = typeof condition === 'object' ? condition : { equals: condition };
    const tests = (['above', 'below', 'equals'] as const).filter((test) => said[test] !== undefined);
    const isSound =
      tests.length === 1 &&
      (kind === 'flag'
        ? typeof said.equals === 'boolean'
        : tests[0] !== 'equals' || (kind === 'number' && isNumber(said.equals))) &&
      (said.until === undefined || tests[0] !== 'equals');
    if (!isSound) {
      report('reel/condition', path, { input, kind, value: condition });
      return;
    }
    const { above, below, until } = said;
    const isTurned = until !== undefined && (above !== undefined ? until > above : until < below!);
    if (isTurned) report('reel/thresholds', [...path, 'until'], { test: tests[0]!, than: (above ?? below)!, until });
  }

  #checkDuring(): void {
    const { rule, rules, report } = this;
    if (!rule.during) return;
    const path = [...this.path, 'during'];
    const other = rules.find(({ name }) => name === rule.during!.rule);
    if (!other) {
      const known = rules.map(({ name }) => name);
      report('reel/unknown-rule', [...path, 'rule'], { name: rule.during.rule, known });
      return;
    }
    const [layer, theirs] = [rule.layer ?? BASE_LAYER, other.layer ?? BASE_LAYER];
    const order = layerOrder(rules);
    if (order.indexOf(theirs) > order.indexOf(layer))
      report('reel/rule-layer', [...path, 'rule'], { name: other.name, layer, other: theirs });
    const { span, cue } = rule.during;
    if (span !== undefined) this.#expectMoment(other, span, [...path, 'span'], 'during');
    if (cue !== undefined) this.#expectMoment(other, cue, [...path, 'cue'], 'during');
  }

  #checkPlayed(): void {
    const { reel, rule, report, path } = this;
    const { play, face, toward } = rule;
    if (play === undefined && face === undefined && toward === undefined)
      report('reel/rule-plays', path, { rule: rule.name, found: 'nothing' });
    else if (play !== undefined && face !== undefined)
      report('reel/rule-plays', path, { rule: rule.name, found: 'both' });
    else if ((face === undefined) !== (toward === undefined)) report('reel/rule-toward', path, { rule: rule.name });
    const clips = Object.keys(reel.clips);
    const chains = Object.keys(reel.chains ?? {});
    if (typeof play === 'string') {
      if (![...clips, ...chains].includes(play))
        report('reel/unknown-clip', [...path, 'play'], { name: play, known: [...clips, ...chains] });
    } else {
      play?.forEach((pick, i) => {
        const isName = typeof pick === 'string';
        const name = isName ? pick : pick.clip;
        const here = [...path, 'play', i, ...(isName ? [] : ['clip'])];
        if (!clips.includes(name)) report('reel/unknown-clip', here, { name, known: clips });
      });
    }
    const facings = Object.keys(reel.facings ?? {});
    if (face !== undefined && !facings.includes(face))
      report('reel/unknown-facing', [...path, 'face'], { name: face, known: facings });
    if (toward !== undefined) this.#expectInput(toward, ['vec2'], 'toward');
    for (const member of ['span', 'from', 'until', 'free'] as const) {
      const moment = rule[member];
      if (typeof moment !== 'string' || (member !== 'free' && member !== 'span' && parseTime(moment, 1) !== undefined))
        continue;
      this.#expectMoment(rule, moment, [...path, member], member);
    }
  }

  /** Each clip that a rule may play has the moment that it is played with; of those to wait for one is enough. */
  #expectMoment(rule: RuleDocument, name: string, path: DocumentPath, member: string): void {
    const onlySpans = member === 'span';
    const clips = clipsOf(this.reel, rule);
    const has = (clip: string) => namesOf(this.reel, clip, onlySpans).includes(name);
    const without = clips.filter((clip) => !has(clip));
    const isWaitedFor = member === 'free' || member === 'during';
    if (isWaitedFor ? without.length < clips.length || clips.length === 0 : without.length === 0) return;
    const known = [...new Set(without.flatMap((clip) => namesOf(this.reel, clip, onlySpans)))];
    this.report('reel/unknown-moment', path, { name, clips: without, known });
  }
}

/** The clips that a rule may play, as far as they exist, each once. */
export function clipsOf(reel: ReelDocument, rule: RuleDocument): string[] {
  return [...new Set(playedBy(reel, rule).map(({ clip }) => clip))];
}

/** What a moment of a clip is: a span; an interval, which is a cue with an end; or a cue. */
export type MomentKind = 'span' | 'interval' | 'cue';

/** The spans and cues of a clip by name; the cues of its parts too. */
export function momentsOf(reel: ReelDocument, clip: string): ReadonlyMap<string, MomentKind> {
  const moments = new Map<string, MomentKind>(Object.keys(reel.clips[clip]?.spans ?? {}).map((name) => [name, 'span']));
  const clips = new Set([clip]);
  // A set that grows while it is read: each clip once, however its parts are nested.
  for (const one of clips) {
    const { cues = [], parts = [] } = reel.clips[one] ?? {};
    for (const { name, until } of cues)
      if (!moments.has(name)) moments.set(name, until === undefined ? 'cue' : 'interval');
    for (const part of parts) clips.add(part.clip);
  }
  return moments;
}

function namesOf(reel: ReelDocument, clip: string, onlySpans: boolean): string[] {
  return [...momentsOf(reel, clip)].flatMap(([name, kind]) => (onlySpans && kind !== 'span' ? [] : [name]));
}
