import fc from 'fast-check';
import { expect, test } from 'vitest';
import { OwnershipTwin, type TwinClip, type TwinPlay } from '../../../test/ownership-twin.js';
import { runs } from '../../../test/runs.js';
import { parseReel, Player } from '../../index.js';

/** Loops never end together with anything else: which side of a wrap is shown is another test's business. */
const CLIPS: Readonly<Record<string, TwinClip>> = {
  walk: { duration: 1, tracks: { p: { from: 0, to: 10 } } },
  rise: { duration: 0.5, tracks: { p: { from: 1, to: 4, offset: true } } },
  hop: { duration: 0.5, after: 'rest', tracks: { p: { from: 0, to: 4, offset: true }, r: { from: 2, to: 3 } } },
  flash: { duration: 0.25, after: 'rest', tracks: { p: { from: 20, to: 30 }, q: { from: 5, to: 6 } } },
  spin: { duration: 0.4142, loop: true, tracks: { q: { from: 0, to: 8 } } },
  sway: { duration: 0.7071, loop: true, tracks: { q: { from: 0, to: 2, offset: true } } },
  all: {
    duration: 0.75,
    tracks: { p: { from: 3, to: 5 }, q: { from: 1, to: 2, offset: true }, r: { from: -1, to: 1 } },
  },
};
const NAMES = Object.keys(CLIPS);
const PROPERTIES = ['p', 'q', 'r'];
const DECLARED = { q: 7 };
const LAYERS = ['base', 'top'];

const reel = parseReel<unknown>({
  unspool: 1,
  roles: { hero: { rest: DECLARED } },
  clips: Object.fromEntries(
    Object.entries(CLIPS).map(([name, { duration, loop, after = 'hold', tracks }]) => [
      name,
      {
        ...{ duration, after, loop: loop ? 'loop' : 'once' },
        tracks: Object.fromEntries(
          Object.entries(tracks).map(([property, { from, to, offset }]) => [
            `hero.${property}`,
            {
              space: offset ? 'offset' : 'absolute',
              keys: [
                { at: 0, value: from },
                { at: duration, value: to },
              ],
            },
          ]),
        ),
      },
    ]),
  ),
});

type Command =
  | ({ readonly call: 'play' | 'enqueue' } & TwinPlay)
  | { readonly call: 'stop'; readonly layer: number; readonly fade: number; readonly after?: 'hold' | 'rest' }
  | { readonly call: 'weight'; readonly layer: number; readonly weight: number }
  | { readonly call: 'move'; readonly property: string; readonly by: number }
  | { readonly call: 'save' };

const after = fc.option(fc.constantFrom('hold' as const, 'rest' as const), { nil: undefined });
const layer = fc.nat(LAYERS.length - 1);
const share = fc.constantFrom(0, 0.25, 0.5, 1);
const play: fc.Arbitrary<Command> = fc
  .record({
    call: fc.constantFrom('play' as const, 'enqueue' as const),
    clip: fc.constantFrom(...NAMES),
    layer,
    fade: fc.constantFrom(0, 0, 0.3),
    fadeOut: fc.constantFrom(0, 0, 0.2),
    weight: fc.constantFrom(1, 1, 0.5),
    after,
  })
  .map((command) => command as Command);
const command: fc.Arbitrary<Command> = fc.oneof(
  { weight: 5, arbitrary: play },
  fc.record({
    call: fc.constant('stop' as const),
    layer,
    fade: fc.constantFrom(0, 0.2),
    after,
  }) as fc.Arbitrary<Command>,
  fc.record({ call: fc.constant('weight' as const), layer, weight: share }),
  fc.record({
    call: fc.constant('move' as const),
    property: fc.constantFrom(...PROPERTIES),
    by: fc.integer({ min: 1, max: 9 }),
  }),
  fc.constant({ call: 'save' } as const),
);
/** A command, and how many 64ths of a second go by after it, cut into frames at these shares. */
const step = fc.record({
  command,
  after: fc.nat(40),
  cuts: fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { maxLength: 3 }),
});

function options({ fade, fadeOut, weight, after: leaves, layer: place }: TwinPlay) {
  return { fade, fadeOut, weight, layer: LAYERS[place]!, ...(leaves && { after: leaves }) } as object;
}

function check(steps: readonly { command: Command; after: number; cuts: readonly number[] }[], hasCast: boolean): void {
  const hero: Record<string, number> = { p: 50, q: 60, r: 70 };
  const objects = new Map(Object.entries(hasCast ? hero : { p: 0, q: 7, r: 0 }));
  const twin = new OwnershipTwin(CLIPS, PROPERTIES, DECLARED, objects, hasCast, LAYERS.length);
  const make = () => {
    const made = new Player(reel, hasCast ? { cast: { hero } } : {});
    for (const name of LAYERS) made.layer(name);
    return made;
  };
  let player = make();
  const compare = () => {
    for (const property of PROPERTIES) {
      if (hasCast)
        expect(hero[property], `object ${property} at ${player.time}`).toBeCloseTo(objects.get(property)!, 8);
      expect(player.pose.get(`hero.${property}`), `pose ${property} at ${player.time}`).toBeCloseTo(
        twin.shown(property),
        8,
      );
    }
  };
  for (const { command: one, after: ticks, cuts } of steps) {
    if (one.call === 'play' || one.call === 'enqueue') {
      const current = twin.layers[one.layer]!;
      const last = current.queue.at(-1)?.clip;
      const before = last ? CLIPS[last] : current.current?.state === 'runs' ? current.current.clip : undefined;
      if (one.call === 'enqueue' && before?.loop) continue; // refused: it would never be played
      player[one.call](one.clip, options(one));
      twin[one.call](one);
    } else if (one.call === 'stop') {
      player.layer(LAYERS[one.layer]).stop({ fade: one.fade, ...(one.after && { after: one.after }) });
      twin.stop(one.layer, one.fade, one.after);
    } else if (one.call === 'weight') {
      player.layer(LAYERS[one.layer]).weight = one.weight;
      twin.forget();
      twin.layers[one.layer]!.weight = one.weight;
      for (const voice of twin.layers[one.layer]!.voices) for (const property of voice.shows) twin.owed.add(property);
    } else if (one.call === 'move') {
      if (hasCast) {
        hero[one.property]! += one.by;
        objects.set(one.property, hero[one.property]!);
      }
    } else {
      const state = JSON.parse(JSON.stringify(player.save())) as ReturnType<Player['save']>;
      player.dispose();
      for (const property of PROPERTIES) if (hasCast) hero[property] = -1; // another process has other objects
      player = make();
      player.restore(state);
      if (hasCast && !twin.hasTicked)
        for (const property of Object.keys(DECLARED)) hero[property] = objects.get(property)!;
    }
    const whole = ticks / 64;
    let last = 0;
    for (const mark of [...cuts.map((cut) => Math.floor(cut * ticks) / 64).sort((a, b) => a - b), whole]) {
      player.tick(mark - last);
      twin.tick(mark - last);
      last = mark;
      compare();
    }
  }
}

const program = fc.array(step, { minLength: 1, maxLength: 7 });

test('owners and base values are those of the slow twin, with a cast', () => {
  fc.assert(
    fc.property(program, (steps) => check(steps, true)),
    runs(500),
  );
});

test('and without a cast', () => {
  fc.assert(
    fc.property(program, (steps) => check(steps, false)),
    runs(500),
  );
});
