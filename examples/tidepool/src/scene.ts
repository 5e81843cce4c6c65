import type { Application } from 'pixi.js';
import { Assets, Container, Graphics, Rectangle, Sprite, Text, Texture } from 'pixi.js';
import { sheetCells, sheetOrigin, sheetRect, type ReelDocument } from 'unspool';
import { HOME, HOME_SCALE, URCHINS } from './match.js';

export const WIDTH = 960;
export const HEIGHT = 600;

const PICTURES = [
  'crab',
  'claw',
  'pool',
  'bell',
  'lamp',
  'tendrils',
  'ring',
  'bubble',
  'posts',
  'gate',
  'wheel',
  'pearl',
  'sparkle',
  'barnacle',
  'urchin',
] as const;
type Picture = (typeof PICTURES)[number];
export type Textures = Readonly<Record<Picture, Texture>>;

export async function loadTextures(): Promise<Textures> {
  const load = async (name: Picture) => [name, await Assets.load<Texture>(`./${name}.png`)] as const;
  return Object.fromEntries(await Promise.all(PICTURES.map(load))) as Textures;
}

/** The cells of a sheet as textures of their own, in the order in which a reel counts them. */
export function cutSheet(picture: Texture, sheet: NonNullable<ReelDocument['sheets']>[string]): Texture[] {
  return Array.from({ length: sheetCells(sheet) }, (_, frame) => {
    const [x, y, width, height] = sheetRect(sheet, frame);
    const origin = sheetOrigin(sheet, frame);
    return new Texture({
      source: picture.source,
      frame: new Rectangle(x, y, width, height),
      ...(origin && { defaultAnchor: { x: origin[0] / width, y: origin[1] / height } }),
    });
  });
}

/** A sprite that turns about a point of its picture (shares of it), drawn at half the size of its pixels. */
function part(texture: Texture, parent: Container, [ax, ay] = [0.5, 0.5] as readonly [number, number]): Sprite {
  const sprite = new Sprite(texture);
  sprite.anchor.set(ax, ay);
  // Pictures are drawn at twice their size: a holder halves them, so that scale 1 in a reel is scale 1 in the game.
  const holder = new Container({ scale: 0.5 });
  holder.addChild(sprite);
  parent.addChild(holder);
  return sprite;
}

