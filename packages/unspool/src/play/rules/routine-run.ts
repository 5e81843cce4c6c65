import { mustBePlayer } from '../drive/player-options.js';
import type { ReelNames } from '../../clip/names.js';
import { UnspoolError } from '../../errors/error.js';
import { suggest } from '../../errors/nearest.js';
import { show } from '../../errors/show.js';
import { isNumber } from '../../value/number.js';
import type { PlayerCore } from '../drive/core.js';
import { pick } from '../time/pick.js';
import type { Player } from '../drive/player.js';
import type { Reel } from '../../clip/reel.js';
import type { ChainRun } from '../drive/playback.js';
import type { RoutineState } from '../state/saved.js';
import { MAX_RATE } from '../../reel/document/limits.js';
import { repeatGiven, type PlayOptions } from '../time/settings.js';
import type { LoopDocument } from '../../reel/document/document.js';
import type { RoutineRule } from '../../reel/document/routines.js';
import { DUE } from '../drive/decider.js';
import { makePlaybacks } from '../drive/chain.js';
import { compiledRoutine, type CompiledInput as Input, type CompiledRoutine, type CompiledRule } from './compile.js';
import { choose } from './decide.js';
import { explainRules, type RuleExplanation } from './explain.js';
import { Inputs } from './inputs.js';
import { Lane } from './lane.js';
import type { InputName, InputValue, RuleName, SignalName } from './names.js';
import { loadRoutine, saveRoutine } from './state.js';

/** What a routine needs of a player. */
interface RunningPlayer {
  readonly parts: PlayerCore;
  layer(name: string): unknown;
}

/** The rate that follows an input. */
const RATE = new Float64Array(1);

/** A routine that decides what a player plays. Start it with `startRoutine`. */
export class RoutineRun<N extends ReelNames = ReelNames, R extends N['routine'] = N['routine']> {
  /** The name of the routine. */
  readonly name: R;
  /** @internal */
  isDue = true;
  /** Whether another rule may apply; else inputs have only moved inside their calm ranges, and what plays follows them. */
  #isMarked = true;
  readonly #core: PlayerCore;
  readonly #player: RunningPlayer;
  #routine!: CompiledRoutine;
  #inputs!: Inputs;
  #lanes!: readonly Lane[];
  #begun!: Uint8Array;
  #hasBegun = false;
  #isDeciding = false;

