import { describe, expect, test } from 'vitest';
import { parseReel, Player, type PlayerState } from '../../index.js';

/** Whose a property is, by what people do: docs/reference/laws.md has the table, and ownership.test.ts its slow twin. */
const line = (from: unknown, to: unknown, end = 1, more: object = {}) => ({
  keys: [
    { at: 0, value: from },
    { at: end, value: to },
  ],
  ...more,
});
const offset = { space: 'offset' };
const reel = parseReel<unknown>({
  unspool: 1,
  name: 'pool',
  roles: { hero: {}, lamp: { rest: { visible: false, n: 100 } } },
  clips: {
    hop: { after: 'rest', tracks: { 'hero.position': line([0, 0], [4, 0], 0.5, offset) } },
    walk: { loop: 'loop', tracks: { 'hero.frame': [{ at: 0, frames: [0, 3], each: 0.1 }] } },
    n: { tracks: { 'hero.n': line(0, 10) } },
    plus: { tracks: { 'hero.n': line(1, 1, 1, offset) } },
    hundred: { duration: 2, after: 'rest', tracks: { 'hero.n': [{ at: 0, value: 100 }] } },
    turn: { duration: 1, tracks: { 'hero.rotation': [{ at: 0, value: 5 }] } },
    other: { duration: 1, tracks: { 'lamp.n': line(0, 1) } },
    whole: { duration: 4, tracks: { 'lamp.tint': { mix: 'oklab', keys: [{ at: 0, value: '#406080' }] } } },
    red: { duration: 4, tracks: { 'lamp.tint.r': [{ at: 0, value: 0.8 }] } },
  },
  facings: { go: { right: 'turn', left: { mirror: 'right' } } },
});
const copy = (state: PlayerState) => JSON.parse(JSON.stringify(state)) as PlayerState;
const at = (x: number, y = 0) => ({ position: { x, y } });
const frames = (player: Player, count: number, dt = 0.05, before = () => {}) => {
  for (let i = 0; i < count; i++) {
    before();
    player.tick(dt);
  }
};

describe('what is no longer animated belongs to the game again', () => {
  test.each(['base', 'over'])('an offset hop on the layer %s releases the position when it ends', (layer) => {
    const hero = at(0);
    const player = new Player(reel, { cast: { hero } });
    player.play('walk');
    const move = () => (hero.position.x += 5);
    frames(player, 10, 0.05, move);
    expect(hero.position.x).toBe(50);
    player.play('hop', { layer });
    if (layer === 'base') player.enqueue('walk');
    frames(player, 11);
    expect(hero.position.x).toBe(50); // back where it hopped from
    frames(player, 10, 0.05, move);
    expect(hero.position.x).toBe(100);
    player.stop();
    player.play('walk');
    frames(player, 3);
    expect(hero.position.x).toBe(100);
  });

  test('a declared rest value is written once, with the first frame, whatever plays; then it is the game’s', () => {
    const lamp = { visible: true, n: 1 };
    const player = new Player(reel, { cast: { lamp } });
    player.tick(0);
    expect(lamp).toEqual({ visible: false, n: 100 });
    lamp.visible = true;
    player.play('other');
    frames(player, 30);
    expect(lamp).toEqual({ visible: true, n: 1 });
  });

  test('a placed cast hops four times from where it is', () => {
    const hero = at(0);
    const player = new Player(reel, { cast: { hero } });
    player.place({ position: [100, 50] });
    for (let i = 0; i < 4; i++) {
      player.play('hop');
      frames(player, 11);
      expect(hero.position).toEqual({ x: 100, y: 50 });
    }
  });

  test('being followed moves nothing, nor does being mirrored: the game’s position stays', () => {
    const hero = at(150, 20);
    const player = new Player(reel, { cast: { hero } });
    const bubble = at(0);
    const above = new Player(reel, { cast: { hero: bubble } });
    above.follow(player, [0, -8]);
    for (let i = 1; i <= 5; i++) {
      hero.position.x += 10;
      player.tick(0.1);
      above.tick(0.1);
      expect(bubble.position).toEqual({ x: 150 + 10 * i, y: 12 });
    }
    expect(hero.position).toEqual({ x: 200, y: 20 });
    player.face('go', [-1, 0]);
    player.tick(0.1);
    hero.position.x += 10;
    player.tick(0.1);
    expect(hero).toMatchObject({ position: { x: 210, y: 20 }, rotation: -5, scale: { x: -1, y: 1 } });
    player.play('hop', { layer: 'over' }); // an offset goes the other way
    player.tick(0.25);
    expect(hero.position.x).toBe(208);
    player.face('go', [1, 0]);
    player.tick(0.5);
    expect(hero).toMatchObject({ position: { x: 210, y: 20 }, scale: { x: 1, y: 1 } });
  });
});

