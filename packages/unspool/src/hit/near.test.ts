import fc from 'fast-check';
import { expect, test, vi } from 'vitest';
import { placement, shapedReel } from '../../test/random-shapes.js';
import { runs } from '../../test/runs.js';
import { swingField, swinging } from '../../test/swinging.js';
import { parseReel, Player, randomNumbers, type LoopMode } from '../index.js';
import { LookAhead } from '../play/drive/look-ahead.js';
import { Core } from '../shape/core.js';
import { Aim } from './aim.js';
import { boxOf, ENDLESS, overlap } from './boxes.js';
import { HitWorld, type HitBody } from './index.js';
import { Near } from './near.js';
import type { OwnedShape } from './owner.js';
import { PlayerOwner } from './player-owner.js';

/** What may meet what in a frame: nothing may be left out, and nothing looked at that is far away. */
const or = (usual: fc.Arbitrary<number>, ...others: readonly number[]) =>
  fc.oneof({ weight: 9, arbitrary: usual }, fc.constantFrom(...others));
const place = or(fc.integer({ min: -30, max: 30 }), -ENDLESS);
const size = or(fc.integer({ min: 0, max: 12 }), ENDLESS);
const boxes = fc.array(
  fc.record({
    tag: fc.constantFrom('hits', 'hurt', 'both'),
    at: fc.array(fc.tuple(or(place, Infinity), place, size, size), { minLength: 4, maxLength: 4 }),
  }),
  { minLength: 1, maxLength: 24 },
);

test('the boxes that overlap are found, in every frame, however they have moved since', () => {
  fc.assert(
    fc.property(boxes, (list) => {
      const all = new Float64Array(4 * list.length);
      const shapes = list.map(({ tag }, i) => {
        const owner = { name: `${i}` };
        return { owner, name: `${i}`, tag, box: all.subarray(4 * i, 4 * i + 4) } as unknown as OwnedShape;
      });
      const aims = shapes.flatMap((shape, i) => (shape.tag === 'hurt' ? [] : [new Aim(shape, 0, i)]));
      const targets = shapes.filter(({ tag }) => tag !== 'hits');
      const near = new Near(shapes, all, aims, targets);
      for (let frame = 0; frame < 4; frame++) {
        list.forEach(({ at }, i) => {
          const [x, y, w, h] = at[frame]!;
          // An infinite place is that of what is not active.
          if (x === Infinity) all.set([Infinity, Infinity, -Infinity, -Infinity], 4 * i);
          else all.set([x, y, x + w, y + h], 4 * i);
        });
        for (const aim of aims) aim.begin();
        near.find();
        for (const aim of aims) {
          const found = aim.near.slice(0, aim.count);
          const expected = targets.filter((to) => to !== aim.by && overlap(aim.by.box, to.box));
          expect(new Set(found)).toEqual(new Set(expected));
          expect(found).toHaveLength(expected.length);
        }
      }
    }),
    runs(500),
  );
});

const loops = fc.constantFrom<LoopMode>('once', 'loop', 'ping-pong');

test('a shape stays in its boxes until its owner looks ahead again: random shapes, placements, fades and layers', () => {
  const after = fc.record({
    dt: fc.constantFrom(0.003, 1 / 60, 0.1, 0.4),
    to: fc.option(placement, { nil: undefined }),
    play: fc.option(fc.record({ loop: loops, fade: fc.constantFrom(0, 0.3), top: fc.boolean() }), { nil: undefined }),
  });
  const frames = fc.array(after, { minLength: 2, maxLength: 6 });
  const rate = fc.constantFrom(1, -1, 3, 0.2, 0);
  fc.assert(
    fc.property(shapedReel, placement, loops, rate, frames, (document, at, loop, speed, list) => {
      const text = JSON.stringify(document).replace('{"kind":"', '{"tag":"hits","kind":"');
      const player = new Player(parseReel<unknown>(text)).place(at);
      player.layer('top', { weight: 0.7 });
      const clock = { length: 0 };
      const owner = new PlayerOwner('a', clock, player, undefined, () => undefined);
      player.play('move', { loop, rate: speed, from: 0.4 });
      const [core, now, box] = [new Core(), new Float64Array(4), new Float64Array(4)];
      for (const { dt, to, play } of list) {
        if (to) player.place(to);
        if (play) player.play('move', { loop: play.loop, fade: play.fade, layer: play.top ? 'top' : 'base' });
        clock.length = dt;
        owner.begin();
        for (let looks = 0; looks < 40 && owner.done < dt; looks++) {
          owner.look(looks);
          const [shape] = owner.shapes;
          const [from, until] = [owner.done, owner.until];
          shape!.boxInto(from, box);
          // A shape that nothing defines has no box, and is nowhere.
          for (let i = 0; i <= 10 && shape!.box[0] !== Infinity; i++) {
            shape!.put(from + ((until - from) * i) / 10, core);
            boxOf(core, now);
            const slack = 1e-9 * (1 + Math.max(...now.map(Math.abs)));
            for (const one of [shape!.box, box]) {
              // Of a sector `boxOf` takes the whole circle, which turns with nothing.
              const off = [one[0]! - now[0]!, one[1]! - now[1]!, now[2]! - one[2]!, now[3]! - one[3]!];
              if (!core.hasArc) expect(Math.max(...off)).toBeLessThan(slack);
            }
          }
          owner.advance(until);
        }
      }
    }),
    runs(150),
  );
});

