import fc from 'fast-check';
import { describe, expect, it, test, vi } from 'vitest';
import { parseReel, Player, type Reel } from '../index.js';
import { HitWorld } from '../hit/index.js';
import { runs } from '../../test/runs.js';
import { Lead } from './lead.js';
import { link } from './index.js';
import { link as linkNothing } from './production.js';

/** A crab that sways, snaps with a hit shape, and hops by offsets. */
const document = {
  unspool: 1,
  roles: {
    crab: {},
    claw: { parent: 'crab', rest: { opacity: 0.5 }, shapes: { pincer: { kind: 'box', tag: 'hits' } } },
  },
  clips: {
    sway: { loop: 'loop', tracks: { 'claw.rotation': [{ at: 0, value: 0 }, { at: 1, value: 60 }] } },
    snap: {
      tracks: {
        'claw.rotation': [{ at: 0, value: 0 }, { at: 0.5, value: -50 }],
        'claw.pincer': [{ at: 0, value: { center: [0, 0], size: [4, 4] } }],
      },
      cues: [{ at: 0.25, name: 'shut' }],
    },
    hop: { tracks: { 'crab.position': { space: 'offset', keys: [{ at: 0, value: [0, 0] }, { at: 1, value: [30, 0] }] } } },
  },
}; // prettier-ignore
const reel = () => parseReel(document) as unknown as Reel;
const cast = () => ({
  crab: { position: { x: 100, y: 50 }, rotation: 0, scale: { x: 1, y: 1 }, opacity: 1 },
  claw: { position: { x: 5, y: 0 }, rotation: 0, scale: { x: 1, y: 1 }, opacity: 1 },
});

function led(watched = true) {
  const objects = cast();
  const player = new Player(reel(), { cast: objects });
  const lead = new Lead(player, 'crab', () => undefined);
  lead.watch(watched);
  const order = (one: Parameters<Lead['follow']>[0]) => lead.follow(one, 'm');
  const changed = () => Object.fromEntries((lead.moment().changed ?? []).map(({ name, value }) => [name, value]));
  return { ...objects, player, lead, order, changed };
}

test('a player that is watched does the same as one that is not, to the bit', () => {
  const acts = fc.array(
    fc.record({
      dt: fc.double({ min: 0, max: 0.4, noNaN: true }),
      play: fc.option(fc.constantFrom('sway', 'snap', 'hop'), { freq: 3 }),
      place: fc.option(fc.double({ min: -50, max: 50, noNaN: true }), { freq: 6 }),
    }),
    { maxLength: 30 },
  );
  fc.assert(
    fc.property(acts, (list) => {
      const all = [led(), led(false)].map((one) => {
        const heard: unknown[] = [];
        one.player.on('cue', ({ name, time }) => heard.push([name, time]));
        for (const { dt, play, place } of list) {
          if (play) one.player.play(play);
          if (place !== null) one.player.place({ position: [place, 0] });
          one.player.tick(dt);
          one.lead.moment();
        }
        return { heard, crab: one.crab, claw: one.claw, state: one.player.save() };
      });
      expect(all[0]).toEqual(all[1]);
    }),
    runs(200),
  );
});

describe('a led player', () => {
  it('stands still, goes on by frames, at another rate, and as it was when nobody watches', () => {
    const { player, lead, order } = led();
    player.play('sway');
    player.tick(0.25);
    order({ do: 'pause' });
    player.tick(0.25);
    expect([player.time, lead.moment()]).toMatchObject([0.25, { paused: true, mark: 'm' }]);
    order({ do: 'step', frames: 3 });
    expect(player.time).toBeCloseTo(0.3, 12);
    order({ do: 'resume' });
    order({ do: 'rate', rate: 0.5 });
    player.tick(0.2);
    expect(player.time).toBeCloseTo(0.4, 12);
    order({ do: 'pause' });
    lead.watch(false);
    player.tick(0.1);
    expect(player.time).toBeCloseTo(0.5, 12);
    lead.end();
    player.tick(0.1);
    expect(player.time).toBeCloseTo(0.6, 12);
  });

  it('is sought without a cue and without an end, and writes at once', () => {
    const { player, order, claw, lead } = led();
    const heard: string[] = [];
    player.on('cue', ({ name }) => heard.push(name));
    player.on('end', () => heard.push('end'));
    player.enqueue('sway');
    player.tick(0);
    order({ do: 'seek', clip: 'snap', time: 0.25 });
    expect([claw.rotation, player.playback!.time]).toEqual([-25, 0.25]);
    order({ do: 'seek', clip: 'snap', time: 9 });
    expect(claw.rotation).toBe(-50);
    player.tick(1);
    expect([heard, lead.moment().playing[0]]).toEqual([[], expect.objectContaining({ clip: 'snap', time: 0.5, active: true })]); // prettier-ignore
  });

  it('of a hit world: all of the world stands still and slows down, and its hits are found as ever', () => {
    const { player, lead, order } = led();
    const hits: string[] = [];
    const world = new HitWorld({ pairs: [['hits', 'soft']], onHit: ({ to }) => hits.push(to.owner) });
    world.add('crab', player);
    world.add('urchin', {
      position: [0, 0],
      shapes: { soft: { shape: { kind: 'circle', center: [0, 0], radius: 9 }, tag: 'soft' } },
    });
    order({ do: 'pause' });
    player.play('snap');
    for (let i = 0; i < 5; i++) expect(world.tick(0.1)).toEqual([]);
    expect([world.time, player.time, hits]).toEqual([0, 0, []]);
    order({ do: 'resume' });
    order({ do: 'rate', rate: 0.5 });
    world.tick(0.2);
    expect([world.time, player.time]).toEqual([0.1, 0.1]);
    expect(hits).toEqual(['urchin']);
    lead.watch(false);
    world.tick(0.1);
    expect(world.time).toBeCloseTo(0.2, 12);
  });

  it('waits with an order for a clip that its reel may have soon', () => {
    const { lead, order } = led();
    order({ do: 'play', clip: 'nod' });
    expect(() => lead.catchUp()).not.toThrow();
    expect(lead.moment().playing).toEqual([]);
  });
});

