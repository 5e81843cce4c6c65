import fc from 'fast-check';
import { expect, test } from 'vitest';
import { runs } from '../../test/runs.js';
import { parseReel, Player } from '../index.js';
import { boundsOf, HitWorld, type HitShape } from './index.js';

interface Shown {
  position: { x: number; y: number };
  rotation: number;
  scale: { x: number; y: number };
}

const number = fc.integer({ min: -40, max: 40 }).map((n) => n / 4);
const angle = fc.integer({ min: -36, max: 36 }).map((n) => n * 10 + 0.5);
const size = fc.constantFrom(0.5, 1, 2, -1.5);
const pair = fc.tuple(number, number);
const object = fc
  .record({ position: pair, rotation: angle, scale: fc.tuple(size, size) })
  .map(({ position: [x, y], rotation, scale: [sx, sy] }): Shown => ({
    position: { x, y },
    rotation,
    scale: { x: sx, y: sy },
  }));

/** Some of the properties of a role, absolute or as offsets from where it began. */
const tracksOf = (role: string) => {
  const space = fc.constantFrom('absolute', 'offset', undefined);
  return fc
    .record({
      position: fc.tuple(space, pair),
      rotation: fc.tuple(space, angle),
      scale: fc.tuple(space, fc.tuple(size, size)),
    })
    .map((all) =>
      Object.fromEntries(
        Object.entries(all).flatMap(([property, [space, value]]) =>
          space ? [[`${role}.${property}`, { space, keys: [{ at: 0, value }] }]] : [],
        ),
      ),
    );
};

/** Where an object puts a point, as a canvas does: scaled, turned, moved. */
function put({ position, rotation, scale }: Shown, [x, y]: readonly [number, number]): [number, number] {
  const [cos, sin] = [Math.cos((rotation * Math.PI) / 180), Math.sin((rotation * Math.PI) / 180)];
  const [u, v] = [x * scale.x, y * scale.y];
  return [position.x + u * cos - v * sin, position.y + u * sin + v * cos];
}

const declared = (name: string) => ({ shapes: { [name]: { kind: 'capsule', tag: 'hurt' } } });
const shape = (role: string, name: string) => ({
  [`${role}.${name}`]: {
    keys: [{ at: 0, value: { from: [1, 2], to: [-3, 0.5], radius: 0 } }],
  },
});

test('shapes of a placed or mirrored cast are where its objects are written', () => {
  fc.assert(
    fc.property(
      fc.record({ crab: object, claw: object, lamp: object }),
      fc.tuple(tracksOf('crab'), tracksOf('claw'), tracksOf('lamp')),
      fc.constantFrom('placed', 'mirrored', 'both'),
      fc.record({ position: pair, rotation: angle, scale: size, flip: fc.boolean() }),
      (objects, tracks, how, place) => {
        const cast = structuredClone(objects); // they are written to
        const shapes = { ...shape('crab', 'body'), ...shape('claw', 'tip'), ...shape('lamp', 'glass') };
        const reel = parseReel<unknown>({
          unspool: 1,
          roles: { crab: declared('body'), claw: { parent: 'crab', ...declared('tip') }, lamp: declared('glass') },
          clips: { c: { duration: 1, loop: 'loop', tracks: Object.assign({}, ...tracks, shapes) as object } },
          facings: { walk: { right: 'c', left: { mirror: 'right' } } },
        });
        const player = new Player(reel, { cast, name: 'crab' });
        const world = new HitWorld().add('all', player);
        if (how !== 'mirrored') player.place(place);
        if (how === 'placed') player.play('c');
        else player.face('walk', [-1, 0]);
        world.tick(0);
        // What a reel does not speak of is the game's, but for the roots of a cast that is placed.
        const known = (role: 'crab' | 'claw' | 'lamp', i: number): Shown => {
          const speaks = (property: string) =>
            `${role}.${property}` in tracks[i]! || (how !== 'mirrored' && role !== 'claw');
          const mirror = role !== 'claw' && how !== 'placed' ? -1 : 1;
          return {
            position: speaks('position') ? cast[role].position : { x: 0, y: 0 },
            rotation: speaks('rotation') ? cast[role].rotation : 0,
            scale: speaks('scale') ? cast[role].scale : { x: mirror, y: 1 },
          };
        };
        const shown = { crab: known('crab', 0), claw: known('claw', 1), lamp: known('lamp', 2) };
        for (const { name, shape: found } of world.shapes) {
          const [role] = name.split('.').slice(-2) as [keyof typeof cast];
          const corners = (
            [
              [1, 2],
              [-3, 0.5],
            ] as const
          ).map((point) => {
            const inner = role === 'claw' ? put(shown.claw, point) : point;
            return put(shown[role === 'claw' ? 'crab' : role], inner);
          });
          expectCorners(found, corners, name);
        }
        expect(world.shapes).toHaveLength(3);
      },
    ),
    runs(300),
  );
});

function expectCorners(found: HitShape, [a, b]: readonly (readonly [number, number])[], name: string): void {
  const { low, high } = boundsOf(found);
  const least = [Math.min(a![0], b![0]), Math.min(a![1], b![1])];
  const most = [Math.max(a![0], b![0]), Math.max(a![1], b![1])];
  [...low, ...high].forEach((n, i) => expect(n, name).toBeCloseTo([...least, ...most][i]!, 6));
}
