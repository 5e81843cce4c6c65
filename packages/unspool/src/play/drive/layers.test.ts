import { describe, expect, test } from 'vitest';
import { parseReel, Player } from '../../index.js';

/** A second of everything that is blended in a way of its own. */
const line = (from: unknown, to: unknown, more: object = {}) => ({
  keys: [
    { at: 0, value: from },
    { at: 1, value: to },
  ],
  ...more,
});
const clip = (tracks: object, more: object = {}) => ({ duration: 1, tracks, ...more });
const reel = parseReel<unknown>({
  unspool: 1,
  name: 'crab',
  roles: { claw: { rest: { glow: 5 } }, crab: {} },
  clips: {
    low: clip({
      'claw.glow': line(0, 10),
      'claw.aim': line(350, 350, { kind: 'angle', turn: 'shortest' }),
      'claw.mood': line('calm', 'calm'),
      'claw.tint': line('#000', '#000', { mix: 'linear' }),
      'claw.facing': line([0, 0, 0, 1], [0, 0, 0, 1], { kind: 'quat' }),
    }),
    high: clip({
      'claw.glow': line(100, 100),
      'claw.aim': line(20, 20, { kind: 'angle', turn: 'shortest' }),
      'claw.mood': line('cross', 'cross'),
      'claw.tint': line('#fff', '#fff', { mix: 'linear' }),
      'claw.facing': line({ euler: [0, 0, 90] }, { euler: [0, 0, 90] }),
    }),
    crab: clip({ 'crab.rotation': line(0, 90), 'crab.tint': line('#f00', '#f00') }, { loop: 'loop' }),
    shake: clip({ 'claw.glow': line(1, 3, { space: 'offset' }) }),
    swell: clip({ 'claw.scale': line([2, 2], [2, 2], { space: 'offset' }) }, { after: 'rest' }),
    walk: clip({ 'claw.glow': line(0, 8) }, { loop: 'loop' }),
  },
});
const make = (options: object = {}) => new Player(reel, options);
const get = (player: Player, name = 'claw.glow') => player.pose.get(name) as number;

describe('crossfades', () => {
  test('numbers, angles the shorter way, quaternions, colors in their space; held kinds take the heavier', () => {
    const player = make();
    player.play('low');
    player.tick(0.5);
    player.play('high', { fade: 1 });
    player.tick(0.25);
    expect(get(player)).toBeCloseTo(7.5 * 0.75 + 100 * 0.25, 12); // what is left goes on
    expect(get(player, 'claw.aim')).toBeCloseTo(350 + 30 * 0.25, 12);
    expect(player.pose.get('claw.mood')).toBe('calm');
    const [x, y, z, w] = player.pose.get('claw.facing') as unknown as number[];
    const half = [0.75 + 0.25 * Math.SQRT1_2, 0.25 * Math.SQRT1_2]; // a weighted sum, normalized
    expect([x, y]).toEqual([0, 0]);
    expect(z! / w!).toBeCloseTo(half[1]! / half[0]!, 12);
    expect(Math.hypot(z!, w!)).toBeCloseTo(1, 12);
    const [red] = player.pose.get('claw.tint') as unknown as number[];
    expect(red).toBeCloseTo(1.055 * 0.25 ** (1 / 2.4) - 0.055, 12); // a quarter of the light
    player.tick(0.5);
    expect(player.pose.get('claw.mood')).toBe('cross');
    player.tick(0.25);
    expect([get(player), get(player, 'claw.aim')]).toEqual([100, 20]); // to the bit
  });

  test('a fade that interrupts another starts from what is shown', () => {
    const player = make();
    player.play('low', { rate: 0 });
    player.tick(0);
    player.play('high', { fade: 1, rate: 0 });
    player.tick(0.4);
    const before = get(player);
    player.play('walk', { fade: 0.5, rate: 0 });
    player.tick(0);
    expect(get(player)).toBe(before);
    player.tick(0.25);
    expect(get(player)).toBeCloseTo((0.5 * 65 * 100) / 100, 9); // the fade under it went on to 0.65
    player.tick(0.25);
    expect(get(player)).toBe(0);
  });

  test('what only the one before animates fades to rest, what only the new one does comes from there', () => {
    const player = make();
    player.play('high');
    player.tick(0);
    player.play('crab', { fade: 1, rate: 0 });
    player.tick(0.5);
    expect(get(player)).toBeCloseTo(52.5, 12);
    expect((player.pose.get('crab.tint') as unknown as number[]).map((n) => Math.round(n * 100))).toEqual([
      100, 50, 50, 100,
    ]);
    player.stop({ fade: 0.5, after: 'rest' });
    player.tick(0.5);
    expect(player.pose.toObject()).toMatchObject({ 'claw.glow': 5, 'crab.rotation': 0, 'crab.tint': [1, 1, 1, 1] });
  });

  test('a weight shows a part of what is below', () => {
    const player = make();
    const playback = player.play('high', { weight: 0.25 });
    player.tick(0);
    expect(get(player)).toBe(5 + 95 * 0.25);
    playback.weight = 1;
    expect(get(player)).toBe(100);
    expect(() => (playback.weight = 2)).toThrow('from 0 to 1');
  });
});

