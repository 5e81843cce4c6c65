import fc from 'fast-check';
import { Container } from 'pixi.js';
import { expect, test } from 'vitest';
import { parseReel, Player, type Reel } from '../index.js';
import { canvasScene, type CanvasContext } from './canvas.js';
import { domCast } from './dom.js';
import { matrixScene, RoleMatrices } from './matrix.js';
import { objects3dCast } from './objects3d.js';
import { pixiCast } from './pixi.js';

/**
 * The contract of all adapters: one reel, one player each, and every corner of every role is at the same place in the
 * world. What that place is comes from complex numbers here: from nothing that an adapter uses.
 */
type Complex = readonly [re: number, im: number];
type Own = {
  position: Complex;
  rotation: number;
  scale: Complex;
  pivot: Complex;
};
const ROLES = ['hull', 'mast', 'flag'] as const;
const CORNERS: readonly Complex[] = [
  [-1, -1],
  [1, -1],
  [1, 0.5],
  [-0.25, 1],
];

const times = ([a, b]: Complex, [c, d]: Complex): Complex => [a * c - b * d, a * d + b * c];
const plus = ([a, b]: Complex, [c, d]: Complex): Complex => [a + c, b + d];
function put({ position, rotation, scale, pivot }: Own, [x, y]: Complex): Complex {
  const scaled: Complex = [(x - pivot[0]) * scale[0], (y - pivot[1]) * scale[1]];
  return plus(position, times([Math.cos((rotation * Math.PI) / 180), Math.sin((rotation * Math.PI) / 180)], scaled));
}
const worldOf = (owns: readonly Own[], role: number, corner: Complex) =>
  owns.slice(0, role + 1).reduceRight((at, own) => put(own, at), corner);

const number = fc.double({ min: -2, max: 2, noNaN: true });
const pair = fc.tuple(number, number);
// Not 0: a canvas then draws nothing, and says nothing of where.
const size = fc.tuple(fc.double({ min: 0.1, max: 2, noNaN: true }), fc.constantFrom(1, -1)).map(([n, s]) => n * s);
const own: fc.Arbitrary<Own> = fc.record({
  position: pair,
  rotation: fc.double({ min: -400, max: 400, noNaN: true }),
  scale: fc.tuple(size, size),
  pivot: pair,
});

function reelOf(owns: readonly Own[], withPivot = true): Reel {
  const tracks = owns.flatMap((one, i) =>
    Object.entries(one)
      .filter(([property]) => withPivot || property !== 'pivot')
      .map(
        ([property, value]) =>
          [
            `${ROLES[i]}.${property}`,
            [
              { at: 0, value: [0, 0] },
              { at: 1, value },
            ],
          ] as const,
      )
      .map(([name, keys]) => [name, name.endsWith('rotation') ? [{ at: 0, value: 0 }, keys[1]] : keys]),
  );
  return parseReel<unknown>({
    unspool: 1,
    roles: { hull: {}, mast: { parent: 'hull' }, flag: { parent: 'mast' } },
    clips: { sail: { duration: 1, tracks: Object.fromEntries(tracks) as object } },
  });
}

function play(reel: Reel, options: object): void {
  const player = new Player(reel, options);
  player.play('sail');
  player.tick(0.5);
  player.tick(0.5);
}

/** A matrix of the plane or of space, at a place of an array. */
const apply = (m: ArrayLike<number>, at: number, size: number, [x, y]: Complex): Complex => {
  const last = at + size * (size - 1);
  return [m[at]! * x + m[at + size]! * y + m[last]!, m[at + 1]! * x + m[at + size + 1]! * y + m[last + 1]!];
};

type World = (role: number, corner: Complex) => Complex;

