import { easing } from '../easing/index.js';
import { UnspoolError } from '../errors/error.js';
import type { Player } from '../play/drive/player.js';
import type { RoutineRun } from '../play/rules/routine-run.js';
import { startRoutine } from '../play/rules/routine-run.js';
import type { Time } from '../time/units.js';

type Options = Readonly<Record<string, unknown>>;

/** A player of a script, with the routine that it runs. */
export interface Actor {
  readonly player: Player;
  routine?: RoutineRun;
}

/** Gives a command to a player; `tell` reports what was asked for. */
type Call = (actor: Actor, what: never, options: Options, tell: (line: object) => void) => void;

const playback = ({ player }: Actor, { layer }: Options) => {
  const found = player.layer(layer as string | undefined).playback;
  if (found) return found;
  throw new UnspoolError('script/idle', 'nothing has been played on this layer', 'play a clip first');
};

const routine = ({ routine: found }: Actor) => {
  if (found) return found;
  throw new UnspoolError('script/routine', 'no routine runs', 'start one first, with { "routine": "crab" }');
};

/** The commands by the member that names them. The other members of a step are its options. */
export const CALLS: Readonly<Record<string, Call>> = {
  play: ({ player }, name: string, options) => void player.play(name, options),
  enqueue: ({ player }, name: string, options) => void player.enqueue(name, options),
  fallback: ({ player }, name: string | null, options) => void player.fallback(name ?? undefined, options),
  stop: ({ player }, layer: string, options) => player.layer(layer).stop(options),
  clear: ({ player }, layer: string) => player.layer(layer).clear(),
  pause: (actor, layer: string) => playback(actor, { layer }).pause(),
  resume: (actor, layer: string, options) => playback(actor, { layer }).resume(options),
  reverse: (actor, layer: string) => playback(actor, { layer }).reverse(),
  finish: (actor, layer: string, options) => playback(actor, { layer }).finish(options),
  rate: (actor, rate: number, options) => (playback(actor, options).rate = rate),
  seek: (actor, time: Time, options) => playback(actor, options).seek(time, options),
  weight: ({ player }, weight: number, options) => (player.layer(options['layer'] as string).weight = weight),
  layer: ({ player }, name: string, options) => void player.layer(name, options),
  face: ({ player }, name: string, { toward, ...options }) =>
    void player.face(name, toward as [number, number], options),
  place: ({ player }, placement: object) => void player.place(placement),
  gauge: ({ player }, name: string, options) => {
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
  routine: (actor, name: string) => (actor.routine = startRoutine(actor.player, name)),
  set: (actor, values: object) => routine(actor).set(values),
  signal: (actor, name: string) => routine(actor).signal(name),
  explain: (actor, _, __, tell) => tell({ event: 'explain', rules: routine(actor).explain() }),
  read: ({ player }, names: readonly string[], _, tell) => {
    const values = Object.fromEntries(names.map((name) => [name, player.pose.get(name)]));
    tell({ event: 'read', values });
  },
};

function withEase(options: Options): Options {
  return typeof options['ease'] === 'string' ? { ...options, ease: easing(options['ease']) } : options;
}
