import fc from 'fast-check';
import { expect, test } from 'vitest';
import { defineClip, defineReel, parseReel, Player, startRoutine } from '../index.js';
import { runs } from '../../test/runs.js';
import { HitWorld } from './index.js';

/** A routine decides at moments: hits must be found along the way that it takes from there, in frames of any length. */
const reel = parseReel(
  defineReel({
    fps: 60,
    roles: { crab: { rest: { position: [0, 0] }, shapes: { claw: { kind: 'circle', tag: 'hits' } } } },
    clips: [
      defineClip('bob', { loop: 'ping-pong' })
        .track('crab.position', [
          [0, [0, 0], 'sine-out'],
          ['7f', [0, -9], 'sine-in'],
          ['20f', [0, 0]],
        ])
        .track('crab.claw', [
          [0, { radius: 4 }],
          ['20f', { radius: 5 }],
        ]),
      defineClip('lunge')
        .track('crab.position', [
          [0, [0, 0], 'quad-in'],
          ['9f', [30, 4], 'back-out'],
          ['24f', [0, 0]],
        ])
        .track('crab.claw', [
          [0, { radius: 4 }],
          ['24f', { radius: 6 }],
        ]),
      defineClip('flinch')
        .track('crab.position', [
          [0, [0, 0], 'quad-out'],
          ['6f', [-14, 3]],
          ['14f', [0, 0]],
        ])
        .track('crab.claw', [
          [0, { radius: 5 }],
          ['14f', {}],
        ]),
    ],
    routines: {
      crab: {
        inputs: { speed: { kind: 'number' }, attack: { kind: 'signal', keep: '5f' }, hurt: { kind: 'signal' } },
        rules: [
          { name: 'flinch', on: 'hurt', play: 'flinch', fade: '3f' },
          { name: 'lunge', on: 'attack', play: 'lunge', fade: '4f' },
          { name: 'tired', if: { speed: { above: 5, for: '11f' } }, play: 'flinch', loop: 'loop', fade: '5f' },
          { name: 'bob', play: 'bob', rate: { input: 'speed', at: 4 }, fade: '6f' },
        ],
      },
    },
  }),
);

const WALLS = [
  { shape: { kind: 'box', center: [20, 0], size: [3, 40], angle: 12 }, tag: 'hurt' },
  { shape: { kind: 'circle', center: [1, -13], radius: 2 }, tag: 'hurt' },
  { shape: { kind: 'circle', center: [-16, 4], radius: 3 }, tag: 'hurt' },
] as const;

type Step = readonly [at: number, what: 'attack' | 'hurt' | number];

/** Steps in fifteenths of a second, so that frames of all rates begin with them. */
const steps = fc.array(
  fc.tuple(
    fc.nat(30),
    fc.oneof(fc.constantFrom('attack' as const, 'hurt' as const), fc.double({ min: 0.5, max: 9, noNaN: true })),
  ),
  { minLength: 1, maxLength: 12 },
);

function hitsOf(script: readonly Step[], fps: number, doesReact: boolean): (readonly [time: number, wall: string])[] {
  const crab = new Player(reel);
  const act = startRoutine(crab, 'crab');
  act.set({ speed: 2 });
  const found: (readonly [number, string])[] = [];
  const onHit = ({ time, to }: { readonly time: number; readonly to: { readonly owner: string } }) => {
    found.push([time, to.owner]);
    if (doesReact) act.signal('hurt');
  };
  const world = new HitWorld({ onHit }).add('crab', crab);
  WALLS.forEach((wall, i) => world.add(`wall ${i}`, { shapes: { wall }, position: [0, 0] }));
  for (let frame = 0; frame < 3 * fps; frame++) {
    for (const [at, what] of script) {
      if (at * fps !== frame * 15) continue;
      if (typeof what === 'number') act.set({ speed: what });
      else act.signal(what);
    }
    world.tick(1 / fps);
  }
  return found;
}

test('the same hits at the same moments in frames of any length, whatever a routine decides', () => {
  const property = fc.property(steps, fc.boolean(), (script, doesReact) => {
    const sixty = hitsOf(script, 60, doesReact);
    for (const fps of [15, 30, 240]) {
      const other = hitsOf(script, fps, doesReact);
      const walls = (hits: typeof other) => hits.map(([, wall]) => wall);
      expect(walls(other), `${fps} fps`).toEqual(walls(sixty));
      other.forEach(([time], i) => expect(time, `${fps} fps`).toBeCloseTo(sixty[i]![0], 6));
    }
  });
  fc.assert(property, runs(15));
});
