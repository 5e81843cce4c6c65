import { Application, Container, Graphics, Sprite, Texture } from 'pixi.js';
import { beforeAll, expect, test } from 'vitest';
import { page } from 'vitest/browser';
import { parseReel, Player } from '../index.js';
import { canvasScene } from './canvas.js';
import { domCast } from './dom.js';
import { pixiCast } from './pixi.js';

/** A square of 80 × 80 in the middle of 100 × 100, of which reveals show a part: by three adapters, and by hand. */
const SIZE = 100;
type Inside = (x: number, y: number) => boolean;
interface Case {
  readonly shapes: Readonly<Record<string, { readonly kind: string; readonly tag: string }>>;
  readonly values: Readonly<Record<string, unknown>>;
  /** Whether a point is shown, from the middle of the square. */
  readonly inside: Inside;
}

const box: Inside = (x, y) => Math.abs(x - 5) < 20 && Math.abs(y + 4) < 12.5;
const circle = (cx: number, cy: number, radius: number): Inside => (x, y) => Math.hypot(x - cx, y - cy) < radius; // prettier-ignore
/** From a direction to another, in degrees from +x toward +y. */
const sector =
  (from: number, to: number): Inside =>
  (x, y) => {
    const angle = (Math.atan2(y, x) * 180) / Math.PI;
    return [-720, -360, 0, 360, 720].some((turn) => angle + turn > from && angle + turn < to);
  };
const shape = (kind: string, tag = 'reveal') => ({ kind, tag });

const CASES: Readonly<Record<string, Case>> = {
  'a box': {
    shapes: { wipe: shape('box') },
    values: { wipe: { center: [5, -4], size: [40, 25] } },
    inside: box,
  },
  'a circle': {
    shapes: { iris: shape('circle') },
    values: { iris: { center: [4, 3], radius: 30 } },
    inside: circle(4, 3, 30),
  },
  'a sector wider than half': {
    shapes: { sweep: shape('sector') },
    values: { sweep: { center: [0, 0], radius: 90, from: -90, to: 160 } },
    inside: sector(-90, 160),
  },
  'a polygon': {
    shapes: { shard: shape('polygon3') },
    values: { shard: { corner1: [-30, -20], corner2: [30, -20], corner3: [0, 35] } },
    inside: (x, y) => y > -20 && y < 35 - (Math.abs(x) * 55) / 30,
  },
  'what a circle hides': {
    shapes: { hole: shape('circle', 'hide') },
    values: { hole: { center: [-6, 0], radius: 24 } },
    inside: (x, y) => !circle(-6, 0, 24)(x, y),
  },
  'two circles, which overlap, without a sector': {
    shapes: { left: shape('circle'), right: shape('circle'), gap: shape('sector', 'hide') },
    values: {
      left: { center: [-12, 0], radius: 22 },
      right: { center: [12, 0], radius: 22 },
      gap: { center: [0, 0], radius: 90, from: 20, to: 100 },
    },
    inside: (x, y) => (circle(-12, 0, 22)(x, y) || circle(12, 0, 22)(x, y)) && !sector(20, 100)(x, y),
  },
  'nothing, by a circle without a radius': {
    shapes: { iris: shape('circle') },
    values: { iris: { center: [0, 0], radius: 0 } },
    inside: () => false,
  },
  'everything, by a shape that is not active': {
    shapes: { iris: shape('circle') },
    values: { iris: null },
    inside: () => true,
  },
};

function reelOf({ shapes, values }: Case, tilt: number) {
  const tracks = Object.entries(values).map(([name, value]) => [
    `door.${name}`,
    [{ at: 0, value: { ...(value as object) } }, { at: 1, value }], // prettier-ignore
  ]);
  return parseReel<unknown>({
    unspool: 1,
    roles: { door: { rest: { position: [50, 50], rotation: tilt }, shapes } },
    clips: { open: { duration: 1, tracks: Object.fromEntries(tracks) as object } },
  });
}

function play(reel: ReturnType<typeof reelOf>, options: object): void {
  const player = new Player(reel, options);
  player.play('open');
  player.tick(1);
}

/** The red of each pixel, 0–255, of a picture on black. */
async function redOf(source: CanvasImageSource): Promise<Uint8ClampedArray> {
  const context = new OffscreenCanvas(SIZE, SIZE).getContext('2d', { willReadFrequently: true })!;
  context.fillRect(0, 0, SIZE, SIZE);
  context.drawImage(source, 0, 0, SIZE, SIZE);
  return Promise.resolve(context.getImageData(0, 0, SIZE, SIZE).data.filter((_, i) => i % 4 === 0));
}

async function byCanvas(reel: ReturnType<typeof reelOf>): Promise<Uint8ClampedArray> {
  const picture = new OffscreenCanvas(80, 80);
  const paint = picture.getContext('2d')!;
  paint.fillStyle = '#f00';
  paint.fillRect(0, 0, 80, 80);
  const scene = canvasScene<string>(reel, { pictures: { door: picture } });
  play(reel, { cast: scene.cast });
  const canvas = new OffscreenCanvas(SIZE, SIZE);
  scene.draw(canvas.getContext('2d') as never);
  return redOf(canvas);
}

