import fc from 'fast-check';
import { Player, type EventType, type PlayOptions, type Reel, type ReelDocument } from '../src/index.js';

/** Random programs of what a game may call, at times; and what a player tells of them. */
export type Command =
  | { readonly call: 'play' | 'enqueue' | 'fallback'; readonly clip: number; readonly options: PlayOptions }
  | { readonly call: 'stop'; readonly layer: number; readonly fade: number; readonly rest: boolean }
  | { readonly call: 'rate'; readonly layer: number; readonly rate: number }
  | { readonly call: 'seek'; readonly layer: number; readonly share: number; readonly cues: boolean }
  | { readonly call: 'reverse' | 'pause' | 'resume' | 'clear'; readonly layer: number }
  | { readonly call: 'weight'; readonly layer: number; readonly weight: number }
  | { readonly call: 'gauge'; readonly value: number }
  | { readonly call: 'face'; readonly x: number; readonly y: number; readonly layer: number }
  | { readonly call: 'chain'; readonly later: boolean; readonly layer: number }
  | { readonly call: 'place'; readonly x: number; readonly flip: boolean };

/** A command at so many 64ths of a second. */
export interface Step {
  readonly at: number;
  readonly command: Command;
}

const LAYERS = ['base', 'top', 'over'];
const share = fc.double({ min: 0, max: 1, noNaN: true });
const layer = fc.nat(2);
const rate = fc.constantFrom(1, -1, 2, 0.5, -0.7, 0, 3);

const options = fc.record(
  {
    rate,
    loop: fc.oneof(
      fc.constantFrom('once' as const, 'loop' as const, 'ping-pong' as const),
      fc.record({ mode: fc.constantFrom('loop' as const, 'ping-pong' as const), count: fc.constantFrom(1, 2, 2.5) }),
    ),
    fade: fc.constantFrom(0, 0.1, 0.5),
    layer: fc.constantFrom(...LAYERS),
    weight: fc.constantFrom(1, 0.5),
    after: fc.constantFrom('hold' as const, 'rest' as const),
    every: fc.constantFrom('2f' as const, '3f' as const),
    back: fc.boolean(),
    span: fc.constant('the-middle-of-it'),
    until: fc.constantFrom(0.1, 0.125, 'the-middle-of-it', 0.2),
    vary: fc.record({ seed: fc.nat(9), rate: fc.constant(0.2), offset: fc.constant(0.5), start: fc.constant(0.3) }),
  },
  { requiredKeys: [] },
);

const command: fc.Arbitrary<Command> = fc.oneof(
  {
    weight: 6,
    arbitrary: fc.record({ call: fc.constantFrom('play' as const, 'enqueue' as const), clip: fc.nat(9), options }),
  },
  fc.record({ call: fc.constant('fallback' as const), clip: fc.nat(9), options }),
  fc.record({ call: fc.constant('stop' as const), layer, fade: fc.constantFrom(0, 0.2), rest: fc.boolean() }),
  fc.record({ call: fc.constant('rate' as const), layer, rate }),
  fc.record({ call: fc.constant('seek' as const), layer, share, cues: fc.boolean() }),
  fc.record({
    call: fc.constantFrom('reverse' as const, 'pause' as const, 'resume' as const, 'clear' as const),
    layer,
  }),
  fc.record({ call: fc.constant('weight' as const), layer, weight: share }),
  fc.record({ call: fc.constant('gauge' as const), value: share }),
  fc.record({
    call: fc.constant('face' as const),
    x: fc.integer({ min: -2, max: 2 }),
    y: fc.integer({ min: -2, max: 2 }),
    layer,
  }),
  fc.record({ call: fc.constant('chain' as const), later: fc.boolean(), layer }),
  fc.record({ call: fc.constant('place' as const), x: fc.integer({ min: -9, max: 9 }), flip: fc.boolean() }),
);