/** Every object of the pool. What a reel animates is named as its role. */
export function buildScene(app: Application, textures: Textures, crabCells: readonly Texture[]) {
  const pool = new Sprite(textures.pool);
  app.stage.addChild(pool);

  const dot = app.renderer.generateTexture(new Graphics().circle(16, 16, 16).fill('#ffffff'));
  const specks = Array.from({ length: 240 }, (_, i) => {
    const place = { x: 110 + ((i * 0.618) % 1) * 740, y: 110 + ((i * 0.755) % 1) * 400 };
    const speck = new Sprite({ texture: dot, anchor: 0.5, alpha: 0, ...place });
    app.stage.addChild(speck);
    return speck;
  });

  const sluice = new Container({ x: 820, y: 46 });
  const posts = new Sprite({ texture: textures.posts, scale: 0.5 });
  const gate = new Container();
  gate.addChild(new Sprite({ texture: textures.gate, x: 18, y: 52, scale: 0.5 }));
  const wheel = new Container({ x: 60, y: 17 });
  wheel.addChild(new Sprite({ texture: textures.wheel, anchor: 0.5, scale: 0.5 }));
  const gateLamp = new Graphics().circle(108, 17, 6).fill('#ffffff');
  sluice.addChild(gate, posts, wheel, gateLamp);
  app.stage.addChild(sluice);

  const jelly = new Container({ x: 620, y: 300 });
  app.stage.addChild(jelly);
  const bell = new Container();
  jelly.addChild(bell);
  const tendrils = new Container({ y: 22 });
  tendrils.addChild(new Sprite({ texture: textures.tendrils, anchor: { x: 0.5, y: 0.02 }, scale: 0.5 }));
  const lamp = new Sprite({ texture: textures.lamp, anchor: 0.5 });
  const lampHolder = new Container({ y: 2, scale: 0.7, children: [lamp] });
  lamp.blendMode = 'add';
  bell.addChild(tendrils, lampHolder, new Sprite({ texture: textures.bell, anchor: { x: 0.5, y: 0.55 }, scale: 0.5 }));

  const ring = new Sprite({ texture: textures.ring, anchor: 0.5, alpha: 0 });
  const ripple = new Container({ scale: 0.5, children: [ring] });
  app.stage.addChild(ripple);

  const barnacles = Array.from({ length: 12 }, (_, i) => {
    const barnacle = new Sprite({ texture: textures.barnacle, anchor: { x: 0.5, y: 0.9 } });
    // Along the lower rim, in two clumps.
    const place = { x: 150 + i * 30 + (i > 5 ? 300 : 0), y: 566 - (i % 3) * 9 };
    app.stage.addChild(new Container({ ...place, scale: 0.3 + (i % 4) * 0.05, children: [barnacle] }));
    return barnacle;
  });

  const rolling = [textures.pearl, textures.sparkle].map((texture) => {
    // What a player places has its place to itself; the picture is halved inside.
    const object = new Container({ alpha: 0 });
    object.addChild(new Sprite({ texture, anchor: 0.5, scale: 0.5 }));
    app.stage.addChild(object);
    return object;
  });

  const home = new Container({ ...HOME, scale: HOME_SCALE });
  app.stage.addChild(home);
  const crab = new Container();
  home.addChild(crab);
  const body = part(crabCells[0]!, crab);
  const claw = new Container({ x: 17, y: 4 });
  claw.addChild(new Sprite({ texture: textures.claw, anchor: { x: 0.12, y: 0.5 }, scale: 0.5 }));
  crab.addChild(claw);

  const urchins = Array.from({ length: URCHINS }, () => {
    const urchin = new Container();
    urchin.addChild(new Sprite({ texture: textures.urchin, anchor: 0.5, scale: 0.5 }));
    app.stage.addChild(urchin);
    return urchin;
  });

  const bubbles = [150, 236, 420, 540, 700].map((x, i) => {
    const bubble = new Sprite({ texture: textures.bubble, anchor: 0.5 });
    const place = new Container({ x, y: 520 - (i % 3) * 40, scale: 0.5, children: [bubble] });
    app.stage.addChild(place);
    return bubble;
  });

  const overlay = new Graphics();
  app.stage.addChild(overlay);
  const label = () =>
    app.stage.addChild(
      new Text({ text: '', style: { fontSize: 11, fontFamily: 'sans-serif', stroke: { color: '#101418', width: 3 } } }),
    );

  return {
    sluice: { gate, wheel, lamp: gateLamp },
    jelly: { bell, lamp, tendrils },
    ripple,
    ring,
    home,
    crab,
    body,
    claw,
    bubbles,
    barnacles,
    urchins,
    overlay,
    label,
    pearl: rolling[0]!,
    sparkle: rolling[1]!,
    specks,
    air: airGauge(app),
  };
}

/** The air gauge: a bar with what was just lost behind it, in a frame; a needle over a dial, an alarm. */
function airGauge(app: Application) {
  const at = new Container({ x: 92, y: 70 });
  const dial = new Graphics()
    .circle(0, 0, 30)
    .fill({ color: '#16303a', alpha: 0.85 })
    .stroke({ color: '#d9e6e8', width: 2 });
  const needle = new Graphics().moveTo(0, 6).lineTo(0, -24).stroke({ color: '#f2d479', width: 3, cap: 'round' });
  const frame = new Container({ x: 44, y: -6 });
  const ground = new Graphics().roundRect(-2, -2, 124, 16, 7).fill({ color: '#16303a', alpha: 0.85 });
  const lost = new Graphics().roundRect(0, 0, 120, 12, 6).fill('#f2a97d');
  const bar = new Graphics().roundRect(0, 0, 120, 12, 6).fill('#8fe0d4');
  frame.addChild(ground, lost, bar);
  const alarm = new Graphics().circle(0, 0, 34).stroke({ color: '#ff8c66', width: 4 });
  at.addChild(dial, frame, alarm, needle);
  app.stage.addChild(at);
  return { needle, frame, lost, bar, alarm };
}

export type Scene = ReturnType<typeof buildScene>;