// As large as what it is shown in, or it would be shown smaller.
beforeAll(() => page.viewport(400, 300));

async function byElements(reel: ReturnType<typeof reelOf>): Promise<Uint8ClampedArray> {
  const stage = document.createElement('div');
  stage.style.cssText = `position: fixed; left: 0; top: 0; width: ${SIZE}px; height: ${SIZE}px; background: #000; overflow: hidden`;
  const door = document.createElement('div');
  door.style.cssText = 'position: absolute; left: -40px; top: -40px; width: 80px; height: 80px; background: #f00';
  stage.append(door);
  document.body.append(stage);
  play(reel, { cast: { door }, adapter: domCast() });
  // Not saved, it is the text alone.
  const base64 = (await page.elementLocator(stage).screenshot({ base64: true, save: false })) as unknown as string;
  stage.remove();
  const image = new Image();
  image.src = `data:image/png;base64,${base64}`;
  await image.decode();
  return redOf(image);
}

let application: Application | undefined;

async function byPixi(reel: ReturnType<typeof reelOf>, door: Container): Promise<Uint8ClampedArray> {
  if (!application) {
    application = new Application();
    await application.init({ width: SIZE, height: SIZE, antialias: true, background: '#000', autoStart: false });
  }
  const { stage, renderer } = application;
  stage.removeChildren();
  stage.addChild(door);
  play(reel, { cast: { door }, adapter: pixiCast({ mask: () => new Graphics() }) });
  renderer.render(stage);
  const red = await redOf(renderer.canvas);
  return red;
}

const square = () => {
  const door = new Container();
  door.addChild(new Graphics().rect(-40, -40, 80, 80).fill('#f00'));
  return door;
};
const sprite = () => new Sprite({ texture: Texture.WHITE, tint: 0xff0000, width: 80, height: 80, anchor: 0.5 });

/** Compares all pixels but those on an edge with what is said to be inside. */
function expectShown(red: Uint8ClampedArray, inside: Inside, tilt: number, message: string): void {
  const [cos, sin] = [Math.cos((tilt * Math.PI) / 180), Math.sin((tilt * Math.PI) / 180)];
  const isRed = (px: number, py: number) => {
    const [x, y] = [(px - 50) * cos + (py - 50) * sin, (py - 50) * cos - (px - 50) * sin];
    return Math.abs(x) < 40 && Math.abs(y) < 40 && inside(x, y);
  };
  let wrong = 0;
  let compared = 0;
  for (let y = 0; y < SIZE; y++)
    for (let x = 0; x < SIZE; x++) {
      const want = isRed(x + 0.5, y + 0.5);
      const around = [-1, 0, 1].flatMap((dx) => [-1, 0, 1].map((dy) => isRed(x + 0.5 + dx, y + 0.5 + dy)));
      if (around.some((one) => one !== want)) continue;
      compared++;
      if (red[y * SIZE + x]! > 128 !== want) wrong++;
    }
  expect(compared, message).toBeGreaterThan(8000);
  expect(wrong, message).toBe(0);
}

test.each(Object.entries(CASES))('the same pixels by every adapter: %s', async (_, one) => {
  for (const tilt of [0, 30]) {
    const reel = reelOf(one, tilt);
    expectShown(await byCanvas(reel), one.inside, tilt, `canvas, ${tilt}°`);
    expectShown(await byElements(reel), one.inside, tilt, `web elements, ${tilt}°`);
    expectShown(await byPixi(reel, square()), one.inside, tilt, `PixiJS, ${tilt}°`);
  }
});

test('a PixiJS sprite is masked without a warning, and shown whole again', async () => {
  const warnings: unknown[] = [];
  const { warn } = console;
  console.warn = (...all: unknown[]) => void warnings.push(all);
  const one = CASES['a box']!;
  const own = sprite();
  own.scale.set(1);
  own.texture = Texture.from(redPicture());
  own.tint = 0xffffff;
  expectShown(await byPixi(reelOf(one, 0), own), one.inside, 0, 'a sprite');
  const shut = { ...one, values: { wipe: null } };
  expectShown(await byPixi(reelOf(shut, 0), own), () => true, 0, 'shown whole again');
  console.warn = warn;
  expect(warnings).toEqual([]);
});

test('a PixiJS mask that the game has taken away is there again with the next playback', () => {
  const door = square();
  const reel = reelOf(CASES['a box']!, 0);
  const player = new Player(reel, { cast: { door }, adapter: pixiCast({ mask: () => new Graphics() }) });
  player.play('open');
  player.tick(2);
  const { mask } = door;
  expect(mask).toBeInstanceOf(Graphics);
  door.mask = null;
  player.tick(1);
  expect(door.mask ?? null).toBeNull(); // nothing plays: it is the game's
  player.play('open', { from: 1 });
  player.tick(0);
  expect(door.mask).toBe(mask);
});

function redPicture(): HTMLCanvasElement {
  const canvas = document.createElement('canvas');
  canvas.width = canvas.height = 80;
  const context = canvas.getContext('2d')!;
  context.fillStyle = '#f00';
  context.fillRect(0, 0, 80, 80);
  return canvas;
}