/** Up to a dozen commands within three seconds, in order. */
export const program: fc.Arbitrary<Step[]> = fc
  .array(fc.record({ at: fc.nat(192), command }), { minLength: 1, maxLength: 12 })
  .map((steps) => steps.sort((a, b) => a.at - b.at));

/** Does what a command says. What the library refuses (an endless loop before it, a time outside) is left. */
export function run(player: Player, reel: Reel, command: Command): void {
  const names = Object.keys(reel.clips);
  const one = 'layer' in command ? player.layer(LAYERS[command.layer]) : undefined;
  try {
    switch (command.call) {
      case 'play':
      case 'enqueue':
      case 'fallback': {
        const { loop, until, ...rest } = command.options;
        // Of a fallback that lands nothing would be heard any more.
        const others = { ...rest, ...(until !== undefined && command.call !== 'fallback' && { until }) };
        // A fallback that is over is played again: without length it would go in circles.
        const name = names[command.clip % names.length]!;
        const endless = command.call === 'fallback' ? { loop: 'loop' as const } : loop && { loop };
        player[command.call](name, { ...others, ...endless });
        return;
      }
      case 'stop':
        one!.stop({ fade: command.fade, ...(command.rest && { after: 'rest' }) });
        return;
      case 'rate':
        if (one!.playback) one!.playback.rate = command.rate;
        return;
      case 'seek':
        one!.playback?.seek(one!.playback.clip.duration * command.share, { cues: command.cues });
        return;
      case 'clear':
        one!.clear();
        return;
      case 'weight':
        one!.weight = command.weight;
        return;
      case 'gauge':
        player.gauge('bar').value = command.value;
        return;
      case 'face':
        player.face('where-to', [command.x, command.y], { layer: LAYERS[command.layer]!, fade: 0.1 });
        return;
      case 'chain':
        one![command.later ? 'enqueue' : 'play']('all-of-them');
        return;
      case 'place':
        player.place({ position: [command.x, 1], flip: command.flip });
        return;
      case 'pause':
      case 'resume':
      case 'reverse':
        one!.playback?.[command.call]();
    }
  } catch (error) {
    // An endless clip before it; a time outside the span that is played.
    if (!/would never play|outside the played range/.test((error as Error).message)) throw error;
  }
}

export const TYPES: readonly EventType[] = ['cue', 'cue-start', 'cue-end', 'loop', 'end', 'stop', 'arrive'];

export type Told = readonly [type: string, clip: string, name: unknown, time: number, iteration: unknown];

/** A player of a reel with layers and a gauge, which writes down all that it tells. */
export function makePlayer(reel: Reel, reported: Told[], cast: object = {}): Player {
  const player = new Player(reel, { cast });
  for (const name of LAYERS) player.layer(name);
  player.gauge('bar', { clip: Object.keys(reel.clips)[0]!, speed: 0.8 });
  for (const type of TYPES) {
    player.on(type, (event) => {
      const {
        clip = 'gauge',
        name,
        time,
        iteration,
      } = event as { clip?: string; name?: string; time: number; iteration?: number };
      reported.push([type, clip, name, time, iteration]);
    });
  }
  return player;
}

/** Runs a program up to a time in 64ths of a second; `cuts` says into what frames its stretches are cut, in shares. */
export function play(
  player: Player,
  reel: Reel,
  steps: readonly Step[],
  until: number,
  cuts: readonly number[],
  each: (step: number) => Player = () => player,
): void {
  let now = 0;
  let current = player;
  const go = (to: number) => {
    const whole = (to - now) / 64;
    const marks = cuts.map((cut) => Math.floor(cut * 64 * whole) / 64).sort((a, b) => a - b);
    let last = 0;
    for (const mark of [...marks, whole]) {
      current.tick(mark - last);
      last = mark;
    }
    now = to;
  };
  steps.forEach(({ at, command }, i) => {
    if (at > now) go(at);
    current = each(i);
    run(current, reel, command);
  });
  if (until > now) go(until);
}

export type { ReelDocument };