/** A scene of players and bodies that go their ways; `only` some of them. All shapes can `grow` where they are. */
function scene(seed: number, fps: number, only: (name: string) => boolean, grow = 0) {
  const random = randomNumbers(seed);
  const world = new HitWorld();
  const reel = swinging(grow);
  const moves: ((now: number) => void)[] = [];
  for (let i = 0; i < 7; i++) {
    const [x, y, vx, vy, turn, kind, from] = Array.from({ length: 7 }, random) as [number, number, number, number, number, number, number]; // prettier-ignore
    const player = new Player(reel);
    const name = `player ${i}`;
    // No half of a fade falls on a frame, or on that of another player: what touches for an instant is told or not.
    const odd = (i + 1) / 71;
    const at = (now: number) => [40 * x + 30 * (vx - 0.5) * now, 40 * y + 30 * (vy - 0.5) * now] as const;
    player.place({ position: at(0), rotation: 360 * turn, scale: 1 + kind / 2, flip: turn > 0.5 });
    player.play('swing', { from, rate: 0.5 + kind });
    // Some turn around at a cue: in the middle of a frame.
    if (kind > 0.7) player.on('cue', () => player.playback!.reverse());
    if (!only(name)) continue;
    world.add(name, player);
    moves.push((now) => {
      if (kind < 0.6) player.place({ position: at(now) });
      const frame = Math.round(now * fps);
      if (frame === Math.round(fps * (0.3 + from / 3))) player.play('rest', { fade: 0.2 + odd });
      if (frame === Math.round(fps * (0.8 + from / 3))) player.play('swing', { fade: kind > 0.5 ? 0.3 + odd : 0 });
      if (frame === Math.round(fps * 1.2) && kind < 0.3) player.playback!.pause();
    });
  }
  for (let i = 0; i < 12; i++) {
    const [x, y, vx, vy] = Array.from({ length: 4 }, random) as [number, number, number, number];
    const shape = { kind: 'circle', center: [0, 0], radius: 1.5 + grow } as const;
    const body: HitBody = { shapes: { it: { shape, tag: 'hurt' } }, position: [40 * x, 40 * y] };
    if (!only(`body ${i}`)) continue;
    world.add(`body ${i}`, body);
    moves.push((now) => (body.position = [40 * x + 60 * (vx - 0.5) * now, 40 * y + 60 * (vy - 0.5) * now]));
  }
  const hits: string[] = [];
  for (let frame = 1; frame <= 2 * fps; frame++) {
    for (const move of moves) move(frame / fps);
    for (const { by, to, time } of world.tick(1 / fps)) hits.push(`${by.owner} > ${to.owner} > ${time.toFixed(5)}`);
  }
  return hits;
}

test('a world of many finds what worlds of two find, and nothing else', () => {
  fc.assert(
    fc.property(fc.nat(1e6), fc.constantFrom(20, 60), (seed, fps) => {
      const many = scene(seed, fps, () => true);
      const names = [...Array.from({ length: 7 }, (_, i) => `player ${i}`), ...Array.from({ length: 12 }, (_, i) => `body ${i}`)]; // prettier-ignore
      for (let i = 0; i < 7; i++) {
        for (const to of names.slice(i + 1)) {
          const pair = [`player ${i}`, to];
          const found = many.filter((hit) => pair.every((name) => hit.includes(`${name} >`)));
          const alone = scene(seed, fps, (name) => pair.includes(name));
          if (found.join() === alone.join()) continue;
          // A contact that is lighter than rounding may be told or not.
          const counts = [-1e-6, 1e-6].map((grow) => scene(seed, fps, (name) => pair.includes(name), grow).length);
          expect(found.length, `${pair.join()}: ${found.join()} | ${alone.join()}`).toBeGreaterThanOrEqual(counts[0]!);
          expect(found.length, `${pair.join()}: ${found.join()} | ${alone.join()}`).toBeLessThanOrEqual(counts[1]!);
        }
      }
    }),
    runs(6),
  );
});

test('what is far away costs no look at its pose, and what plays on is not taken over anew', () => {
  const { world, bodies } = swingField(40);
  for (let i = 0; i < 130; i++) world.tick(1 / 60);
  const names = ['update', 'sampleInto', 'boundsInto'] as const;
  const spies = names.map((name) => vi.spyOn(LookAhead.prototype, name));
  const looks = vi.spyOn(PlayerOwner.prototype, 'look');
  for (let i = 0; i < 30; i++) world.tick(1 / 60);
  expect(spies.map(({ mock }) => mock.calls.length)).toEqual([0, 0, 0]);
  // Once a frame, and at a turn or a cue.
  expect(looks.mock.calls.length).toBeLessThan(40 * 30 * 1.1);
  // One that is near is swept against.
  bodies[0]!.position = [17, 0];
  world.tick(1 / 60);
  expect(spies[1]!.mock.calls.length).toBeGreaterThan(0);
  expect(spies[1]!.mock.calls.length).toBeLessThan(30);
  for (const spy of [...spies, looks]) spy.mockRestore();
});