const ADAPTERS: Readonly<Record<string, (reel: Reel) => World>> = {
  PixiJS(reel) {
    const objects = ROLES.map(() => new Container());
    objects.reduce((parent, child) => parent.addChild(child));
    play(reel, { cast: Object.fromEntries(ROLES.map((role, i) => [role, objects[i]])), adapter: pixiCast() });
    return (role, [x, y]) => {
      const at = objects[role]!.toGlobal({ x, y });
      return [at.x, at.y];
    };
  },
  'web elements'(reel) {
    // What is written, and that the page accepts it: read back, it would have six digits.
    const written = ROLES.map((): Record<string, string> => ({}));
    const elements = written.map((all) => {
      const { style } = document.createElement('div');
      const setProperty = (name: string, value: string) => {
        style.setProperty(name, value);
        expect(style.getPropertyValue(name)).not.toBe('');
        all[name] = value;
      };
      const rest = { removeProperty: () => '', getPropertyValue: () => '' };
      return { style: { setProperty, ...rest }, textContent: '' };
    });
    play(reel, { cast: Object.fromEntries(ROLES.map((role, i) => [role, elements[i]])), adapter: domCast() });
    // css-transforms-2 says in which order.
    const matrices = written.map(({ translate, rotate, scale, transform }) => {
      const [tx, ty] = translate!.split(' ').map(parseFloat) as [number, number];
      const [sx, sy] = scale!.split(' ').map(parseFloat) as [number, number];
      const turned = new DOMMatrix().translate(tx, ty).rotate(parseFloat(rotate!)).scale(sx, sy);
      return turned.multiply(new DOMMatrix(transform));
    });
    return (role, [x, y]) => {
      const world = matrices.slice(0, role + 1).reduce((all, one) => all.multiply(one));
      const at = world.transformPoint(new DOMPoint(x, y));
      return [at.x, at.y];
    };
  },
  'a canvas'(reel) {
    const seen = new Map<string, DOMMatrix>();
    const note = (context: CanvasContext, { role }: { role: string }) =>
      void seen.set(role, (context as unknown as CanvasRenderingContext2D).getTransform());
    const scene = canvasScene<string>(reel, { pictures: Object.fromEntries(ROLES.map((role) => [role, note])) });
    play(reel, { cast: scene.cast });
    scene.draw(document.createElement('canvas').getContext('2d')!);
    return (role, [x, y]) => {
      const at = seen.get(ROLES[role]!)!.transformPoint(new DOMPoint(x, y));
      return [at.x, at.y];
    };
  },
  'matrices of the plane': (reel) => matrices(reel, 3),
  'matrices of space': (reel) => matrices(reel, 4),
  'matrices of a pose'(reel) {
    const roles = new RoleMatrices(reel, 'sail');
    const out = new Float64Array(roles.length);
    roles.write(reel.clip('sail').sample(1).values, 0, out, 0);
    return (role, corner) => apply(out, reel.roles.indexOf(ROLES[role]!) * 16, 4, corner);
  },
};

function matrices(reel: Reel, size: 3 | 4): World {
  const scene = matrixScene<string>(reel, { size });
  play(reel, { cast: scene.cast });
  scene.update();
  return (role, corner) => apply(scene.matrices, scene.offsetOf(ROLES[role]!), size, corner);
}

/** Objects in space, with the little of a renderer that they need. */
function objectsInSpace(reel: Reel): World {
  const vector = (value: number) => ({
    ...{ x: value, y: value, z: value, w: 1 },
    set(x: number, y: number, z: number, w = 1) {
      Object.assign(this, { x, y, z, w });
    },
  });
  const objects = ROLES.map(() => ({ position: vector(0), quaternion: vector(0), scale: vector(1) }));
  play(reel, { cast: Object.fromEntries(ROLES.map((role, i) => [role, objects[i]])), adapter: objects3dCast() });
  return (role, corner) =>
    objects.slice(0, role + 1).reduceRight<Complex>(([x, y], { position, quaternion: q, scale }) => {
      const turn: Complex = [q.w * q.w - q.z * q.z, 2 * q.w * q.z];
      return plus([position.x, position.y], times(turn, [x * scale.x, y * scale.y]));
    }, corner);
}

function expectSame(owns: readonly Own[], world: World): void {
  for (let role = 0; role < owns.length; role++)
    for (const corner of CORNERS) {
      const [x, y] = world(role, corner);
      const [wantX, wantY] = worldOf(owns, role, corner);
      expect(Math.abs(x - wantX), `${ROLES[role]} ${corner.join()}`).toBeLessThan(1e-6 * Math.max(10, Math.abs(wantX)));
      expect(Math.abs(y - wantY), `${ROLES[role]} ${corner.join()}`).toBeLessThan(1e-6 * Math.max(10, Math.abs(wantY)));
    }
}

test.each(Object.entries(ADAPTERS))('the same corners in the world: %s', (_, adapter) => {
  const three = fc.tuple(own, own, own);
  fc.assert(
    fc.property(three, (owns) => expectSame(owns, adapter(reelOf(owns)))),
    { numRuns: 40 },
  );
});

test('the same corners in the world: objects in space', () => {
  const flat = own.map((one): Own => ({ ...one, pivot: [0, 0] }));
  fc.assert(
    fc.property(fc.tuple(flat, flat, flat), (owns) => expectSame(owns, objectsInSpace(reelOf(owns, false)))),
    { numRuns: 40 },
  );
});