describe('layers', () => {
  test('a higher layer covers those below by its weight, where it animates', () => {
    const player = make();
    player.play('low');
    player.play('crab', { layer: 'top' });
    player.tick(0.5);
    expect([get(player), get(player, 'crab.rotation')]).toEqual([5, 45]);
    player.layer('top').play('high');
    player.layer('top').weight = 0.5;
    player.tick(0.1);
    expect(get(player)).toBeCloseTo(6 + 94 * 0.5, 12);
    expect(player.playback!.clip.name).toBe('low');
  });

  test('a one-shot goes over what runs, and leaves it', () => {
    const player = make();
    player.play('walk');
    player.play('shake', { layer: 'hurt', after: 'rest' });
    player.tick(0.5);
    expect(get(player)).toBe(4 + 2); // an offset adds to what is below it now
    player.layer('hurt').weight = 0.5;
    player.tick(0.25);
    expect(get(player)).toBe(6 + 2.5 / 2);
    player.tick(0.5);
    expect(get(player)).toBe(2);
  });

  test('a mask keeps to roles and properties', () => {
    const player = make();
    player.play('low');
    player.layer('top', { mask: ['claw.glow', '*.rotation'] });
    player.play('high', { layer: 'top' });
    player.tick(0.5);
    expect([get(player), get(player, 'claw.aim')]).toEqual([100, 350]);
    player.play('crab', { layer: 'top' });
    player.tick(0.5);
    expect(player.pose.toObject()).toMatchObject({ 'crab.rotation': 45, 'crab.tint': [1, 1, 1, 1], 'claw.glow': 10 });
    expect(() => player.layer('other', { mask: ['clow'] })).toThrow('Did you mean "claw"?');
    expect(() => player.layer('top', { mask: ['claw'] })).toThrow('another mask');
  });

  test('offsets are relative to the object, and return to it', () => {
    const claw = { glow: 3, scale: { x: 1.5, y: 1 } };
    const player = make({ cast: { claw } });
    player.tick(0); // the declared rest value was written, once
    expect(claw.glow).toBe(5);
    claw.glow = 40; // the game moves it itself
    player.play('shake');
    player.tick(0.5);
    expect(claw.glow).toBe(42);
    player.play('swell', { fade: 0.5 });
    player.tick(0.25);
    expect(claw.scale.x).toBeCloseTo(2.25, 12);
    player.tick(1);
    expect(claw.scale).toEqual({ x: 1.5, y: 1 });
  });
});

describe('one owner', () => {
  const claw = {};
  const warnings: string[] = [];
  const player = (name: string) =>
    make({ cast: { claw }, name, onWarning: ({ message }: Error) => warnings.push(message) });

  test('two players that write a property of an object in one frame are named once, the later one wins', () => {
    const [one, two] = [player('one'), player('two')];
    one.play('walk');
    two.play('low', { loop: 'loop' });
    for (let i = 0; i < 5; i++) for (const each of [one, two]) each.tick(0.1);
    expect(warnings).toHaveLength(1);
    for (const part of ['"glow"', '"one"', '"two"', '"walk"', '"low"']) expect(warnings[0]).toContain(part);
    expect((claw as { glow: number }).glow).toBeCloseTo(5, 12);
  });

  test('taking over is not a conflict, nor is writing different properties', () => {
    warnings.length = 0;
    const [one, two] = [player('three'), player('four')];
    one.play('walk');
    for (let i = 0; i < 3; i++) one.tick(0.1);
    one.stop();
    two.play('low');
    for (let i = 0; i < 3; i++) for (const each of [one, two]) each.tick(0.1);
    const crab = {};
    const three = make({ cast: { crab }, onWarning: ({ message }: Error) => warnings.push(message) });
    three.play('crab');
    for (let i = 0; i < 3; i++) for (const each of [two, three]) each.tick(0.1);
    expect(warnings).toEqual([]);
  });
});
