import { parseReel, Player } from '../src/index.js';
import { HitWorld, type HitBody } from '../src/hit/index.js';

const line = (from: unknown, to: unknown) => [
  { at: 0, value: from },
  { at: 1, value: to },
];
/** An arm whose tip hits and whose body is hit. All its shapes can `grow` where they are. */
export const swinging = (grow: number) =>
  parseReel<unknown>({
    unspool: 1,
    roles: { arm: { shapes: { tip: { kind: 'circle', tag: 'hits' }, body: { kind: 'circle', tag: 'hurt' } } } },
    clips: {
      swing: {
        ...{ duration: 1, loop: 'ping-pong' },
        cues: [{ at: 0.4, name: 'half' }],
        tracks: {
          'arm.rotation': line(-90, 200),
          'arm.tip': line({ center: [12, 0], radius: 2 + grow }, { center: [7, 3] }),
          'arm.body': line({ center: [0, 0], radius: 3 + grow }, {}),
        },
      },
      rest: {
        duration: 1,
        loop: 'loop',
        tracks: { 'arm.body': line({ center: [4, 0], radius: 2 + grow }, { center: [0, 4] }) },
      },
    },
  });

/** Many that swing, each with an urchin near and many that are far. */
export function swingField(count: number) {
  const world = new HitWorld();
  const reel = swinging(0);
  const bodies: HitBody[] = [];
  for (let i = 0; i < count; i++) {
    const player = new Player(reel).place({ position: [1000 * i, 0] });
    player.play('swing', { from: i / count });
    world.add(`player ${i}`, player);
    for (let k = 0; k < 5; k++) {
      const shape = { kind: 'circle', center: [0, 0], radius: 1 } as const;
      const body: HitBody = { shapes: { it: { shape, tag: 'hurt' } }, position: [1000 * i + 90 * k, 400] };
      bodies.push(body);
      world.add(`body ${i} ${k}`, body);
    }
  }
  return { world, bodies };
}
