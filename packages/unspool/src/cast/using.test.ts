import { expect, test } from 'vitest';
import { parseReel, plainCast, Player, using } from '../index.js';
import { domCast } from './dom.js';
import { objects3dCast } from './objects3d.js';

const line = (from: unknown, to: unknown) => [
  { at: 0, value: from },
  { at: 1, value: to },
];
const reel = parseReel<unknown>({
  unspool: 1,
  roles: {
    hero: { shapes: { iris: { kind: 'circle', tag: 'reveal' }, fist: { kind: 'circle', tag: 'hits' } } },
    camera: {},
    bar: {},
  },
  clips: {
    walk: {
      duration: 1,
      tracks: {
        'hero.position': line([0, 0], [10, 0]),
        'hero.iris': [{ at: 0, value: { center: [0, 0], radius: 0 } }, { at: 1, value: { radius: 40 } }],
        'hero.fist': line({ center: [1, 1], radius: 3 }, {}),
        'camera.position': line([0, 0, 5], [0, 2, 9]),
        'camera.rotation': line(0, 90),
        'camera.fov': line(50, 70),
        'camera.aim': line([0, 0, 0], [2, 4, 6]),
        'bar.opacity': line(0, 1),
        'bar.glow': line(0, 1),
      },
    },
    blink: { duration: 1, tracks: { 'hero.glow': line(0, 1) } },
  },
}); // prettier-ignore

const vector = (value = 0) => ({
  ...{ x: value, y: value, z: value, w: 1 },
  set(x: number, y: number, z: number, w = 1) {
    Object.assign(this, { x, y, z, w });
  },
});

/** What is written into the style of an element, in order. */
function element() {
  const all = new Map<string, string>();
  const writes: string[] = [];
  const style = {
    setProperty: (name: string, value: string) => void (all.set(name, value), writes.push(name)),
    removeProperty: (name: string) => all.delete(name),
    getPropertyValue: (name: string) => all.get(name) ?? '',
  };
  return { style, textContent: '', all, writes };
}

test('one cast of a plain object, an object in space and an element, each with its own adapter', () => {
  const hero: Record<string, unknown> = {};
  const camera = { position: vector(), quaternion: vector(), scale: vector(1), lens: { fov: 0 }, aim: vector() };
  const bar = element();
  const space = objects3dCast({ paths: { fov: 'lens.fov' } });
  const cast = { hero, camera: using(space, camera), bar: using(domCast(), bar) };
  const player = new Player(reel, { cast: cast });
  player.play('walk');
  player.tick(0.5);
  expect(hero).toEqual({ position: { x: 5, y: 0 }, iris: { center: [0, 0], radius: 20 } });
  expect([camera.position, camera.lens.fov, camera.aim]).toMatchObject([
    { x: 0, y: 1, z: 7 },
    60,
    { x: 1, y: 2, z: 3 },
  ]);
  expect(camera.quaternion.z).toBeCloseTo(Math.sin(Math.PI / 8), 12);
  expect(Object.fromEntries(bar.all)).toMatchObject({ opacity: '0.5', '--glow': '0.5' });
});

test('what cannot be cast is refused at once, with what to do', () => {
  const message = (run: () => unknown) => {
    try {
      run();
    } catch (error) {
      return (error as Error).message;
    }
    return '';
  };
  expect(message(() => using(undefined as never, {}))).toBe('expected an adapter, found undefined. Pass an adapter and the object that it writes: using(plainCast, camera).'); // prettier-ignore
  expect(message(() => using(plainCast, 7 as never))).toContain('expected an object, found 7');
  const camera = { position: vector(), quaternion: vector(), scale: vector() };
  expect(message(() => new Player(reel, { cast: { camera: using(objects3dCast(), camera) } }))).toContain(
    'it has no fov: add it, or say where it is',
  );
  expect(message(() => new Player(reel, { cast: { hero: using(objects3dCast(), camera) } }))).toContain('reveal'); // prettier-ignore
  expect(message(() => new Player(reel, { cast: { bar: using(domCast(), {} as never) } }))).toContain('not an element of a page'); // prettier-ignore
});

test('an element is written only what is new, and all of it where others may have changed it', () => {
  const bar = element();
  const player = new Player(reel, { cast: { bar }, adapter: domCast() });
  player.play('walk');
  player.tick(1);
  player.tick(0.5);
  const state = player.save();
  bar.writes.length = 0;
  player.tick(0.1);
  expect(bar.writes).toEqual([]);
  // The game's now. A playback that begins shows what it says, though that is what was written last.
  bar.style.setProperty('opacity', '0.25');
  player.play('walk', { from: 1 });
  player.tick(0);
  expect(bar.all.get('opacity')).toBe('1');
  bar.style.setProperty('opacity', '0.25');
  player.restore(state);
  expect(bar.all.get('opacity')).toBe('1');
});

test('an element is read in the units that are written, and turns in space by a quaternion', () => {
  const turns = parseReel<unknown>({
    unspool: 1,
    clips: {
      flip: {
        duration: 1,
        tracks: {
          'card.rotation': line({ euler: [0, 0, 0] }, { euler: [0, 120, 0] }),
          'card.position': { space: 'offset', keys: line([0, 0], [10, 0]) },
          'card.scale': { space: 'offset', keys: line(1, 2) },
        },
      },
    },
  });
  const card = element();
  card.style.setProperty('translate', '5px');
  card.style.setProperty('scale', '3');
  const flip = (one: typeof card) => {
    const player = new Player(turns, { cast: { card: one }, adapter: domCast() });
    player.play('flip');
    player.tick(0.5);
    return Object.fromEntries(one.all);
  };
  expect(flip(card)).toMatchObject({ rotate: '0 1 0 60deg', translate: '10px 0px', scale: '4.5 4.5' });
  const other = element();
  other.style.setProperty('translate', '50% 2em');
  expect(flip(other)).toMatchObject({ translate: '5px 0px' });
});

test('a reveal stays as its clip has left it, until another clip animates it', () => {
  const hero: Record<string, unknown> = {};
  const player = new Player(reel, { cast: { hero } });
  player.play('walk');
  player.tick(2);
  player.play('blink');
  player.tick(0.5);
  expect(hero['iris']).toEqual({ center: [0, 0], radius: 40 });
  player.play('walk', { after: 'rest' });
  player.tick(2);
  expect(hero['iris']).toBeNull();
});
