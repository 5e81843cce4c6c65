import { Application, Container, Graphics, Text } from 'pixi.js';
import { expect, test } from 'vitest';
import { canvasOverlay, HitWorld, pixiOverlay, type HitShape, type ShownShape } from './index.js';

const SHAPES: readonly ShownShape[] = [
  { name: 'claw.pincer', tag: 'hits', shape: { kind: 'box', center: [60, 60], size: [80, 40], angle: 0 } },
  { name: 'crab.shell', tag: 'hurt', shape: { kind: 'circle', center: [160, 60], radius: 30 } },
  { name: 'crab.arm', tag: 'mine', shape: { kind: 'capsule', from: [220, 60], to: [260, 60], radius: 20 } },
];

/** Whether anything is drawn at points of a canvas. */
function drawnAt(canvas: HTMLCanvasElement, points: readonly (readonly [number, number])[]): boolean[] {
  const context = canvas.getContext('2d')!;
  return points.map(([x, y]) => context.getImageData(Math.round(x), Math.round(y), 1, 1).data[3]! > 0);
}

const round = (cx: number, cy: number, r: number) =>
  Array.from({ length: 120 }, (_, i) => {
    const angle = (i / 120) * 2 * Math.PI;
    return [cx + Math.cos(angle) * r, cy + Math.sin(angle) * r] as const;
  });

test('on a canvas: whole lines, dashes, and the name of the tag; what was set before is unchanged', () => {
  const canvas = Object.assign(document.createElement('canvas'), { width: 300, height: 120 });
  const context = canvas.getContext('2d')!;
  context.lineWidth = 7;
  canvasOverlay(context, SHAPES);
  expect(context.lineWidth).toBe(7);
  // The edge of the box is whole; inside of it is nothing.
  expect(
    drawnAt(
      canvas,
      Array.from({ length: 79 }, (_, i) => [21 + i, 40] as const),
    ),
  ).not.toContain(false);
  expect(drawnAt(canvas, [[60, 60]])).toEqual([false]);
  // That of the circle has gaps, but for those more is drawn than not.
  const edge = drawnAt(canvas, round(160, 60, 30));
  const drawn = edge.filter(Boolean).length;
  expect(drawn).toBeGreaterThan(60);
  expect(drawn).toBeLessThan(120);
  // And above it stands its tag.
  const above = Array.from({ length: 20 }, (_, i) => [150 + i, 14] as const);
  expect(drawnAt(canvas, above)).toContain(true);
});

test('in PixiJS: as large as the shapes, with a text for each, and empty again', async () => {
  const app = new Application();
  await app.init({ width: 300, height: 120 });
  const layer = app.stage.addChild(new Container());
  const graphics = layer.addChild(new Graphics());
  const draw = pixiOverlay(graphics, () => layer.addChild(new Text({ text: '' })));
  draw(SHAPES);
  app.render();
  const { x, y, width, height } = graphics.getLocalBounds();
  // Half a dark line beyond the edges, and a corner more.
  [18, 28, 282, 92].forEach((edge, i) => expect(Math.abs([x, y, x + width, y + height][i]! - edge)).toBeLessThan(1.5));
  const texts = () => layer.children.filter((one) => one instanceof Text);
  expect(texts().map(({ text }) => text)).toEqual(['hits', 'hurt', 'mine']);
  draw(SHAPES.slice(0, 1));
  expect(texts().map(({ visible }) => visible)).toEqual([true, false, false]);
  draw([]);
  expect(graphics.getLocalBounds().width).toBe(0);
  app.destroy();
});

test('a world gives the shapes of bodies where they are', () => {
  const shapes: readonly HitShape[] = [
    { kind: 'box', center: [1, 2], size: [3, 4], angle: 5 },
    { kind: 'capsule', from: [0, 0], to: [1, 0], radius: 1 },
    {
      kind: 'polygon',
      corners: [
        [0, 0],
        [1, 0],
        [0, 1],
      ],
    },
  ];
  const world = new HitWorld();
  shapes.forEach((shape, i) => world.add(`body ${i}`, { shapes: { it: { shape, tag: 'hurt' } }, position: [10, 20] }));
  expect(world.shapes.map(({ shape }) => shape)).toEqual([
    { kind: 'box', center: [11, 22], size: [3, 4], angle: 5 },
    { kind: 'capsule', from: [10, 20], to: [11, 20], radius: 1 },
    {
      kind: 'polygon',
      corners: [
        [10, 20],
        [11, 20],
        [10, 21],
      ],
    },
  ]);
});
