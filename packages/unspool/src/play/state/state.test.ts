import { describe, expect, test } from 'vitest';
import GOLDEN from '../../../fixtures/state-6.json' with { type: 'json' };
import { parseReel, Player, type PlayerState } from '../../index.js';

const clip = (role: string, duration: number, more: object = {}) => ({
  duration,
  tracks: { [`${role}.glow`]: [{ at: 0, value: 0 }, { at: duration, value: duration }] }, // prettier-ignore
  cues: [{ at: duration / 2, until: duration * 0.75, name: 'inside' }],
  ...more,
});
const document = {
  unspool: 1,
  name: 'crab',
  roles: { crab: {}, claw: { parent: 'crab' }, bar: {} },
  clips: {
    step: clip('crab', 1, { loop: 'loop' }),
    snap: clip('claw', 0.4),
    level: clip('bar', 2),
    lost: clip('bar', 2),
    lean: {
      duration: 1,
      after: 'rest',
      tracks: { 'crab.rotation': { space: 'offset', keys: [{ at: 0, value: 1 }, { at: 1, value: 9 }] } }, // prettier-ignore
    },
  },
  chains: { both: ['snap', { clip: 'lean', fade: 0.2 }] },
  facings: { step: { right: 'step', left: { mirror: 'right' } } },
};
const reel = parseReel<unknown>(document);

function make(cast: object = {}): Player {
  const player = new Player(reel, { cast, seed: 4 });
  player.gauge('air', { clip: 'level', max: 10, value: 8, speed: 2, trail: { clip: 'lost', delay: 0.3, speed: 1 } });
  return player;
}

/** Everything at once, and a moment in the middle of all of it. */
function busy(): Player {
  const player = make({ crab: { rotation: 30 } });
  player.layer('top', { mask: ['claw', 'crab.rotation'], weight: 0.8 });
  player.place({ position: [5, 6, 7], rotation: 10, scale: [2, 3] });
  player.face('step', [-1, 0]);
  player.fallback('snap', { layer: 'top', fade: 0.1, vary: { rate: 0.1 } });
  player.tick(0.3);
  player.layer('top').play('both');
  player.gauge('air').value = 3;
  player.tick(0.45);
  player.playback!.rate = 0.7;
  player.layer('top').enqueue('snap');
  player.tick(0.05);
  return player;
}

const copy = (state: PlayerState) => JSON.parse(JSON.stringify(state)) as PlayerState;

describe('saving and restoring', () => {
  test('takes everything along: layers, queues, chains, fades, gauges, facings, places, seeds', () => {
    const one = busy();
    const crab = { rotation: 0, position: { x: 0, y: 0 } };
    const two = make({ crab });
    two.play('lean'); // forgotten without a word
    const unheard = () => expect.unreachable();
    two.on('stop', unheard);
    two.restore(copy(one.save()));
    two.off('stop', unheard);
    expect(copy(two.save())).toEqual(copy(one.save()));
    const top = two.layer('top');
    expect([top.weight, top.mask, top.queue.map((next) => next.clip.name)]).toEqual([0.8, ['claw', 'crab.rotation'], ['snap']]); // prettier-ignore
    expect(top.playback!.chain).toMatchObject({ name: 'both' });
    for (let frame = 0; frame < 240; frame++) {
      for (const player of [one, two]) player.tick(1 / 60);
      if (frame === 20) for (const player of [one, two]) player.face('step', [1, 0]);
      if (frame === 60) for (const player of [one, two]) player.gauge('air').value = 9;
      expect([...two.pose.values]).toEqual([...one.pose.values]);
      expect([two.gauge('air').shown, two.gauge('air').trail]).toEqual([
        one.gauge('air').shown,
        one.gauge('air').trail,
      ]);
    }
    expect(crab.position).toEqual({ x: 5, y: 6 });
  });

  test('goes back in the same player: rollback', () => {
    const player = busy();
    const state = copy(player.save());
    const run = () =>
      Array.from({ length: 90 }, (_, i) => {
        if (i === 30) player.play('lean', { fade: 0.3, vary: { offset: 1 } });
        player.tick(1 / 60);
        return [...player.pose.values];
      });
    const first = run();
    const old = player.playback!;
    player.restore(state);
    expect(run()).toEqual(first);
    expect(old.active).toBe(false);
  });

  test('an interval that is open when saved ends once, in the restored player', () => {
    const emitted: string[] = [];
    const make = () => {
      const player = new Player(reel);
      for (const type of ['cue-start', 'cue-end'] as const)
        player.on(type, ({ time }) => emitted.push(`${type} ${time}`));
      return player;
    };
    const one = make();
    one.play('step');
    one.tick(0.6);
    const two = make();
    two.restore(copy(one.save()));
    two.tick(0.2);
    expect(emitted).toEqual(['cue-start 0.5', 'cue-end 0.75']);
    two.tick(0.8);
    expect(emitted.slice(2)).toEqual(['cue-start 1.5']);
  });

  test('a promise that is waited for is settled', async () => {
    const player = make();
    const { ended } = player.play('step');
    const waiting = player.enqueue('snap', { wait: 'loop' }).ended;
    player.restore(copy(make().save()));
    expect(await Promise.all([ended, waiting])).toEqual(['stop', 'stop']);
    expect(player.isPlaying).toBe(false);
  });

  test('an invalid state, or one of another reel, is refused without a change', () => {
    const player = busy();
    const before = copy(player.save());
    const other = new Player(parseReel<unknown>({ ...document, name: 'jelly' }));
    const steaming = busy();
    steaming.gauge('steam', { clip: 'step' });
    const clips = Object.entries(document.clips as Record<string, unknown>).map(
      ([name, clip]) => [name === 'step' ? 'stpe' : name, clip] as const,
    );
    const without = new Player(
      parseReel<unknown>({ ...document, chains: {}, facings: {}, clips: Object.fromEntries(clips) }),
    );
    const bent = { ...copy(before), seed: 7 };
    expect(() => player.restore(other.save())).toThrow('belongs to the reel "jelly", not to the reel "crab"');
    expect(() => player.restore({} as PlayerState)).toThrow('is not a saved state');
    expect(() => player.restore(null as unknown as PlayerState)).toThrow('is not a saved state');
    expect(() => player.restore(steaming.save())).toThrow('has a gauge "steam"');
    expect(() => player.restore(bent)).toThrow('was modified');
    // What JSON writes as null is not null.
    for (const lost of [Infinity, NaN])
      expect(() => player.restore({ ...copy(before), place: lost } as never)).toThrow('was modified');
    expect(() => without.restore(before)).toThrow('has no clip "step". Did you mean "stpe"?');
    expect(copy(player.save())).toEqual(before);
  });
});

