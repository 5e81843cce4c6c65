import { describe, expect, test } from 'vitest';
import { Crowd, easing, parseReel, Player, quatOf, UnspoolError } from '../../index.js';
import { distance, HitWorld } from '../../hit/index.js';

/** Wrong calls: each gives one clear error, or a warning, at the call. */
const document = {
  unspool: 1,
  name: 'pool',
  clips: {
    c: {
      duration: 1,
      spans: { part: [0.2, 0.8] },
      tracks: {
        'hero.position': [
          { at: 0, value: [0, 0] },
          { at: 1, value: [9, 0] },
        ],
        'hero.n': [{ at: 0, value: 1 }],
      },
    },
  },
};
const reel = parseReel<unknown>(document);
const make = (options: object = {}) => new Player(reel, options);
const of = (call: (player: Player) => unknown) => () => call(make()) as never;
const odd = (value: unknown) => value as never;

describe('a wrong call throws at once, with what to do', () => {
  test.each<readonly [string, () => unknown, string]>([
    ['loop: false', of((p) => p.play('c', { loop: odd(false) })), 'false is not a loop mode. Use "once"'],
    ['loop: null', of((p) => p.play('c', { loop: odd(null) })), 'null is not a loop mode'],
    ['loop: {}', of((p) => p.play('c', { loop: odd({}) })), '{} has no loop mode'],
    ['a member of loop', of((p) => p.play('c', { loop: odd({ mode: 'loop', cuont: 2 }) })), 'Did you mean "count"?'],
    ['count NaN', of((p) => p.play('c', { loop: { mode: 'loop', count: NaN } })), 'the count NaN of loop'],
    ['count −3', of((p) => p.play('c', { loop: { mode: 'loop', count: -3 } })), 'the count -3 of loop'],
    ['vary.rate', of((p) => p.play('c', { vary: { rate: NaN } })), 'vary.rate NaN is not from 0 to 1'],
    ['vary.ofset', of((p) => p.play('c', { vary: odd({ ofset: 1 }) })), 'Did you mean "offset"?'],
    ['no name', of((p) => p.play(odd(undefined))), 'has no clip undefined'],
    ['no options', of((p) => p.play('c', odd(null))), 'play expects an object as options, found null'],
    ['a layer', of((p) => p.play('c', { layer: odd(3) })), 'the layer 3 is not a name'],
    ['an unparsed document', () => new Player(odd(document)), 'new Player(parseReel(document))'],
    ['an option of Player', () => make({ csat: {} }), 'unknown option "csat" of Player. Did you mean "cast"?'],
    ['a null cast object', () => make({ cast: { hero: null } }), 'the role "hero" expects an object, found null'],
    ['a position', of((p) => p.place({ position: odd({ x: 1, y: 2 }) })), '{"x":1,"y":2} is not a valid position'],
    ['rotation 1e300', of((p) => p.place({ rotation: 1e300 })), '1e+300 is not a valid rotation'],
    ['seek NaN', of((p) => p.play('c').seek(NaN)), 'seek NaN is not a valid time'],
    ['never lands', of((p) => p.play('c', { from: 0.5, until: 0.25 })), 'until, at 0.25 s, is behind from, at 0.5 s'],
    ['rate 1e24', of((p) => p.play('c', { rate: 1e24 })), '1e+24 is not a valid rate'],
    [
      'an ease that gives nothing',
      of((p) => p.gauge('g', { clip: 'c', ease: odd(() => undefined) })),
      'ease returns undefined at 0',
    ],
    ['an ease by name', of((p) => p.gauge('g', { clip: 'c', ease: odd('quad-out') })), 'ease is "quad-out"'],
    ['an option of a gauge', of((p) => p.gauge('g', odd({ clip: 'c', sped: 1 }))), 'Did you mean "speed"?'],
    [
      'an option of a trail',
      of((p) => p.gauge('g', { clip: 'c', trail: odd({ clip: 'c', dely: 1 }) })),
      'Did you mean "delay"?',
    ],
    ['following nothing', of((p) => p.follow(odd(5))), '5 cannot be followed'],
    ['quatOf', () => quatOf([NaN, 0, 0]), '[null,0,0] is not a list of angles in degrees'],
    [
      'an angle',
      () => distance({ kind: 'box', center: [0, 0], size: [1, 1], angle: NaN }, odd({})),
      'is not a valid box',
    ],
    ['an easing', () => easing(odd(undefined)), 'undefined is not an easing'],
    ['progress', () => easing('sine-in')(NaN), 'the progress NaN is not a finite number'],
    ['a crowd’s loop', () => new Crowd(reel).add('c', { loop: odd({ mode: 'lop' }) }), 'Did you mean "loop"?'],
  ])('%s', (_, call, message) => {
    expect(call).toThrow(message);
  });

  test('a player that a hit world ticks cannot be ticked directly', () => {
    const player = make();
    const world = new HitWorld().add('hero', player);
    player.play('c');
    world.tick(0.1);
    expect(() => player.tick(0.1)).toThrow('which a hit world already ticks');
    expect(() => new HitWorld().add('hero', player)).toThrow('is already in another hit world');
    expect(player.time).toBe(0.1);
    world.remove('hero');
    player.tick(0.1);
    expect(player.time).toBe(0.2);
  });
});

