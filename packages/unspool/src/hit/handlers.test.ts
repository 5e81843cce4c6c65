import { describe, expect, test } from 'vitest';
import { parseReel, Player } from '../index.js';
import { HitWorld, type HitBody } from './index.js';

describe('what handlers see and change', () => {
  const tracks = {
    'crab.position': [
      { at: 0, value: [0, 0] as const },
      { at: 1, value: [100, 0] as const },
    ],
    'crab.shell': [{ at: 0, value: { radius: 1 } }],
  };
  const moving = parseReel({
    unspool: 1,
    roles: { crab: { shapes: { shell: { kind: 'circle', tag: 'both' } } } },
    clips: {
      walk: {
        duration: 1,
        tracks,
        cues: [{ at: 0.35, name: 'step' }],
      },
      glide: { duration: 1, tracks },
    },
  });
  const walker = (y: number, clip: 'walk' | 'glide' = 'glide') => {
    const crab = { position: { x: 0, y: 0 } };
    const player = new Player(moving, { cast: { crab } }).place({ position: [0, y] });
    player.play(clip);
    return { crab, player };
  };

  test('at a hit and at a cue, the objects of all players are where they are then', () => {
    const all = [walker(0), walker(50, 'walk'), walker(90)];
    const seen: (readonly [what: string, time: number, ...xs: number[]])[] = [];
    const see = (what: string) =>
      seen.push([what, world.time, ...all.map(({ crab }) => Number(crab.position.x.toFixed(6)))]);
    const world = new HitWorld({ pairs: [['both', 'wall']], onHit: ({ by }) => see(by.owner) });
    all.forEach(({ player }, i) => world.add(`crab ${i}`, player));
    all[1]!.player.on('cue', ({ name }) => see(name));
    const shape = { kind: 'box', center: [0, 0], size: [2, 2], angle: 0 } as const;
    world.add('wall', { shapes: { it: { shape, tag: 'wall' } }, position: [52, 0] });
    world.tick(0.2);
    world.tick(0.6);
    // The edges meet when the crab is 1 + 1 before the middle of the wall.
    expect(seen.map(([what, , ...xs]) => [what, ...xs])).toEqual([
      // Its own is written when all that happens then has been told.
      ['step', 35, 20, 35],
      ['crab 0', 50, 50, 50],
    ]);
    expect(seen.map(([, time]) => Number(time.toFixed(9)))).toEqual([0.2, 0.5]);
    expect(all.map(({ crab }) => Number(crab.position.x.toFixed(6)))).toEqual([80, 80, 80]);
  });

  test('who is added in the middle of a frame may be hit in it; who is removed, not', () => {
    const { player } = walker(0);
    const wall = (x: number): HitBody => ({
      shapes: { it: { shape: { kind: 'circle', center: [0, 0], radius: 1 }, tag: 'wall' } },
      position: [x, 0],
    });
    const met: string[] = [];
    const world = new HitWorld({
      pairs: [['both', 'wall']],
      onHit: ({ to, time }) => {
        met.push(`${to.owner} ${time.toFixed(2)}`);
        if (to.owner !== 'first') return;
        world.remove('second').add('third', wall(72)).add('behind', wall(5));
      },
    });
    world.add('crab', player).add('first', wall(32)).add('second', wall(52)).add('last', wall(92));
    world.tick(1);
    expect(met).toEqual(['first 0.30', 'third 0.70', 'last 0.90']);
  });

  test('`may` is asked again after a handler, both ways', () => {
    const met: string[] = [];
    let allowed = ['first', 'second'];
    const { player } = walker(0);
    const world = new HitWorld({
      pairs: [['both', 'wall']],
      may: (_, to) => allowed.includes(to.owner),
      onHit: ({ to }) => {
        met.push(to.owner);
        allowed = ['third'];
      },
    });
    world.add('crab', player);
    ['first', 'second', 'third'].forEach((name, i) => {
      const shape = { kind: 'circle', center: [0, 0], radius: 1 } as const;
      world.add(name, { shapes: { it: { shape, tag: 'wall' } }, position: [20 + 20 * i, 0] });
    });
    world.tick(1);
    expect(met).toEqual(['first', 'third']);
  });

  test.each(['an object', 'a player'])('a cast that follows %s is swept in the frame in which that moves', (what) => {
    const still = parseReel({
      unspool: 1,
      roles: { aura: { shapes: { glow: { kind: 'circle', tag: 'both' } } } },
      clips: { shine: { duration: 9, tracks: { 'aura.glow': [{ at: 0, value: { radius: 1 } }] } } },
    });
    const hero = { position: { x: 0, y: 0 } };
    const leader = new Player(still, { name: 'leader' });
    const aura = new Player(still).follow(what === 'a player' ? leader : hero, [0, 5]);
    aura.play('shine');
    const shape = { kind: 'circle', center: [0, 0], radius: 1 } as const;
    const world = new HitWorld({ pairs: [['both', 'wall']] }).add('aura', aura).add('leader', leader);
    world.add('wall', { shapes: { it: { shape, tag: 'wall' } }, position: [50, 5] });
    const hits = Array.from({ length: 8 }, (_, i) => {
      hero.position.x = 10 * i;
      leader.place({ position: [10 * i, 0] });
      return world.tick(0.1);
    }).flat();
    // It is at 10 i at the end of frame i, and touches when it is 2 before the wall.
    expect(hits.map(({ by, time }) => [by.owner, Number(time.toFixed(9))])).toEqual([['aura', 0.58]]);
    expect(aura.parts.stage.placed!.position[0]).toBe(70);
  });

  test('a body has an activation each time that it is given another one, and none while that is null', () => {
    const { player } = walker(0);
    player.playback!.pause();
    const wave: HitBody = {
      shapes: { it: { shape: { kind: 'circle', center: [0, 0], radius: 5 }, tag: 'hits' } },
      position: [0, 0],
      activation: null,
    };
    const world = new HitWorld({ pairs: [['hits', 'both']] }).add('crab', player).add('wave', wave);
    const told = (activation: HitBody['activation']) => {
      wave.activation = activation!;
      return world.tick(0.1).length;
    };
    expect([null, 1, 1, 2, null, 2, 2].map(told)).toEqual([0, 1, 0, 1, 0, 1, 0]);
    expect(world.shapes).toHaveLength(2);
    // A saved world knows which activation has hit whom.
    const state = JSON.parse(JSON.stringify(world.save())) as ReturnType<typeof world.save>;
    expect(told('x')).toBe(1);
    world.restore(state);
    expect([2, 2, 'x'].map(told)).toEqual([0, 0, 1]);
    wave.activation = null;
    expect(world.shapes).toHaveLength(1);
  });
});