test('a state that an earlier build of this version has written continues as it did', () => {
  const {
    reel: doc,
    state,
    after,
  } = GOLDEN as unknown as {
    readonly reel: object;
    readonly state: PlayerState;
    readonly after: { readonly values: readonly number[]; readonly events: readonly string[]; readonly hits: number };
  };
  const player = new Player(parseReel<unknown>(doc));
  player.gauge('air', { clip: 'level', max: 10, speed: 2, trail: { clip: 'lost', delay: 0.3, speed: 1 } });
  const events: string[] = [];
  for (const type of ['cue-start', 'cue-end', 'loop', 'end', 'stop'] as const)
    player.on(type, ({ clip: name, time }) => events.push(`${type} ${name} ${time}`));
  player.restore(state);
  expect(copy(player.save())).toEqual(state);
  player.tick(1.5);
  expect([...player.pose.values]).toEqual(after.values);
  expect(events).toEqual(after.events);
  expect(after.hits).toBe(1);
});

describe('inside handlers', () => {
  test('other layers and the pose are at the same moment', () => {
    const player = new Player(reel);
    player.play('step');
    player.play('snap', { layer: 'top' });
    const seen: unknown[] = [];
    player.on('cue-start', ({ clip }) => {
      seen.push([clip, player.time, player.pose.get('crab.glow'), player.pose.get('claw.glow')]);
    });
    player.tick(0.7);
    expect(seen).toEqual([
      ['snap', 0.2, 0.2, 0.2],
      ['step', 0.5, 0.5, 0.4],
    ]);
  });

  test('what one does to another layer takes effect there and then', () => {
    for (const frames of [[2], [0.3, 0.3, 1.4]]) {
      const player = new Player(reel);
      const step = player.play('step');
      player.play('snap', { layer: 'top' });
      player.on('end', () => {
        step.rate = 0.5;
        player.enqueue('lean', { wait: 'loop' });
      });
      for (const dt of frames) player.tick(dt);
      // At its end, 0.4 s, the step has 0.6 s left, which take it twice as long: lean begins at 1.6 s.
      expect(player.playback!.clip.name).toBe('lean');
      expect(player.playback!.time).toBeCloseTo(0.4, 9);
    }
  });

  test('playing what plays, stopping what stops, and gauges that answer each other come to an end', () => {
    const errors: unknown[] = [];
    const player = new Player(reel, { onError: (error) => errors.push((error as Error).message) });
    player.gauge('air', { clip: 'level', speed: 1 });
    player.on('stop', ({ playback }) => playback.stop());
    player.on('arrive', ({ value }) => (player.gauge('air').value = 1 - value));
    player.gauge('air').value = 1;
    player.play('step');
    player.play('step');
    player.tick(3.5);
    expect(player.gauge('air').shown).toBeCloseTo(0.5, 9);
    player.on('stop', () => player.play('step'));
    player.playback!.stop();
    player.tick(0.1);
    expect(errors).toEqual([]);
    player.gauge('flash', { clip: 'lost' }).value = 1;
    player.on('arrive', ({ name, value }) => {
      if (name === 'flash') player.gauge('flash').value = 1 - value; // at once, without end
    });
    player.tick(0.1);
    expect(errors).toHaveLength(1);
    expect(errors[0]).toMatch(/more than 10000 moments, the last of gauge "flash"/);
  });

  test.each([
    [2, [0.25, 2.25, 4.25]],
    [0.5, [0.25, 0.75, 1.25]],
  ])('into a reel in which a loop of 1 s is %s s long now, it goes on inside the new length', (duration, times) => {
    const of = (length: number) =>
      parseReel<unknown>({
        unspool: 1,
        clips: {
          c: {
            ...{ duration: length, loop: 'loop', cues: [{ at: length / 2, name: 'half' }] },
            tracks: {
              'a.x': [
                { at: 0, value: 0 },
                { at: length, value: length },
              ],
            },
          },
        },
      });
    const one = new Player(of(1));
    one.play('c');
    one.tick(0.75);
    const two = new Player(of(duration));
    two.restore(copy(one.save()));
    const heard: number[] = [];
    two.on('cue', ({ time }) => heard.push(Number((time - 0.75).toFixed(9))));
    two.tick(0);
    expect(two.pose.get('a.x')).toBe(duration > 1 ? 0.75 : 0); // clamped, the end of a loop is its start
    for (let i = 0; i < 100; i++) two.tick(0.05);
    expect(heard.slice(0, 3).map((time) => Number(time.toFixed(6)))).toEqual(
      times.map((time) => Number(time.toFixed(6))),
    );
  });
});
