import { Container, Sprite, Texture } from 'pixi.js';
import { expect, test } from 'vitest';
import { defineClip, defineReel, parseReel, Player } from '../index.js';
import { pixiCast } from './pixi.js';

const wave = defineClip('wave', { duration: 1, after: 'rest' })
  .track('claw.position', [
    [0, [0, 0]],
    [1, [10, 20]],
  ])
  .track('claw.rotation', [
    [0, 0],
    [1, 180],
  ])
  .track('claw.scale', [
    [0, 1],
    [1, 3],
  ])
  .track('claw.pivot', [[0, [4, 5]]])
  .track('claw.opacity', [
    [0, 1],
    [1, 0],
  ])
  .track('claw.tint', [
    [0, '#ff8000'],
    [1, '#ff800080'],
  ])
  .track('claw.frame', [
    [0, 0],
    [0.5, 1],
  ])
  .track('claw.visible', [
    [0, true],
    [0.9, false],
  ]);
const reel = parseReel(defineReel({ roles: { claw: {} }, clips: [wave] }));

test('PixiJS objects get radians, alpha, 0xrrggbb and textures', () => {
  const frames = [new Texture(), new Texture()];
  const claw = new Sprite({ texture: frames[0]!, x: 7, y: 8, angle: 90 });
  new Container().addChild(claw);
  const player = new Player(reel, { cast: { claw }, adapter: pixiCast({ frames: { claw: frames } }) });
  player.play('wave');
  player.tick(0.5);
  expect([claw.x, claw.y, claw.scale.x, claw.scale.y, claw.pivot.x, claw.pivot.y]).toEqual([5, 10, 2, 2, 4, 5]);
  expect(claw.rotation).toBeCloseTo(Math.PI / 2, 12);
  expect(claw.alpha).toBeCloseTo(0.5 * (1 + 128 / 255) * 0.5, 6);
  expect([claw.tint, claw.texture === frames[1], claw.visible]).toEqual([0xff8000, true, true]);
  player.tick(0.45);
  expect(claw.visible).toBe(false);
  player.tick(0.1); // over, and at rest: where the game had put it
  expect([claw.x, claw.y, claw.visible, claw.scale.x]).toEqual([7, 8, true, 1]);
  expect(claw.angle).toBeCloseTo(90, 9);
});

test('order becomes zIndex', () => {
  const front = defineClip('front', { duration: 1, after: 'rest' }).track('claw.order', [
    [0, 1],
    [0.5, 5, 'hold'],
  ]);
  const claw = new Sprite({ zIndex: 2 });
  const cast = { cast: { claw }, adapter: pixiCast() };
  const player = new Player(parseReel(defineReel({ roles: { claw: {} }, clips: [front] })), cast);
  player.play('front');
  player.tick(0.5);
  expect(claw.zIndex).toBe(5);
  player.tick(0.6); // over, and at rest: where the game had put it
  expect(claw.zIndex).toBe(2);
});

test('a texture with an anchor of its own gives it to the sprite', () => {
  const frames = [new Texture(), new Texture({ defaultAnchor: { x: 0.25, y: 1 } })];
  const claw = new Sprite({ texture: frames[0]!, anchor: 0.5 });
  const player = new Player(reel, { cast: { claw }, adapter: pixiCast({ frames: { claw: frames } }) });
  player.play('wave');
  player.tick(0.25);
  expect([claw.anchor.x, claw.anchor.y]).toEqual([0.5, 0.5]);
  player.tick(0.25);
  expect([claw.anchor.x, claw.anchor.y]).toEqual([0.25, 1]);
});

test('of the alpha of an object either part is animated while the other is the game’s', () => {
  const glow = defineClip('glow', { duration: 1 }).track('claw.tint', [
    [0, '#ffffff80'],
    [1, '#ffffff80'],
  ]);
  const fade = defineClip('fade', { duration: 1 }).track('claw.opacity', [
    [0, 0.5],
    [1, 0.5],
  ]);
  const claw = new Sprite({ alpha: 0.6 });
  const player = new Player(parseReel(defineReel({ roles: { claw: {} }, clips: [glow, fade] })), {
    cast: { claw },
    adapter: pixiCast(),
  });
  player.play('glow');
  player.tick(0.1);
  expect(claw.alpha).toBeCloseTo((0.6 * 128) / 255, 6);
  player.play('fade', { layer: 'over' });
  player.tick(0.1);
  expect(claw.alpha).toBeCloseTo((0.5 * 128) / 255, 6);
  player.tick(2);
  claw.alpha = 1; // the game's own now
  player.play('glow');
  player.tick(0.1);
  expect(claw.alpha).toBeCloseTo(128 / 255, 6);
});