  /** @internal use `startRoutine` */
  constructor(player: RunningPlayer, name: R) {
    const core = player.parts;
    this.name = name;
    this.#core = core;
    this.#player = player;
    this.become();
    for (const { rule, lane } of this.#routine.rules) checkRule(core, rule, this.#lanes[lane]!.layer);
    if (core.routine instanceof RoutineRun) this.#takeOver((core.routine as RoutineRun).#lanes);
    core.startRoutine(this);
  }

  /** @internal */
  become(): void {
    const { reel, layers } = this.#core;
    this.#routine = compiledRoutine(reel.routine(this.name));
    this.#inputs = new Inputs(this.#routine);
    this.#lanes = this.#routine.layers.map(({ name, rules }) => {
      const layer = this.#player.layer(name) as Lane['layer'];
      return new Lane(layer, layer !== layers[0], rules);
    });
    this.#begun = new Uint8Array(this.#routine.rules.length);
  }

  /** @internal Of a routine that is gone as a whole, only what it has begun by conditions: see `stop`. */
  orphans(reel: Reel): readonly object[] {
    const { routines } = reel.facts;
    const next = Object.hasOwn(routines, this.name) ? routines[this.name]! : undefined;
    const { frame } = this.#core;
    for (const rule of next?.rules ?? []) checkRule({ reel, frame, nextSeed: 0 }, rule, this.#lanes[0]!.layer);
    return this.#lanes.flatMap(({ rule, layer, shown }) => {
      if (!rule || !shown) return [];
      const stays = next
        ? next.rules.some((one) => one.name === rule.rule.name && one.layer === layer.name)
        : rule.on >= 0;
      return stays ? [] : [shown];
    });
  }

  /** Whether it decides: until `stop`, until another routine starts, or until the player is restored to before it. */
  get isRunning(): boolean {
    return (this.#core.routine as unknown) === this && !this.#core.isDisposed;
  }

  /** @internal */
  get times(): Float64Array {
    return this.#inputs.numbers;
  }

  /** What another routine has begun is not the game's: it gives way to the first rule that applies here. */
  #takeOver(theirs: readonly Lane[]): void {
    for (const their of theirs) {
      const lane = this.#lanes.find(({ layer }) => layer === their.layer);
      if (!lane) their.end(0);
      else if (their.shown) lane.took(their.shown);
    }
  }

  /**
   * Sets inputs, at any time. What follows from it begins with the next `tick`; inside a handler, at that moment. Throws
   * for an unknown name and for a value of another kind; then nothing is set.
   *
   * @example
   * act.set({ speed: 40, direction: [1, 0] });
   * act.set('speed', 40); // the same, without an object
   */
  set(values: { readonly [I in InputName<N, R>]?: InputValue<N, R, I> }): void;
  /** Sets one input. */
  set<I extends InputName<N, R>>(name: I, value: InputValue<N, R, I>): void;
  set(values: unknown, value?: unknown): void {
    if (typeof values === 'string') {
      const input = this.#inputOf(values);
      checkValue(input, value);
      this.#put(input, value);
      return;
    }
    if (typeof values !== 'object' || values === null || Array.isArray(values))
      throw new UnspoolError('play/input', `${show(values)} has no inputs`, 'pass an object such as { speed: 4 }');
    const given = Object.entries<unknown>(values as Record<string, unknown>);
    const inputs = given.map(([name]) => this.#inputOf(name));
    inputs.forEach((input, i) => checkValue(input, given[i]![1]));
    inputs.forEach((input, i) => this.#put(input, given[i]![1]));
  }

  /** The current value of an input. Throws for an unknown name. */
  get<I extends InputName<N, R>>(name: I): InputValue<N, R, I> {
    const { kind, at } = this.#inputOf(name);
    const { numbers } = this.#inputs;
    if (kind === 'vec2') return [numbers[at]!, numbers[at + 1]!] as never;
    return (kind === 'flag' ? numbers[at] === 1 : numbers[at]!) as never;
  }

  /**
   * Gives a signal. The strongest rule that waits for it and may begin uses it, on each layer once; when none can, it is
   * kept for the time that the reel says, and used as soon as one can. Given again, it is kept anew.
   */
  signal(name: SignalName<N, R>): void {
    const { signals } = this.#routine;
    const place = signals.findIndex((signal) => signal.name === name);
    if (place < 0) {
      const known = signals.map((signal) => signal.name);
      throw new UnspoolError('play/input', `unknown signal ${show(name)} of ${show(this.name)}`, suggest(name, known));
    }
    this.#inputs.signal(place, this.#core.frame.now);
    this.mark();
  }

  /** The rule in force on a layer; `undefined` when none applies. Throws for a layer without rules. */
  rule(layer = 'base'): RuleName<N, R> | undefined {
    const found = this.#lanes.find((lane) => lane.layer.name === layer);
    if (found) return found.rule?.rule.name;
    const known = this.#lanes.map((lane) => lane.layer.name);
    throw new UnspoolError('play/layer', `no rule plays on the layer ${show(layer)}`, suggest(layer, known));
  }

  /** Every rule, the strongest first, with why it plays or does not. */
  explain(): RuleExplanation<RuleName<N, R>>[] {
    this.#core.frame.nowInto(this.#inputs.numbers);
    return explainRules(this.#routine, this.#inputs, this.#lanes);
  }

  /** Ends the routine: from now on the game decides. What plays by conditions stops, what a signal has begun goes on. */
  stop(): void {
    if (!this.isRunning) return;
    this.#core.endRoutine();
    this.#core.frame.guarded(() => this.#lanes.forEach((lane) => this.#leave(lane)));
  }

  #inputOf(name: string): Input {
    const { inputs } = this.#routine;
    for (let i = 0; i < inputs.length; i++)
      if (inputs[i]!.name === name && inputs[i]!.kind !== 'signal') return inputs[i]!;
    const known = inputs.filter(({ kind }) => kind !== 'signal').map((input) => input.name);
    const isSignal = inputs.some((input) => input.name === name);
    const hint = isSignal ? `use signal(${show(name)})` : suggest(name, known);
    throw new UnspoolError('play/input', `${show(name)} is not an input of ${show(this.name)} with a value`, hint);
  }

  #put(input: Input, value: unknown): void {
    const { kind, at } = input;
    const { numbers } = this.#inputs;
    if (kind === 'vec2') {
      const vector = value as readonly [number, number];
      if (numbers[at] === vector[0] && numbers[at + 1] === vector[1]) return;
      numbers[at] = vector[0];
      numbers[at + 1] = vector[1];
    } else {
      const number = kind === 'flag' ? (value === true ? 1 : 0) : (value as number);
      if (numbers[at] === number) return;
      numbers[at] = number;
    }
    this.isDue = true;
    if (!this.#isMarked && !this.#inputs.isCalm(input)) this.#isMarked = true;
  }

  /** @internal */
  mark(): void {
    this.isDue = this.#isMarked = true;
  }

  /** @internal */
  decide(): void {
    if (this.#isDeciding) {
      this.mark();
      return;
    }
    const isMarked = this.#isMarked || this.#hasBegun || this.#inputs.isKept;
    this.isDue = this.#isMarked = false;
    this.#isDeciding = true;
    try {
      if (isMarked) this.#decideNow();
      else this.#followInputs();
    } finally {
      this.#isDeciding = false;
    }
  }

  #decideNow(): void {
    const inputs = this.#inputs;
    this.#core.frame.nowInto(inputs.numbers);
    inputs.update();
    if (this.#hasBegun) this.#begun.fill(0);
    this.#hasBegun = false;
    // Each round begins a rule that has not begun at this moment, or is the last.
    while (this.#decideLanes());
    inputs.expire();
    if (this.#routine.numbers.waiting.length > 0) inputs.findNext();
    if (this.isRunning) this.#core.frame.isTimed = this.#routine.isLinked || inputs.numbers[DUE] !== Infinity;
  }

  /** The rules in force stay, as a decision would find. */
  #followInputs(): void {
    for (let i = 0; i < this.#lanes.length; i++) {
      const lane = this.#lanes[i]!;
      if (lane.rule?.follows === true && !lane.isTaken && this.isRunning) this.#continue(lane, lane.rule);
    }
  }

  /** @returns whether a rule has begun */
  #decideLanes(): boolean {
    let hasBegun = false;
    for (let i = 0; i < this.#lanes.length; i++) {
      const lane = this.#lanes[i]!;
      // A handler may have ended the routine.
      if (!this.isRunning) return false;
      if (lane.isTaken) {
        this.#leave(lane);
        continue;
      }
      const choice = choose(lane, this.#inputs, this.#lanes, this.#begun);
      if (choice === 'none') this.#leave(lane);
      else if (choice === 'keep') this.#continue(lane, lane.rule!);
      else {
        hasBegun = true;
        this.#begin(lane, choice);
      }
    }
    return hasBegun;
  }

  #begin(lane: Lane, rule: CompiledRule): void {
    const before = lane.rule?.rule.name;
    this.#begun[rule.place] = 1;
    this.#hasBegun = true;
    if (rule.on >= 0) this.#inputs.use(rule.lane, rule.on);
    lane.rule = rule;
    lane.since = this.#inputs.now;
    this.#play(lane, rule);
    this.#tell(lane, before);
  }

  /** Begins something that is watched if the rule is. */
  #play(lane: Lane, rule: CompiledRule): void {
    const { frame } = this.#core;
    frame.isWatched = rule.isWatched;
    try {
      this.#start(lane, rule);
    } finally {
      frame.isWatched = false;
    }
  }

  #start(lane: Lane, compiled: CompiledRule): void {
    const { layer } = lane;
    const { rule, on, toward, rateAt } = compiled;
    RATE[0] = rule.rate;
    if (rateAt >= 0) this.#readRate(compiled, 1);
    const options: PlayOptions = {
      ...rule.options,
      rate: RATE[0],
      ...(on >= 0 && lane.isAbove && { after: 'rest' as const }),
    };
    if (rule.face !== undefined) {
      const { numbers } = this.#inputs;
      lane.x = numbers[toward]!;
      lane.y = numbers[toward + 1]!;
      lane.took(this.#core.face(layer, rule.face, [lane.x, lane.y], options, true));
      return;
    }
    const { clip } = rule.picks ? pick(rule.play, lane.picked, this.#core.nextSeed++) : rule.play[0]!;
    lane.picked = clip;
    lane.took(layer.play(clip, rule.picks ? { ...options, loop: roundOf(this.#core, clip, options) } : options));
  }

  /** A rule stays in force: it follows its inputs, and picks again when what it has picked has ended. */
  #continue(lane: Lane, rule: CompiledRule): void {
    const playback = lane.shown;
    if (!playback) return;
    if (rule.on < 0 && rule.picks && playback.state === 'ended' && playback.length > 0) {
      this.#play(lane, rule);
      return;
    }
    if (rule.toward >= 0 && rule.on < 0) this.#turn(lane, rule);
    if (rule.rateAt < 0 || !playback.active) return;
    const link = playback.chain && this.#core.reel.chain(playback.chain.name)[playback.chain.links.indexOf(playback)];
    this.#readRate(rule, link?.rate ?? 1);
    lane.shown.takeRate(RATE);
  }

  #turn(lane: Lane, { rule, toward, isWatched }: CompiledRule): void {
    const { numbers } = this.#inputs;
    const x = numbers[toward]!;
    const y = numbers[toward + 1]!;
    if (x === lane.x && y === lane.y) return;
    lane.x = x;
    lane.y = y;
    const { active, rate } = lane.shown!;
    if (!active) return;
    this.#core.frame.isWatched = isWatched;
    lane.took(this.#core.face(lane.layer, rule.face!, [x, y], { ...rule.options, rate }));
    this.#core.frame.isWatched = false;
  }

  /** The rate that follows an input, written into an array. */
  #readRate({ rateUnit, rateAt, isRateLength }: CompiledRule, scale: number): void {
    const { numbers } = this.#inputs;
    const x = numbers[rateAt]!;
    const y = isRateLength ? numbers[rateAt + 1]! : 0;
    const value = isRateLength ? Math.sqrt(x * x + y * y) : x;
    RATE[0] = Math.max(-MAX_RATE, Math.min(MAX_RATE, (value / rateUnit) * scale));
  }

  /** No rule applies on a layer. What was played for its conditions stops; what a signal has begun has ended. */
  #leave(lane: Lane): void {
    const { rule } = lane;
    if (!rule) return;
    lane.rule = undefined;
    if (rule.on < 0) lane.end(rule.rule.options.fadeOut ?? 0);
    this.#tell(lane, rule.rule.name);
  }

  #tell({ rule, layer }: Lane, before: string | undefined): void {
    const { frame } = this.#core;
    const name = rule?.rule.name;
    frame.lastEvent = `rule ${show(name)}`;
    frame.emitNow({ type: 'rule', name, before, layer: layer.name, time: frame.now, late: frame.late });
  }

  /** @internal */
  save(chainOf: (run: ChainRun | undefined) => number): RoutineState {
    return saveRoutine(this.name, this.#inputs, this.#lanes, this.isDue, chainOf);
  }

  /** @internal */
  load(state: RoutineState, runs: readonly ChainRun[]): void {
    loadRoutine(state, this.#inputs, this.#lanes, runs);
    this.isDue = state.isDue;
    this.#isMarked = true;
    this.#core.frame.nowInto(this.#inputs.numbers);
    this.#inputs.findNext();
  }
}

/** A pick plays one round, however its clip loops: then the next is picked. */
function roundOf(core: PlayerCore, clip: string, { loop }: PlayOptions): LoopDocument {
  const { mode, count } = loop === undefined ? core.reel.clip(clip).repeat : repeatGiven(loop);
  return { mode, count: count === Infinity ? (mode === 'ping-pong' ? 2 : 1) : count };
}

/** Throws for a rule that could not begin: the game is told at the start, and not in the middle of a fight. */
function checkRule(
  core: Pick<PlayerCore, 'reel' | 'frame' | 'nextSeed'>,
  rule: RoutineRule,
  layer: Lane['layer'],
): void {
  const { face, play, options, rate } = rule;
  const names = face === undefined ? play.map(({ clip }) => clip) : core.reel.facing(face).map(({ clip }) => clip);
  for (const name of names) makePlaybacks(core, layer, name, { ...options, rate }, 'rule');
}

/** Throws for a value that an input cannot have. */
function checkValue({ name, kind }: Input, value: unknown): void {
  if (kind === 'number' ? isNumber(value) : kind === 'flag' ? typeof value === 'boolean' : isVector(value)) return;
  const form = kind === 'number' ? 'a finite number' : kind === 'flag' ? 'true or false' : 'two finite numbers';
  throw new UnspoolError('play/input', `${show(value)} is not a value of the input ${show(name)}`, `use ${form}`);
}

function isVector(value: unknown): boolean {
  return Array.isArray(value) && value.length === 2 && isNumber(value[0]) && isNumber(value[1]);
}

/**
 * Starts a routine of the reel: from now on its rules decide what a player plays, at every moment of `tick`. A player
 * runs one routine: another takes its place, and the same one continues. What the game plays itself is left alone until
 * it ends.
 *
 * @throws UnspoolError `reel/unknown-routine` for an unknown name; and for a rule whose times lie outside its clip
 * @example
 * const act = startRoutine(player, 'crab');
 * act.set({ speed: 40 });
 * act.signal('attack');
 */
export function startRoutine<N extends ReelNames, R extends N['routine'], Target>(
  player: Player<N, Target>,
  name: R,
): RoutineRun<N, R> {
  mustBePlayer(player);
  const running = player.parts.routine as unknown;
  if (running instanceof RoutineRun && running.name === name) return running as RoutineRun<N, R>;
  return new RoutineRun<N, R>(player, name);
}
