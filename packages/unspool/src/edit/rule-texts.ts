import { clipsOf, momentsOf, type MomentKind } from '../reel/check/check-routines.js';
import type { ConditionDocument, LoopDocument, ReelDocument, RuleDocument } from '../reel/document/document.js';
import type { Time } from '../time/units.js';

export type { MomentKind };

/** What a rule of a routine says, in words: for tables of rules. */
export interface RuleText {
  /** `on attack, submerged, during snap (recovery)`; `always` for a rule without a reason. */
  readonly when: string;
  /** `snap (fade 2f)`, `sway 5 | blink 1`, `facing scuttle toward direction (rate speed / 60)`. */
  readonly plays: string;
}

/** Puts a rule into words. */
export function ruleText(rule: RuleDocument): RuleText {
  return { when: whenText(rule), plays: playText(rule) };
}

/** The spans, intervals and cues of all that a rule may play, by name. */
export function ruleMoments(document: ReelDocument, rule: RuleDocument): ReadonlyMap<string, MomentKind> {
  return new Map(clipsOf(document, rule).flatMap((clip) => [...momentsOf(document, clip)]));
}

const timeText = (time: Time) => (typeof time === 'number' ? `${time}s` : time);

function whenText({ on, if: conditions = {}, during }: RuleDocument): string {
  const parts = on === undefined ? [] : [`on ${on}`];
  for (const [input, condition] of Object.entries(conditions)) parts.push(conditionText(input, condition));
  if (during) parts.push(`during ${during.rule}${during.span || during.cue ? ` (${during.span ?? during.cue})` : ''}`);
  return parts.join(', ') || 'always';
}

function conditionText(input: string, condition: ConditionDocument): string {
  const {
    above,
    below,
    until,
    equals,
    for: length,
  } = typeof condition === 'object' ? condition : { equals: condition };
  const end = until === undefined ? '' : ` until ${until}`;
  const held = length === undefined ? '' : ` for ${timeText(length)}`;
  if (above !== undefined) return `${input} above ${above}${end}${held}`;
  if (below !== undefined) return `${input} below ${below}${end}${held}`;
  if (typeof equals === 'boolean') return `${equals ? '' : 'not '}${input}${held}`;
  return `${input} = ${String(equals)}${held}`;
}

function playText({ play = [], face, toward, rate, span, from, until, loop, fade, fadeOut }: RuleDocument): string {
  const share = (one: (typeof play)[number]) => (typeof one === 'string' ? one : `${one.clip} ${one.share ?? 1}`);
  const played = typeof play === 'string' ? play : play.map(share).join(' | ');
  const what = face === undefined ? played : `facing ${face} toward ${toward}`;
  const facts = Object.entries({ span, from, until, fade, fadeOut }).flatMap(([key, value]) =>
    value === undefined ? [] : [`${key} ${typeof value === 'number' ? `${value}s` : value}`],
  );
  if (loop !== undefined) facts.push(writtenLoop(loop));
  if (typeof rate === 'number') facts.push(`rate ${rate}`);
  else if (rate) facts.push(`rate ${rate.input} / ${rate.at}`);
  return facts.length > 0 ? `${what} (${facts.join(', ')})` : what;
}

/** A loop as a reel writes it: `loop ×3`. */
export function writtenLoop(loop: LoopDocument): string {
  return typeof loop === 'string' ? loop : `${loop.mode}${loop.count === undefined ? '' : ` ×${loop.count}`}`;
}
