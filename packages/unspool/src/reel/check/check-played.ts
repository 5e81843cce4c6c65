import type { LoopDocument, ReelDocument, RuleDocument } from '../document/document.js';
import { MAX_RATE } from '../document/limits.js';
import type { DocumentPath, Report } from '../diagnostics/diagnostic-messages.js';
import type { FlatClip } from '../resolve/flatten.js';
import { resolveLoop } from '../resolve/loop.js';
import { arrives, namedMoment } from '../resolve/moment.js';
import { readTime } from '../resolve/read-time.js';
import { parseTime } from '../../time/units.js';

/** A clip that a rule may play, and what the link of a chain says of it. */
export interface Played {
  readonly clip: string;
  readonly span?: string | undefined;
  readonly loop?: LoopDocument | undefined;
  readonly rate?: number | undefined;
  /** Whether it comes after another of its chain: then the rule's `from` is not its own. */
  readonly isLater?: boolean;
}

/** The clips that a rule may play, as far as they exist. */
export function playedBy(reel: ReelDocument, { play = [], face }: RuleDocument): Played[] {
  const named = typeof play === 'string' ? [play] : play.map((pick) => (typeof pick === 'string' ? pick : pick.clip));
  const clips = named.flatMap((name): Played[] => {
    const chain = reel.chains && Object.hasOwn(reel.chains, name) ? reel.chains[name] : undefined;
    if (!chain) return [{ clip: name }];
    return chain.map((link, i) => ({ ...(typeof link === 'string' ? { clip: link } : link), isLater: i > 0 }));
  });
  const facing = face !== undefined && reel.facings && Object.hasOwn(reel.facings, face) ? reel.facings[face]! : {};
  const sides = (
    Array.isArray(facing) ? facing.map(({ clip }: { clip: unknown }) => clip) : Object.values(facing)
  ) as unknown[];
  const all = [...clips, ...sides.flatMap((side): Played[] => (typeof side === 'string' ? [{ clip: side }] : []))];
  return all.filter(({ clip }) => Object.hasOwn(reel.clips, clip));
}

/**
 * Whether what chains and rules play can begin as they say. A player refuses times outside of a clip, lengths below 0 and
 * rates beyond its limit; in a reel they are found here, and not in the middle of a game. What a shorter clip brings about
 * is a warning: nobody is kept from making a clip shorter by a rule that plays it.
 */
export function checkPlayed(reel: ReelDocument, clips: ReadonlyMap<string, FlatClip>, report: Report): void {
  for (const [name, links] of Object.entries(reel.chains ?? {}))
    for (const [i, link] of links.entries()) {
      if (typeof link === 'string') continue;
      const path = ['chains', name, i];
      readTime(link.fade, 1, [...path, 'fade'], report);
      checkRate(link.rate, path, report);
    }
  for (const [name, { rules }] of Object.entries(reel.routines ?? {}))
    for (const [i, rule] of rules.entries()) {
      const path = ['routines', name, 'rules', i];
      for (const member of ['fade', 'fadeOut'] as const) readTime(rule[member], 1, [...path, member], report);
      const rate = typeof rule.rate === 'number' ? rule.rate : 1;
      const played = playedBy(reel, rule);
      // The rate of a rule and that of a link multiply. What is too much by itself is reported with the chain.
      const rates = played.map((one) => one.rate ?? 1).filter((one) => Math.abs(one) <= MAX_RATE);
      const tooFast = rates.map((one) => one * rate).find((one) => Math.abs(one) > MAX_RATE);
      checkRate(tooFast, path, report);
      for (const one of played) {
        const clip = clips.get(one.clip);
        // One message is enough: what is wrong for one clip is mostly wrong for all.
        if (clip && !checkMoments(rule, one, clip, rate, path, report)) break;
      }
    }
}

function checkRate(rate: number | undefined, path: DocumentPath, report: Report): void {
  if (rate !== undefined && Math.abs(rate) > MAX_RATE) report('reel/rate', [...path, 'rate'], { rate });
}

/** Whether a clip has the times that a rule begins and lands at, and comes from the one to the other. */
function checkMoments(
  rule: RuleDocument,
  played: Played,
  clip: FlatClip,
  rate: number,
  path: DocumentPath,
  report: Report,
): boolean {
  const span = played.span ?? rule.span;
  const whole = [0, clip.duration] as const;
  const [low, high] = span !== undefined && Object.hasOwn(clip.spans, span) ? clip.spans[span]! : whole;
  let isGood = true;
  const read = (member: 'from' | 'until', edge: 0 | 1) => {
    const moment = rule[member];
    if (moment === undefined || (member === 'from' && played.isLater)) return undefined;
    // A name that the clip does not have is reported where names are.
    const at = parseTime(moment, clip.fps) ?? namedMoment(clip, String(moment), edge);
    if (at === undefined || (at >= low && at <= high)) return at;
    report('reel/rule-time', [...path, member], { member, value: moment, clip: clip.name, low, high }, 'warning');
    isGood = false;
    return undefined;
  };
  const [from, until] = [read('from', 0), read('until', 1)];
  if (from === undefined || until === undefined) return isGood;
  const loop = played.loop ?? rule.loop;
  const repeat = loop === undefined ? clip.repeat : resolveLoop(loop);
  if (arrives(from, until, repeat, rate * (played.rate ?? 1) * clip.rate)) return isGood;
  report('reel/rule-lands', [...path, 'until'], { clip: clip.name, from, until }, 'warning');
  return false;
}
