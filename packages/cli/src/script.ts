import { easing, parseTime, suggest, UnspoolError, type Player, type Time } from 'unspool';
import { CallError } from './failure.js';

/** What a script of `trace` says: commands at times, as a game would give them. */
interface Step {
  readonly at: Time;
  readonly [member: string]: unknown;
}

/** One command at its time, ready to be given. */
export interface Command {
  /** Seconds since the start. */
  readonly at: number;
  run(player: Player, tell: (line: object) => void): void;
}

type Options = Readonly<Record<string, unknown>>;
type Call = (player: Player, what: never, options: Options, tell: (line: object) => void) => void;

const playback = (player: Player, { layer }: Options) => {
  const found = player.layer(layer as string | undefined).playback;
  if (found) return found;
  throw new UnspoolError('trace/idle', 'nothing has been played on this layer', 'play a clip first');
};

/** The commands by the member that names them. The other members of a step are its options. */
const CALLS: Readonly<Record<string, Call>> = {
  play: (player, name: string, options) => void player.play(name, options),
  enqueue: (player, name: string, options) => void player.enqueue(name, options),
  fallback: (player, name: string | null, options) => void player.fallback(name ?? undefined, options),
  stop: (player, layer: string, options) => player.layer(layer).stop(options),
  clear: (player, layer: string) => player.layer(layer).clear(),
  pause: (player, layer: string) => playback(player, { layer }).pause(),
  resume: (player, layer: string, options) => playback(player, { layer }).resume(options),
  reverse: (player, layer: string) => playback(player, { layer }).reverse(),
  rate: (player, rate: number, options) => (playback(player, options).rate = rate),
  seek: (player, time: Time, options) => playback(player, options).seek(time, options),
  weight: (player, weight: number, options) => (player.layer(options['layer'] as string).weight = weight),
  layer: (player, name: string, options) => void player.layer(name, options),
  face: (player, name: string, { toward, ...options }) => void player.face(name, toward as [number, number], options),
  place: (player, placement: object) => void player.place(placement),
  gauge: (player, name: string, options) => {
    const { value, jump, min, max } = options as Readonly<Record<string, number>>;
    if ('clip' in options) {
      const trail = options['trail'] as Options | undefined;
      const made = { ...withEase(options), ...(trail && { trail: withEase(trail) }) };
      player.gauge(name, made as unknown as Parameters<Player['gauge']>[1]);
      return;
    }
    const gauge = player.gauge(name);
    const { keep } = options as { readonly keep?: 'value' | 'share' };
    if (min !== undefined || max !== undefined) {
      gauge.resize({ ...(min !== undefined && { min }), ...(max !== undefined && { max }), ...(keep && { keep }) });
    }
    if (jump !== undefined) gauge.jump(jump);
    if (value !== undefined) gauge.value = value;
  },
  read: (player, names: readonly string[], _, tell) => {
    const values = Object.fromEntries(names.map((name) => [name, player.pose.get(name)]));
    tell({ time: player.time, event: 'read', values });
  },
};

function withEase(options: Options): Options {
  return typeof options['ease'] === 'string' ? { ...options, ease: easing(options['ease']) } : options;
}

/**
 * Reads a script: `{ "for": time, "steps": [{ "at": time, "play": "snap", … }] }`. Problems are reported with their
 * place, as a JSON Pointer.
 *
 * @param fps of frame times
 */
export function readScript(text: string, file: string, fps: number): { length: number; commands: Command[] } {
  const fail = (place: string, message: string, hint: string) => new CallError(`${file}${place}: ${message}`, hint);
  let script: unknown;
  try {
    script = JSON.parse(text);
  } catch (error) {
    throw fail('', `is not valid JSON: ${(error as Error).message}`, 'write { "for": "2s", "steps": [] }');
  }
  if (!isObject(script) || !Array.isArray(script['steps']))
    throw fail('', 'has no "steps"', 'write { "for": "2s", "steps": [{ "at": 0, "play": "snap" }] }');
  const { for: whole, steps, about, ...others } = script;
  for (const name of Object.keys(others))
    throw fail(`/${name}`, 'is not a known member', suggest(name, ['for', 'steps', 'about']));
  const secondsOf = (time: unknown, place: string) => {
    const seconds = parseTime(time, fps);
    if (seconds !== undefined && seconds >= 0) return seconds;
    throw fail(
      place,
      `invalid time ${JSON.stringify(time)}`,
      'use seconds (0.15), frames ("9f") or milliseconds ("150ms")',
    );
  };
  let last = 0;
  const commands = steps.map((step: unknown, i): Command => {
    const place = `/steps/${i}`;
    if (!isObject(step)) throw fail(place, 'is not a step', 'write { "at": 0, "play": "snap" }');
    const { at, ...members } = step as Step;
    const seconds = secondsOf(at, `${place}/at`);
    if (seconds < last) throw fail(`${place}/at`, 'is earlier than the previous step', 'sort the steps by time');
    last = seconds;
    // A layer may be an option of another command.
    const named = Object.keys(members).filter((name) => Object.hasOwn(CALLS, name));
    const name =
      named.find((one) => one !== 'layer' && one !== 'weight') ?? named.find((one) => one === 'weight') ?? named[0];
    if (name === undefined) {
      const odd = Object.keys(members)[0] ?? '';
      throw fail(place, 'has no command', suggest(odd, Object.keys(CALLS)));
    }
    const { [name]: what, ...options } = members;
    return {
      at: seconds,
      run(player, tell) {
        try {
          CALLS[name]!(player, what as never, options, tell);
        } catch (error) {
          if (!(error instanceof UnspoolError) && !(error instanceof RangeError)) throw error;
          throw fail(`${place}/${name}`, error.message, '');
        }
      },
    };
  });
  return { length: whole === undefined ? last : secondsOf(whole, '/for'), commands };
}

function isObject(value: unknown): value is Readonly<Record<string, unknown>> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}