describe('an offset is relative to its object', () => {
  const cuts = [[2], Array<number>(120).fill(1 / 60), [0.7, 1.3]];
  test.each(cuts.map((cut) => [cut.length, cut]))('queued, whatever the frames: %i of them', (_, cut) => {
    for (const cast of [{ hero: { n: 0 } }, {}]) {
      const player = new Player(reel, { cast });
      player.play('n');
      player.enqueue('plus');
      for (const dt of cut) player.tick(dt);
      expect(player.pose.get('hero.n')).toBeCloseTo(11, 9);
      if ('hero' in cast) expect(cast.hero.n).toBeCloseTo(11, 9);
    }
  });

  test('by weight and while it fades in', () => {
    const hero = { n: 0 };
    const player = new Player(reel, { cast: { hero } });
    hero.n = 200;
    player.play('plus', { weight: 0.5 });
    player.tick(0.1);
    expect(hero.n).toBe(200.5);
    player.stop({ after: 'rest' });
    player.tick(0.1);
    expect(hero.n).toBe(200);
    player.play('plus', { fade: 1 });
    player.tick(0.25);
    expect(hero.n).toBe(200.25);
  });
});

describe('fades to rest', () => {
  test('a stop with a fade takes its time, of a clip that leaves rest too', () => {
    for (const stop of ['player', 'layer'] as const) {
      const player = new Player(reel, { cast: { hero: { n: 0 } } });
      player.play('hundred');
      player.tick(0);
      const seen = [player.pose.get('hero.n')];
      if (stop === 'player') player.stop({ fade: 1, after: 'rest' });
      else player.layer().stop({ fade: 1 });
      for (let i = 0; i < 4; i++) {
        player.tick(0.25);
        seen.push(player.pose.get('hero.n'));
      }
      expect(seen).toEqual([100, 75, 50, 25, 0]);
    }
  });

  test('a clip may fade out at its own end', () => {
    const hero = { n: 40 };
    const player = new Player(reel, { cast: { hero } });
    const { ended } = player.play('hundred', { fadeOut: 1 });
    player.tick(2.5);
    expect(hero.n).toBe(70);
    player.tick(0.5);
    expect(hero.n).toBe(40);
    hero.n = 7;
    player.tick(0.5);
    expect(hero.n).toBe(7);
    return expect(ended).resolves.toBe('end');
  });
});

describe('restoring', () => {
  test('a fade, into a player that has run', () => {
    const make = () => new Player(reel, { cast: { hero: { n: 0 } } });
    const one = make();
    one.tick(10);
    one.play('hundred', { fade: 1 });
    one.tick(0.2);
    const two = make();
    two.play('n');
    two.tick(50);
    two.restore(copy(one.save()));
    expect(two.pose.get('hero.n')).toBeCloseTo(20, 9);
  });

  test('placements, mirrors and layers that the state does not have are removed; a removed layer throws', () => {
    const hero = { ...at(30), scale: { x: 1, y: 1 } };
    const player = new Player(reel, { cast: { hero } });
    player.play('n');
    player.tick(0.1);
    const state = copy(player.save());
    const over = player.layer('over');
    player.place({ position: [500, 0] }).face('go', [-1, 0]);
    player.play('hop', { layer: 'over' });
    player.tick(0.1);
    expect(hero.position.x).not.toBe(30);
    player.restore(state);
    expect(hero).toMatchObject({ position: { x: 30, y: 0 }, scale: { x: 1, y: 1 }, n: 1 });
    expect(player.layers.map(({ name }) => name)).toEqual(['base']);
    expect(() => over.play('hop')).toThrow('the layer "over" was removed');
    hero.position.x = 77;
    player.tick(0.1);
    expect(hero.position.x).toBe(77);
  });

  test('layers have the order and masks of the state', () => {
    const one = new Player(reel);
    one.layer('low');
    one.layer('high', { mask: ['hero'] });
    const two = new Player(reel);
    two.layer('high');
    two.gauge('g', { clip: 'n' });
    one.gauge('g', { clip: 'n' });
    two.restore(copy(one.save()));
    expect(two.layers.map(({ name, mask }) => [name, mask])).toEqual([
      ['base', undefined],
      ['low', undefined],
      ['high', ['hero']],
    ]);
  });
});

test('colors keyed whole and by channel blend number by number, without a jump', () => {
  const player = new Player(reel);
  player.play('whole');
  player.tick(0);
  const [r, g] = player.pose.get('lamp.tint') as number[];
  player.play('red', { fade: 1 });
  player.tick(0);
  expect(player.pose.get('lamp.tint')).toEqual([r, g, 0x80 / 255, 1]);
  player.tick(0.5);
  const [red, green] = player.pose.get('lamp.tint') as number[];
  expect(red).toBeCloseTo((r! + 0.8) / 2, 9);
  expect(green).toBeCloseTo((g! + 1) / 2, 9);
  player.tick(0.5);
  expect(player.pose.get('lamp.tint')).toEqual([0.8, 1, 1, 1]);
});
