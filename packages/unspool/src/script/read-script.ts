import { UnspoolError } from '../errors/error.js';
import { suggest } from '../errors/nearest.js';
import { show } from '../errors/show.js';
import { parseTime, type Time } from '../time/units.js';
import { CALLS, type Actor } from './commands.js';

/** A step of a script: one command at a time, with its options. See docs/reference/trace-scripts.md for the commands. */
export interface ScriptStep {
  /** Seconds since the start, or a string with a unit. Frames are those of the first reel. */
  readonly at: Time;
  /** The player that it is for. Default: the first. */
  readonly player?: string;
  /** The command, such as `play: 'snap'` or `signal: 'attack'`, and its options. */
  readonly [command: string]: unknown;
}

/** What a game does, at times. */
export interface Script {
  readonly about?: string;
  /** How long to run. Default: until the last step. */
  readonly for?: Time;
  /** Sorted by time. */
  readonly steps: readonly ScriptStep[];
}

/** A mistake in a script. */
export class ScriptError extends UnspoolError {
  override readonly name = 'ScriptError';

  constructor(
    /** A JSON Pointer in the script; `''` for all of it. */
    readonly place: string,
    /** What is wrong, without the place and the hint. */
    readonly reason: string,
    hint: string,
  ) {
    super('script/step', `${place === '' ? 'the script' : `${place}:`} ${reason}`, hint);
  }
}

/** A command at its time, ready to be given. */
export interface ReadyStep {
  /** Seconds since the start. */
  readonly at: number;
  readonly player: string;
  run(actor: Actor, tell: (line: object) => void): void;
}

/** Commands that are options of others too: they count when there is no other. */
const ALSO_OPTIONS = ['layer', 'weight', 'rate'];

/**
 * Reads a script. Throws a `ScriptError` for anything that cannot be run.
 *
 * @param fps     of frame times
 * @param players their names, the first for steps without one
 */
export function readScript(
  script: unknown,
  fps: number,
  players: readonly string[],
): { length: number; steps: ReadyStep[] } {
  if (!isObject(script) || !Array.isArray(script['steps']))
    throw new ScriptError('', 'has no "steps"', 'write { "for": "2s", "steps": [{ "at": 0, "play": "snap" }] }');
  const { for: whole, steps, about, ...others } = script;
  for (const name of Object.keys(others))
    throw new ScriptError(`/${name}`, 'is not a known member', suggest(name, ['for', 'steps', 'about']));
  const secondsOf = (time: unknown, place: string) => {
    const seconds = parseTime(time, fps);
    if (seconds !== undefined && seconds >= 0) return seconds;
    const hint = 'use seconds (0.15), frames ("9f") or milliseconds ("150ms")';
    throw new ScriptError(place, `invalid time ${show(time)}`, hint);
  };
  let last = 0;
  const ready = steps.map((step: unknown, i): ReadyStep => {
    const place = `/steps/${i}`;
    if (!isObject(step)) throw new ScriptError(place, 'is not a step', 'write { "at": 0, "play": "snap" }');
    const { at, player = players[0]!, ...members } = step;
    const seconds = secondsOf(at, `${place}/at`);
    if (seconds < last)
      throw new ScriptError(`${place}/at`, 'is earlier than the previous step', 'sort the steps by time');
    last = seconds;
    if (typeof player !== 'string' || !players.includes(player))
      throw new ScriptError(`${place}/player`, `unknown player ${show(player)}`, suggest(String(player), players));
    const named = Object.keys(members).filter((name) => Object.hasOwn(CALLS, name));
    const name =
      named.find((one) => !ALSO_OPTIONS.includes(one)) ?? ALSO_OPTIONS.findLast((one) => named.includes(one));
    if (name === undefined) {
      const odd = Object.keys(members)[0] ?? '';
      throw new ScriptError(place, 'has no command', suggest(odd, Object.keys(CALLS)));
    }
    const { [name]: what, ...options } = members;
    return {
      at: seconds,
      player,
      run: (actor, tell) => give(`${place}/${name}`, () => CALLS[name]!(actor, what as never, options, tell)),
    };
  });
  return { length: whole === undefined ? last : secondsOf(whole, '/for'), steps: ready };
}

/** Gives a command; what the player refuses is told with its place. */
function give(place: string, call: () => void): void {
  try {
    call();
  } catch (error) {
    if (!(error instanceof UnspoolError) && !(error instanceof RangeError)) throw error;
    throw new ScriptError(place, error.message, '');
  }
}

function isObject(value: unknown): value is Readonly<Record<string, unknown>> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}
