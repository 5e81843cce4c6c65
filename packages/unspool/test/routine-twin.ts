import {
  clipsOf,
  duringOf,
  layersOf,
  type Act,
  type ClipPlan,
  type RoutinePlan,
  type RulePlan,
} from './random-routine.js';

/**
 * A slow twin of routines, from the laws in docs/reference/routines.md: one event after another, on plain objects, with
 * times in 64ths of a second. Shares no code with the library.
 */
interface Head {
  readonly owner: number | 'game';
  readonly clips: readonly ClipPlan[];
  link: number;
  /** The playhead, its direction, and its iteration. */
  at: number;
  up: boolean;
  /** The place where everything has happened that happens there. */
  done: number | undefined;
  round: number;
  rate: number;
  until: number | undefined;
  state: 'new' | 'running' | 'landed' | 'ended' | 'stopped';
}

export interface TwinEvent {
  readonly time: number;
  readonly name: string | undefined;
  readonly before: string | undefined;
  readonly layer: string;
}

type Value = number | boolean | readonly [number, number];

const isLast = ({ loop }: ClipPlan, round: number) =>
  loop === 'once' || (typeof loop === 'object' && round + 1 >= loop.count);
const turns = ({ loop }: ClipPlan) => loop === 'ping-pong' || (typeof loop === 'object' && loop.mode === 'ping-pong');

export class RoutineTwin {
  now = 0;
  readonly events: TwinEvent[] = [];
  /** What has come about at least once, so that a test can see what its cases reach. */
  readonly seen = new Set<string>();
  readonly force = new Map<string, number>();
  readonly heads = new Map<string, Head>();
  readonly #inputs: Record<string, Value> = { n: 0, m: 0, r: 2, v: [0, 0], f: true };
  readonly #signals = new Map<string, number>();
  readonly #held = new Map<string, number>();
  readonly #order: readonly string[];

  constructor(readonly plan: RoutinePlan) {
    this.#order = layersOf(plan);
  }

  do(act: Act): void {
    if ('set' in act) Object.assign(this.#inputs, act.set);
    else if ('signal' in act) this.signal(act.signal);
    else if ('play' in act) this.heads.set(act.layer, this.#head('game', [this.plan.clips[act.play]!], 1, undefined));
    else {
      const head = this.heads.get(act.stop);
      if (head && head.state !== 'ended') head.state = 'stopped';
    }
  }

  signal(signal: number): void {
    for (const layer of this.#order) this.#signals.set(`${layer} ${signal}`, this.now);
  }

  #head(owner: Head['owner'], clips: readonly ClipPlan[], rate: number, until: number | undefined): Head {
    return { owner, clips, rate, until, link: 0, at: 0, up: true, done: undefined, round: 0, state: 'new' };
  }

  /** Goes to a time, decision by decision. `onPass` hears the cue `pass` of what plays. */
  run(to: number, onPass: () => void): void {
    this.#decide();
    for (;;) {
      let next = Infinity;
      let who: string | undefined;
      for (const layer of ['base', 'top']) {
        const due = this.now + this.#wait(this.heads.get(layer));
        if (due < next) [next, who] = [due, layer];
      }
      const timer = this.#timer();
      if (timer < next) [next, who] = [timer, undefined];
      if (next > to) break;
      this.#move(next);
      if (who !== undefined) this.#arrive(this.heads.get(who)!, onPass);
      this.#decide();
    }
    this.#move(to);
  }

  #move(to: number): void {
    for (const head of this.heads.values())
      if (head.state === 'running') head.at += (to - this.now) * head.rate * (head.up ? 1 : -1);
    this.now = to;
  }

  #stops({ clips, link, until }: Head): number[] {
    const { duration, pass, window } = clips[link]!;
    return [0, duration, pass, ...window, ...(until === undefined ? [] : [until])];
  }