test('likely mistakes give a warning', () => {
  const warnings: string[] = [];
  const onWarning = ({ message }: UnspoolError) => warnings.push(message);
  const player = make({ onWarning, cast: { hero: { x: 1, y: 2 } } });
  expect(warnings.splice(0)).toEqual([expect.stringContaining('has x and y but no position')]);
  player.layer('upper');
  player.play('c', { layer: 'upper' });
  player.play('c', { layer: 'legs' });
  expect(warnings).toEqual([]);
  player.play('c', { layer: 'uper' });
  expect(warnings).toEqual([expect.stringContaining('Did you mean "upper"?')]);
});

test('huge angles terminate, and are reduced by whole turns', () => {
  const [x, y, z, w] = quatOf([1e30, 0, 0]);
  expect(Math.hypot(x!, y!, z!, w!)).toBeCloseTo(1, 12);
  expect(quatOf([720 * 1e12 + 90, 0, 0])).toEqual(quatOf([90, 0, 0]));
  const at = (angle: number) => ({ kind: 'box' as const, center: [0, 0] as const, size: [4, 1] as const, angle });
  const circle = { kind: 'circle' as const, center: [9, 0] as const, radius: 1 };
  expect(distance(at(360e9 + 30), circle)).toEqual(distance(at(30), circle));
  const hero = { position: { x: 0, y: 0 } };
  const player = make({ cast: { hero } });
  player.place({ rotation: 1e30 }).play('c', { from: 1 });
  player.tick(0);
  expect(Math.hypot(hero.position.x, hero.position.y)).toBeCloseTo(9, 9);
});

describe('a frame that lasts a little less than nothing', () => {
  // A page: the loop began with performance.now(), and its first frame had begun before that.
  test.each([-1e-9, -0.0123, -0.1])('%d s: counts as 0, at every door', (dt) => {
    const player = new Player(reel);
    player.play('c');
    player.tick(dt);
    expect(player.time).toBe(0);
    const crowd = new Crowd(reel);
    crowd.add('c');
    crowd.tick(dt);
    expect(new HitWorld().tick(dt)).toEqual([]);
  });

  test.each([-0.11, -1, NaN, Infinity, -Infinity, undefined])('but %j is refused', (dt) => {
    for (const one of [new Player(reel), new Crowd(reel), new HitWorld()])
      expect(() => one.tick(dt as number)).toThrow(
        /tick expects the elapsed seconds, found .*a finite number of 0 or more/,
      );
  });
});

describe('an object that cannot be written to is refused when the player is made', () => {
  const moved = parseReel<unknown>({
    unspool: 1,
    clips: { c: { tracks: {
      'claw.position': [{ at: 0, value: [1, 2] }], 'claw.rotation': [{ at: 0, value: 1 }], 'claw.tint': [{ at: 0, value: '#fff' }],
      'claw.weights.bulge': [{ at: 0, value: 1 }],
    } } },
  }); // prettier-ignore
  class Fixed {
    get rotation() {
      return 3;
    }
  }
  const style = () => Object.defineProperty({}, Symbol.toStringTag, { value: 'CSSStyleDeclaration' });
  test.each<[string, object, string]>([
    ['frozen', Object.freeze({}), 'position: it is frozen and has no position'],
    ['whose rotation is read-only', new Fixed(), 'rotation: its rotation is read-only'],
    ['whose position is frozen', { position: Object.freeze({ x: 0, y: 0 }) }, 'position: its position.x is read-only'],
    ['whose position is a text', { position: '' }, 'position: its position is not an object'],
    ['whose tint is a number', { tint: 0xffffff }, 'tint: its tint is not an object'],
    [
      'with something of its own that is frozen',
      { weights: Object.freeze({}) },
      'weights.bulge: it is frozen and has no bulge',
    ],
    ['the style of an element', style(), 'position: it is a DOM CSSStyleDeclaration'],
  ])('one %s', (_, claw, message) => {
    expect(() => new Player(moved, { cast: { claw } })).toThrow(
      `the object of the role "claw" cannot take the property ${message}`,
    );
    expect(() => new Player(moved, { cast: { claw } })).toThrow(UnspoolError);
    // An adapter of the game's own knows better.
    expect(() => new Player(moved, { cast: { claw }, adapter: { write: () => {} } })).not.toThrow();
  });

  test('but not one with setters, nor an empty one', () => {
    let turned = 0;
    const claw = { position: { x: 0, y: 0 }, set rotation(degrees: number) { turned = degrees; } }; // prettier-ignore
    const player = new Player(moved, { cast: { claw } });
    player.play('c');
    player.tick(0.1);
    expect([claw.position, turned]).toEqual([{ x: 1, y: 2 }, 1]);
    for (const other of [{}, Object.create(null) as object, { weights: 3 }])
      new Player(moved, { cast: { claw: other } });
  });
});