describe('what is set on its objects', () => {
  it('is told with what it was, of what a clip animates and of what nothing does, and given back', () => {
    const { player, claw, crab, order, changed } = led();
    player.play('sway');
    player.tick(0.5);
    expect(changed()).toEqual({});
    order({ do: 'pause' });
    Object.assign(claw, { rotation: 12, opacity: 0.25, scale: { x: 2, y: 1 } });
    crab.position.y = 60;
    expect(changed()).toEqual({
      'claw.rotation': 12,
      'claw.opacity': 0.25,
      'claw.scale': [2, 1],
      'crab.position': [100, 60],
    });
    order({ do: 'give-back', names: ['claw.rotation', 'claw.scale'] });
    expect([claw.rotation, claw.scale, changed()]).toEqual([
      30,
      { x: 1, y: 1 },
      { 'claw.opacity': 0.25, 'crab.position': [100, 60] },
    ]);
    order({ do: 'give-back' });
    expect([changed(), crab.position]).toEqual([{}, { x: 100, y: 50 }]);
  });

  it('is the placement’s for roots of a cast that is placed, and none when the player moves on', () => {
    const { player, claw, crab, order, changed } = led();
    player.place({ position: [7, 7] });
    player.play('sway');
    player.tick(0.5);
    order({ do: 'pause' });
    crab.position.x = 90;
    claw.rotation = 1;
    expect(changed()).toEqual({ 'claw.rotation': 1 });
    order({ do: 'resume' });
    player.tick(0.1);
    expect(changed()).toEqual({});
  });
});

it('a motion is recorded with what moves the objects before and after the player in a frame', async () => {
  const { player, claw, lead, order } = led();
  order({ do: 'record', roles: ['claw'] });
  for (let frame = 0; frame <= 30; frame++) {
    player.tick(frame === 0 ? 0 : 1 / 60);
    // After the player: it is seen in the same frame.
    claw.position.x = frame * 2;
    await new Promise((resolve) => setTimeout(resolve));
  }
  order({ do: 'stop-recording' });
  const samples = lead.takeRecorded()!;
  expect(samples).toHaveLength(31);
  for (const { time, values } of samples) expect((values['claw.position'] as number[])[0]).toBeCloseTo(time * 120, 9);
  expect(lead.takeRecorded()).toBeUndefined();
});

it('goes on where it was after a reload; from a state that is none it starts anew, with a warning', () => {
  const { player } = led(false);
  player.play('sway');
  player.tick(0.25);
  const saved = player.save();
  const again = (state: unknown) => {
    const one = new Player(reel(), { cast: cast() });
    new Lead(one, 'crab', () => undefined, state as typeof saved);
    one.tick(0.25);
    return [one.time, one.playback?.clip.name];
  };
  expect(again(saved)).toEqual([0.5, 'sway']);
  const warn = vi.spyOn(console, 'warn').mockImplementation(() => undefined);
  expect(again({ ...saved, check: 1 })).toEqual([0.25, undefined]);
  expect(warn.mock.calls.join()).toContain('crab starts anew after the reload');
  warn.mockRestore();
});

it('an object that its game has taken apart does not disturb the frame', () => {
  const { player, lead, claw } = led();
  player.play('hop');
  player.tick(0.1);
  Object.defineProperty(claw, 'rotation', {
    get() {
      throw new Error('destroyed');
    },
  });
  expect(() => player.tick(0.1)).not.toThrow();
  expect(lead.moment().changed).toEqual([]);
});

test('link refuses what it cannot link, and does nothing where there is no workbench', () => {
  const { player } = led();
  link(player as never)();
  expect(() => link({} as never)).toThrow('expected a player');
  expect(() => link(player as never, { name: ' ' })).toThrow('the name " " is not valid');
  for (const to of ['http://evil.example/#' + 'a'.repeat(48), 'http://127.0.0.1:4640/', 'file:///x'])
    expect(() => link(player as never, { to })).toThrow('is not an address of the workbench');
  // In a build.
  expect(linkNothing({} as never)()).toBeUndefined();
});
