import fc from 'fast-check';
import { expect, test } from 'vitest';
import { runs } from '../../../test/runs.js';
import { parseReel, Player, type Placement } from '../../index.js';
import { HitWorld } from '../../hit/index.js';

/**
 * Casts that are placed, mirrored and followed, moved by the game in between: against a slow twin that is written from
 * docs/reference/laws.md and docs/reference/player.md alone. It has one role with clips of its own, and one that no clip moves.
 */
const line = (from: unknown, to: unknown, end: number, more: object = {}) => ({
  keys: [
    { at: 0, value: from },
    { at: end, value: to },
  ],
  ...more,
});
const reel = parseReel<unknown>({
  unspool: 1,
  roles: { hero: {}, shade: {}, arm: { parent: 'hero', rest: { position: [3, 1] } } },
  clips: {
    hop: { after: 'rest', tracks: { 'hero.position': line([0, 0], [4, -8], 0.5, { space: 'offset' }) } },
    glide: { tracks: { 'hero.position': line([10, 0], [30, 5], 0.5) } },
    right: { duration: 1, loop: 'loop', tracks: { 'arm.rotation': line(0, 40, 1) } },
  },
  facings: { go: { right: 'right', left: { mirror: 'right' } } },
});

type Command =
  | { readonly call: 'play'; readonly clip: 'hop' | 'glide' }
  | { readonly call: 'place'; readonly placement: Placement }
  | { readonly call: 'face'; readonly left: boolean }
  | { readonly call: 'move'; readonly by: number }
  | { readonly call: 'save' };

const number = fc.integer({ min: -20, max: 20 });
const placement = fc.record(
  {
    position: fc.tuple(number, number),
    rotation: fc.constantFrom(0, 90, -30, 400),
    scale: fc.oneof(fc.constantFrom(1, 2, 0.5), fc.tuple(fc.constantFrom(1, 2), fc.constantFrom(1, -1, 3))),
    flip: fc.boolean(),
  },
  { requiredKeys: [] },
);
const command: fc.Arbitrary<Command> = fc.oneof(
  {
    weight: 3,
    arbitrary: fc.record({
      call: fc.constant('play' as const),
      clip: fc.constantFrom('hop' as const, 'glide' as const),
    }),
  },
  { weight: 2, arbitrary: fc.record({ call: fc.constant('place' as const), placement }) },
  fc.record({ call: fc.constant('face' as const), left: fc.boolean() }),
  { weight: 2, arbitrary: fc.record({ call: fc.constant('move' as const), by: fc.integer({ min: 1, max: 9 }) }) },
  fc.constant({ call: 'save' } as const),
);
const step = fc.record({ command, after: fc.nat(40) });

interface Thing {
  position: { x: number; y: number };
  rotation: number;
  scale: { x: number; y: number };
}
const thing = (x: number, y: number): Thing => ({ position: { x, y }, rotation: 15, scale: { x: 2, y: 1 } });

/** What the objects should show, worked out from the laws alone. */
class Twin {
  now = 0;
  place: Required<Placement> | undefined;
  mirrored = false;
  /** The hero's own position: where it stands in the placement, or in the world. */
  own: readonly [number, number];
  /** What plays, since when, and what it began from. */
  clip: { name: 'hop' | 'glide'; at: number; from: readonly [number, number] } | undefined;
  /** Where it stood when the first of those began that play now: what a mirror turns an offset about. */
  ground = 0;

  constructor(
    readonly hero: Thing,
    readonly shade: Thing,
  ) {
    this.own = [hero.position.x, hero.position.y];
  }

  get shown(): readonly [number, number] {
    if (!this.clip) return this.own;
    const share = Math.min(1, (this.now - this.clip.at) / 0.5);
    const [x, y] = this.clip.from;
    return this.clip.name === 'hop' ? [x + 4 * share, y - 8 * share] : [10 + 20 * share, 5 * share];
  }

  /** Where a position of the hero's own is in the world. */
  world([x, y]: readonly [number, number]): readonly [number, number] {
    if (this.place) return this.under(x, y);
    if (!this.mirrored || !this.clip) return [x, y];
    const about = this.clip.name === 'hop' ? this.ground : 0;
    return [2 * about - x, y];
  }

  get scale(): readonly [number, number] {
    const { scale = 1, flip = false } = this.place ?? {};
    const [sx, sy] = typeof scale === 'number' ? [scale, scale] : scale;
    return [flip !== this.mirrored ? -sx : sx, sy];
  }

  under(x: number, y: number): readonly [number, number] {
    const { position, rotation } = this.place!;
    const [sx, sy] = this.scale;
    const angle = (rotation * Math.PI) / 180;
    const [u, v] = [x * sx, y * sy];
    return [
      position[0] + u * Math.cos(angle) - v * Math.sin(angle),
      position[1] + u * Math.sin(angle) + v * Math.cos(angle),
    ];
  }

  /** What is over lets go. */
  end(): void {
    if (!this.clip || this.now < this.clip.at + 0.5 - 1e-9) return;
    const { name, from } = this.clip;
    const shown = this.shown;
    this.own = name === 'hop' ? from : this.place ? shown : this.world(shown);
    this.clip = undefined;
  }
}

