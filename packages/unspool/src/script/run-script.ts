import { checkOptions } from '../errors/check-options.js';
import { isObject } from '../errors/is-object.js';
import { Reel } from '../clip/reel.js';
import { UnspoolError } from '../errors/error.js';
import { show } from '../errors/show.js';
import { EVENT_TYPES } from '../play/time/event-types.js';
import { Player } from '../play/drive/player.js';
import type { RuleExplanation } from '../play/rules/explain.js';
import { toSeconds, type Time } from '../time/units.js';
import type { Value } from '../value/read.js';
import type { Actor } from './commands.js';
import { readScript, type Script } from './read-script.js';

/** Options of `runScript`. */
export interface RunOptions {
  /** The length of a frame. Default: `'1f'`. */
  readonly step?: Time;
  /** Cuts a time of so many seconds into frames, in place of `step`: for random frames. Each is above 0. */
  readonly frames?: (seconds: number) => Iterable<number>;
  /** How long to run, in place of the script's own `for`. */
  readonly for?: Time;
  /** The seed of players that are made for reels. Default: 1. */
  readonly seed?: number;
  /** Receives each line as soon as it is certain. Default: nobody. */
  readonly tell?: (line: ScriptLine) => void;
}

/** What a script has brought about: an event of a player, or what a step has asked for. */
export interface ScriptLine {
  /** Seconds since the start, rounded to nanoseconds. */
  readonly time: number;
  /** The type of the event; `read` and `explain` are answers to steps. */
  readonly event: string;
  /** The name of the player, when there are several. */
  readonly player?: string;
  readonly clip?: string;
  /** The name of a cue, gauge or rule. */
  readonly name?: string;
  /** The `data` of a cue. */
  readonly data?: unknown;
  /** The value of a gauge. */
  readonly value?: number;
  readonly iteration?: number;
  /** It was passed over by `finish`. */
  readonly skipped?: true;
  /** Of a rule: the one before, and the layer. */
  readonly before?: string;
  readonly layer?: string;
  /** Of `read`: values by property. */
  readonly values?: Readonly<Record<string, Value>>;
  /** Of `explain`. */
  readonly rules?: readonly RuleExplanation[];
}

/** A reel, for which a player is made, or a player of the game's own. */
export type ScriptActor = Reel | Player;

/**
 * Runs a script without a screen: commands to players at times, and what comes of them, in order of time. The result
 * does not depend on the length of the frames.
 *
 * @param actors reels or players by name; or one of them
 * @param script plain data, as in a file for `unspool trace --script`
 * @throws ScriptError with the place of a mistake in the script
 *
 * @example
 * const lines = runScript(reel, {
 *   for: '2s',
 *   steps: [
 *     { at: 0, routine: 'crab' },
 *     { at: '0.5s', signal: 'attack' },
 *     { at: '0.6s', read: ['claw.rotation'] },
 *   ],
 * });
 */
export function runScript(
  actors: ScriptActor | Readonly<Record<string, ScriptActor>>,
  script: Script,
  options: RunOptions = {},
): ScriptLine[] {
  checkOptions(options, ['step', 'frames', 'for', 'seed', 'tell'], 'runScript', 'script');
  const named = actors instanceof Reel || actors instanceof Player ? { player: actors } : actors;
  if (!isObject(named))
    throw new UnspoolError(
      'script/players',
      `expected reels or players, found ${show(named)}`,
      'pass a reel or a player',
    );
  const names = Object.keys(named);
  if (names.length === 0) throw new UnspoolError('script/players', 'no players were given', 'pass a reel or a player');
  const players = names.map((name): Actor & { readonly name: string } => {
    const one = named[name]!;
    return { name, player: one instanceof Player ? one : new Player(one, { name, seed: options.seed ?? 1 }) };
  });
  const { fps } = players[0]!.player.reel.facts;
  const { length, steps } = readScript(script, fps, names);
  const whole = options.for === undefined ? length : toSeconds(options.for, fps, 'for');
  const run = new Run(players, options, toSeconds(options.step ?? '1f', fps, 'step'));
  try {
    for (const step of steps) {
      if (step.at > whole) break;
      run.go(step.at);
      run.step(step.player, (actor, tell) => step.run(actor, tell));
    }
    run.go(whole);
  } finally {
    run.end();
  }
  return run.lines;
}

class Run {
  readonly lines: ScriptLine[] = [];
  #fresh: ScriptLine[] = [];
  #now = 0;
  readonly #starts: readonly number[];
  readonly #ends: (() => void)[] = [];

  constructor(
    private readonly actors: readonly (Actor & { readonly name: string })[],
    private readonly options: RunOptions,
    private readonly frame: number,
  ) {
    this.#starts = actors.map(({ player }) => player.time);
    actors.forEach((actor, i) => {
      for (const type of EVENT_TYPES) {
        const hear = (event: object) => this.#hear(i, event as Heard);
        actor.player.on(type, hear);
        this.#ends.push(() => actor.player.off(type, hear));
      }
    });
  }

  #hear(i: number, { type, time, clip, name, data, value, iteration, skipped, before, layer }: Heard): void {
    const all = { clip, name, data, value, iteration, skipped, before, ...(type === 'rule' && { layer }) };
    const known = Object.entries(all).filter(([, one]) => one !== undefined);
    this.#add(i, time - this.#starts[i]!, { event: type, ...Object.fromEntries(known) });
  }

  #add(i: number, time: number, line: { readonly event: string }): void {
    // To the nanosecond: how time was cut into frames shows in no digit.
    const { name } = this.actors[i]!;
    this.#fresh.push({
      time: Math.round(time * 1e9) / 1e9,
      ...(this.actors.length > 1 && { player: name }),
      ...line,
    });
  }

  /** Ticks all players to a time. The last frame ends exactly there. */
  go(to: number): void {
    if (to > this.#now) {
      for (const dt of this.options.frames?.(to - this.#now) ?? evenly(to - this.#now, this.frame)) {
        if (!(dt > 0)) throw new UnspoolError('script/frames', `a frame of ${show(dt)} s`, 'use seconds above 0');
        this.#tick(Math.min(to, this.#now + dt));
        if (this.#now >= to) break;
      }
      this.#tick(to);
    }
    this.#flush();
  }

  #tick(to: number): void {
    this.actors.forEach(({ player }, i) => {
      const left = to - (player.time - this.#starts[i]!);
      if (left > 0) player.tick(left);
    });
    this.#now = to;
  }

  /** Gives a command; what begins with it begins now. */
  step(name: string, give: (actor: Actor, tell: (line: object) => void) => void): void {
    const i = this.actors.findIndex((actor) => actor.name === name);
    const actor = this.actors[i]!;
    give(actor, (line) => this.#add(i, this.#now, line as { readonly event: string }));
    actor.player.tick(0);
    this.#flush();
  }

  /** What players tell in one frame comes in the order of time. */
  #flush(): void {
    const fresh = this.#fresh.sort((a, b) => a.time - b.time);
    this.#fresh = [];
    this.lines.push(...fresh);
    for (const line of fresh) this.options.tell?.(line);
  }

  end(): void {
    for (const end of this.#ends) end();
  }
}

interface Heard {
  readonly type: string;
  readonly time: number;
  readonly [member: string]: unknown;
}

function* evenly(seconds: number, frame: number): Generator<number> {
  for (let left = seconds; left > 0; left -= frame) yield Math.min(left, frame);
}