  /** How long until the next thing happens to a playhead. */
  #wait(head: Head | undefined): number {
    if (head?.state === 'new') return 0;
    if (head?.state !== 'running' || head.rate === 0) return Infinity;
    const { up, at, clips, link } = head;
    if (at === (up ? clips[link]!.duration : 0)) return 0;
    const ahead = this.#stops(head).filter((stop) => stop !== head.done);
    return Math.min(...ahead.map((stop) => (up ? stop - at : at - stop)).filter((way) => way >= 0)) / head.rate;
  }

  #isAtEnd = new WeakSet<Head>();

  /** Something happens where a playhead is now. */
  #arrive(head: Head, onPass: () => void): void {
    const clip = head.clips[head.link]!;
    if (head.state === 'new') {
      Object.assign(head, { state: 'running', done: head.at });
      return;
    }
    const end = head.up ? clip.duration : 0;
    head.done = head.at;
    if (head.at === end && this.#isAtEnd.has(head)) {
      this.#isAtEnd.delete(head);
      this.#turn(head, clip);
      return;
    }
    if (head.at === end) this.#isAtEnd.add(head);
    if (head.at === clip.pass) onPass();
    if (head.at === head.until) head.state = 'landed';
  }

  #turn(head: Head, clip: ClipPlan): void {
    if (isLast(clip, head.round)) {
      const isOver = head.link + 1 >= head.clips.length;
      if (isOver) head.state = 'ended';
      else Object.assign(head, { link: head.link + 1, at: 0, up: true, round: 0, state: 'new' });
      return;
    }
    head.round++;
    head.done = undefined;
    if (turns(clip)) head.up = !head.up;
    else head.at = 0;
  }

  // The rules

  #test({ input, condition }: RulePlan['conditions'][number], was: boolean): boolean {
    const value = this.#inputs[input]!;
    if (typeof condition !== 'object') return value === condition;
    if (condition.equals !== undefined) return value === condition.equals;
    const n = Array.isArray(value) ? Math.hypot(...(value as number[])) : (value as number);
    if (condition.above !== undefined) return n > (was ? condition.until! : condition.above);
    return n < (was ? condition.until! : condition.below!);
  }

  #update(): void {
    this.plan.rules.forEach(({ conditions }, place) => {
      for (const condition of conditions) {
        const key = `${place} ${condition.input}`;
        const holds = this.#test(condition, this.#held.has(key));
        if (!holds) this.#held.delete(key);
        else if (!this.#held.has(key)) this.#held.set(key, this.now);
      }
    });
  }

  #timer(): number {
    const times = this.plan.rules.flatMap(({ conditions }, place) =>
      conditions.flatMap(({ input, for: units }) => {
        const since = this.#held.get(`${place} ${input}`);
        return since !== undefined && units > 0 && since + units > this.now ? [since + units] : [];
      }),
    );
    return Math.min(Infinity, ...times);
  }

  #apply(place: number): boolean {
    return this.plan.rules[place]!.conditions.every(({ input, for: units }) => {
      const since = this.#held.get(`${place} ${input}`);
      return since !== undefined && this.now - since >= units;
    });
  }

  #waits(place: number): boolean {
    const { on, layer } = this.plan.rules[place]!;
    const since = this.#signals.get(`${layer} ${on}`);
    return since !== undefined && this.now - since <= this.plan.keeps[on!]!;
  }

  #reached(head: Head, moment: 'pass' | 'window'): boolean {
    if (head.state === 'ended' || head.state === 'stopped') return false;
    const { pass, window, duration } = head.clips[head.link]!;
    const [low, high] = window;
    const { at, up } = head;
    if (moment === 'pass') return up ? at >= pass : at <= pass;
    if (head.state === 'new' || at < low || at > high) return false;
    if (at > low && at < high) return true;
    const goesBack =
      turns(head.clips[head.link]!) && !isLast(head.clips[head.link]!, head.round) && at === (up ? duration : 0);
    return goesBack || at === (up ? low : high);
  }

  #during(place: number): boolean {
    const other = duringOf(this.plan, place);
    if (other === undefined) return true;
    const { layer } = this.plan.rules[other]!;
    const head = this.heads.get(layer);
    if (this.force.get(layer) !== other || head?.owner !== other) return false;
    const { moment } = this.plan.rules[place]!.during!;
    return moment === undefined || this.#reached(head, moment);
  }

  hasFloor(layer: string): boolean {
    const place = this.force.get(layer);
    const head = this.heads.get(layer);
    if (place === undefined || this.plan.rules[place]!.on === undefined || head?.owner !== place) return false;
    return head.state === 'new' || head.state === 'running';
  }

  isFree(layer: string): boolean {
    const { free } = this.plan.rules[this.force.get(layer)!]!;
    return free !== undefined && this.#reached(this.heads.get(layer)!, free);
  }

  isTaken(layer: string): boolean {
    const head = this.heads.get(layer);
    return head?.owner === 'game' && (head.state === 'new' || head.state === 'running');
  }

  #isHeld(layer: string): boolean {
    const place = this.force.get(layer);
    const head = this.heads.get(layer);
    return (
      place !== undefined &&
      this.plan.rules[place]!.on === undefined &&
      head?.owner === place &&
      head.state !== 'stopped'
    );
  }

  #stays(place: number): boolean {
    const other = duringOf(this.plan, place);
    const isOwn = other !== undefined && this.plan.rules[other]!.layer === this.plan.rules[place]!.layer;
    return this.#apply(place) && (isOwn || this.#during(place));
  }

  #mayBegin(place: number): boolean {
    return (
      (this.plan.rules[place]!.on === undefined || this.#waits(place)) && this.#apply(place) && this.#during(place)
    );
  }

  hasReason(place: number): boolean {
    const { on, conditions, during } = this.plan.rules[place]!;
    return on !== undefined || conditions.length > 0 || during !== undefined;
  }

  #decide(): void {
    this.#update();
    const begun = new Set<number>();
    for (let again = true; again;) {
      again = false;
      for (const layer of this.#order) {
        const current = this.force.get(layer);
        if (this.isTaken(layer)) {
          this.seen.add('the game plays');
          this.#leave(layer);
          continue;
        }
        const floor = this.hasFloor(layer);
        const closed = floor && !this.isFree(layer);
        const isHeld = this.#isHeld(layer);
        const winner = this.plan.rules.findIndex((rule, place) => {
          if (rule.layer !== layer) return false;
          if (closed && place >= current!) return false;
          if (isHeld && place === current) return this.#stays(place);
          if (floor && place > current! && !this.hasReason(place)) return false;
          return !begun.has(place) && this.#mayBegin(place);
        });
        if (winner >= 0 && !(isHeld && winner === current)) {
          begun.add(winner);
          this.#begin(layer, winner);
          again = true;
        } else if (winner < 0 && !floor) this.#leave(layer);
        else this.#goOn(layer);
      }
    }
    for (const [key, since] of this.#signals)
      if (this.now - since > this.plan.keeps[Number(key.split(' ')[1])]!) this.#signals.delete(key);
  }

  #rateOf({ rate }: RulePlan): number {
    return rate === 'input' ? (this.#inputs['r'] as number) / 2 : rate;
  }

  #play(layer: string, place: number): void {
    const rule = this.plan.rules[place]!;
    const clips = clipsOf(rule).map((i) => this.plan.clips[i]!);
    const until = rule.until && rule.play.as !== 'chain' ? clips[0]!.pass : undefined;
    const round = clips.map((clip): ClipPlan => {
      if (rule.play.as !== 'list' || typeof clip.loop === 'object') return clip;
      return { ...clip, loop: clip.loop === 'ping-pong' ? { mode: 'ping-pong', count: 2 } : 'once' };
    });
    this.heads.set(layer, this.#head(place, round, this.#rateOf(rule), until));
  }

  #begin(layer: string, place: number): void {
    const rule = this.plan.rules[place]!;
    const before = this.force.get(layer);
    this.#note(layer, place, before);
    if (rule.on !== undefined) this.#signals.delete(`${layer} ${rule.on}`);
    this.force.set(layer, place);
    this.#play(layer, place);
    this.#tell(layer, before);
  }

  #note(layer: string, place: number, before: number | undefined): void {
    const { on, during, conditions } = this.plan.rules[place]!;
    if (on !== undefined && this.#signals.get(`${layer} ${on}`)! < this.now) this.seen.add('a kept signal is used');
    if (during?.moment !== undefined) this.seen.add('begins during a moment');
    if (conditions.some(({ for: units }) => units > 0)) this.seen.add('has held for long enough');
    if (!this.hasFloor(layer)) return;
    this.seen.add(before === place ? 'begins again' : before! > place ? 'a stronger one cuts' : 'a weaker one cuts');
  }

  /** Why a rule plays or does not; see `RuleReason`. */
  why(place: number): string {
    const { layer, on, conditions } = this.plan.rules[place]!;
    const current = this.force.get(layer);
    if (current === place) return 'in-force';
    if (this.isTaken(layer)) return 'game';
    if (on !== undefined && !this.#waits(place)) return 'signal';
    const applies = conditions.every((one) => {
      const since = this.#held.get(`${place} ${one.input}`);
      if (!this.#test(one, since !== undefined)) return false;
      return since === undefined ? one.for === 0 : this.now - since >= one.for;
    });
    if (!applies) return 'condition';
    if (!this.#during(place)) return 'during';
    if (current === undefined || place < current) return 'next';
    if (this.hasFloor(layer) && !(this.isFree(layer) && this.hasReason(place))) return 'floor';
    return 'weaker';
  }

  /** The rule in force follows its inputs, and picks again. */
  #goOn(layer: string): void {
    const place = this.force.get(layer)!;
    const rule = this.plan.rules[place]!;
    const head = this.heads.get(layer)!;
    if (head.owner !== place) return;
    if (rule.on === undefined && rule.play.as === 'list' && head.state === 'ended') {
      this.seen.add('picks again');
      this.#play(layer, place);
    } else if (rule.rate === 'input' && head.state !== 'ended') head.rate = this.#rateOf(rule);
  }

  #leave(layer: string): void {
    const place = this.force.get(layer);
    if (place === undefined) return;
    this.force.delete(layer);
    const head = this.heads.get(layer);
    if (this.plan.rules[place]!.on === undefined && head?.owner === place && head.state !== 'ended')
      head.state = 'stopped';
    this.#tell(layer, place);
  }

  #tell(layer: string, before: number | undefined): void {
    const place = this.force.get(layer);
    const nameOf = (rule: number | undefined) => (rule === undefined ? undefined : `r${rule}`);
    this.events.push({ time: this.now, name: nameOf(place), before: nameOf(before), layer });
  }
}