test('placed, mirrored, followed and moved by the game: the slow twin agrees', () => {
  fc.assert(
    fc.property(fc.array(step, { minLength: 1, maxLength: 10 }), (steps) => {
      const [hero, shade, bubble] = [thing(50, 20), thing(1, 2), thing(0, 0)];
      const twin = new Twin(thing(50, 20), thing(1, 2));
      const make = () => {
        const made = new Player(reel, { cast: { hero, shade } });
        return made;
      };
      let player = make();
      const above = new Player(reel, { cast: { hero: bubble } });
      above.follow(player, [1, -2]);
      let free = true;
      for (const { command: one, after } of steps) {
        const [x, y] = [hero.position.x, hero.position.y];
        if (one.call === 'play') {
          if (free && !twin.place) twin.own = [x, y];
          const from = twin.clip ? twin.shown : twin.own;
          if (!twin.clip) twin.ground = twin.own[0];
          else if (twin.clip.name === 'hop') [twin.ground] = twin.clip.from; // it leaves rest
          player.play(one.clip);
          // What it replaces goes on being what a hop counts from, as it stands now.
          twin.clip = { name: one.clip, at: twin.now, from };
          free = false;
        } else if (one.call === 'place') {
          const before = { position: [0, 0], rotation: 0, scale: 1, flip: false } as const;
          if (!twin.place && free) twin.own = [x, y];
          player.place(one.placement);
          twin.place = { ...(twin.place ?? before), ...one.placement };
        } else if (one.call === 'face') {
          player.face('go', [one.left ? -1 : 1, 0], { layer: 'way' });
          twin.mirrored = one.left;
        } else if (one.call === 'move') {
          if (twin.place || !free) continue;
          hero.position.x += one.by;
        } else {
          const state = JSON.parse(JSON.stringify(player.save())) as ReturnType<Player['save']>;
          player.dispose();
          player = make();
          player.restore(state);
          above.follow(player, [1, -2]);
        }
        const dt = after / 64;
        player.tick(dt);
        above.tick(dt);
        twin.now += dt;
        const shown = twin.shown;
        const isOver = twin.clip && twin.now >= twin.clip.at + 0.5 - 1e-9;
        const isBack = isOver && twin.clip!.name === 'hop';
        const [wx, wy] = isBack && !twin.place ? twin.clip!.from : twin.world(isBack ? twin.clip!.from : shown);
        if (twin.place || twin.clip) {
          expect(hero.position.x).toBeCloseTo(wx, 9);
          expect(hero.position.y).toBeCloseTo(wy, 9);
        }
        twin.end();
        free = !twin.clip;
        const [sx, sy] = twin.scale;
        expect([hero.scale.x, hero.scale.y]).toEqual([2 * sx, sy]);
        expect([shade.scale.x, shade.scale.y]).toEqual([2 * sx, sy]);
        const sense = sx * sy < 0 ? -1 : 1;
        const turn = twin.place ? twin.place.rotation + sense * 15 : 15; // the game's own stays as it is
        expect([hero.rotation, shade.rotation]).toEqual([turn, turn]);
        const [ux, uy] = twin.place ? twin.under(1, 2) : [1, 2];
        expect(shade.position.x).toBeCloseTo(ux, 9);
        expect(shade.position.y).toBeCloseTo(uy, 9);
        expect(bubble.position.x).toBeCloseTo(hero.position.x + 1, 9);
        expect(bubble.position.y).toBeCloseTo(hero.position.y - 2, 9);
      }
    }),
    runs(400),
  );
});

test('shapes of a rotated root under uneven scale are where the written object puts them', () => {
  const own = fc.record({
    position: fc.tuple(number, number),
    rotation: number.map((n) => n * 9),
    scale: fc.constantFrom(1, 2, -1),
  });
  fc.assert(
    fc.property(placement, own, (place, { position, rotation, scale }) => {
      const still = (value: unknown) => [{ at: 0, value }];
      const one = parseReel<unknown>({
        unspool: 1,
        roles: { hero: { shapes: { body: { kind: 'circle', tag: 'hurt' } } } },
        clips: {
          c: {
            duration: 1,
            tracks: {
              'hero.position': still(position),
              'hero.rotation': still(rotation),
              'hero.scale': still([scale, 1]),
              'hero.body': [
                { at: 0, value: { center: [3, 1], radius: 1 } },
                { at: 1, value: {} },
              ],
            },
          },
        },
      });
      const hero = thing(0, 0);
      const player = new Player(one, { cast: { hero } });
      player.place(place).play('c');
      const world = new HitWorld().add('hero', player);
      world.tick(0.1);
      const angle = (hero.rotation * Math.PI) / 180;
      const [u, v] = [3 * hero.scale.x, hero.scale.y];
      const { center } = world.shapes[0]!.shape as { center: readonly [number, number] };
      expect(center[0]).toBeCloseTo(hero.position.x + u * Math.cos(angle) - v * Math.sin(angle), 9);
      expect(center[1]).toBeCloseTo(hero.position.y + u * Math.sin(angle) + v * Math.cos(angle), 9);
    }),
    runs(200),
  );
});
