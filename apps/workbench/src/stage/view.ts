import 'pixi.js/unsafe-eval';
import { Application, Container, Graphics, Text, type Matrix, type Rectangle } from 'pixi.js';
import { trustReel, type Reel, type ReelDocument } from 'unspool';
import { OVERLAY_STYLES } from 'unspool/hit';
import { shown } from '../model/actions.js';
import { keysOf } from '../model/keys.js';
import { partsOf } from '../model/names.js';
import { valuesAt } from '../model/pose.js';
import { rolesOf } from '../model/rows.js';
import { get, poseTime, shownClip, type State } from '../model/store.js';
import { BackdropSprite } from './backdrop.js';
import { handlesOf, shapesOf, type Handle, type Placed } from './handles.js';
import { isInside, type Point } from './outline.js';
import { inOrder } from './painter.js';
import { ghostTimes, isHidden } from './shown-roles.js';
import { Puppet, worldOf } from './puppet.js';
import type { Extent, Guide } from './snapping.js';

/** The most moments of a motion path: longer clips show every nth frame. */
const PATH = 400;
const GHOST = { before: 0xd08a4a, after: 0x4a8ad0 } as const;
/** So long (ms) after a reel was opened its pictures come in. */
const ARRIVAL = 2500;
/** How far from a handle it is still grabbed, in pixels: farther with a finger. */
const REACH = matchMedia('(pointer: coarse)').matches ? 22 : 10;

/** Where the world lies on the screen: its origin in pixels, and pixels a unit. */
export interface Camera {
  readonly x: number;
  readonly y: number;
  readonly zoom: number;
}

/** The stage, drawn when something has changed. */
export class StageView {
  place: Camera = { x: 0, y: 0, zoom: 2 };
  handles: readonly Handle[] = [];
  #onHandles: (placed: readonly Placed[]) => void = () => {};
  readonly #app = new Application();
  readonly #world = new Container();
  readonly #background = new BackdropSprite(() => this.schedule());
  readonly #reference = new BackdropSprite(() => this.schedule());
  readonly #ghosts = new Container();
  readonly #other = new Container();
  readonly #cast = new Container();
  readonly #over = new Graphics();
  readonly #labels = new Container();
  readonly #puppets = new Map<string, Puppet>();
  #frame = 0;
  #guides: readonly Guide[] = [];
  #placed = 0;
  #ready = false;
  #stopped = false;
  #fitted: string | undefined;
  /** Until when pictures that finish loading make the view fit again. */
  #fitUntil = 0;
  /** Whether the view is as `fit` has left it. */
  #isFitted = false;

  async start(host: HTMLElement): Promise<void> {
    await this.#app.init({
      backgroundAlpha: 0,
      antialias: true,
      autoDensity: true,
      resolution: devicePixelRatio || 1,
      autoStart: false,
      resizeTo: host,
    });
    if (this.#stopped) {
      this.#app.destroy({ removeView: true }, { children: true });
      return;
    }
    this.#app.ticker.stop();
    host.append(this.#app.canvas);
    this.#app.canvas.setAttribute('aria-hidden', 'true');
    const behind = [this.#background.sprite, this.#reference.sprite];
    this.#world.addChild(...behind, this.#ghosts, this.#other, this.#cast);
    this.#app.stage.addChild(this.#world, this.#over, this.#labels);
    this.#ready = true;
    this.schedule();
  }

  stop(): void {
    this.#stopped = true;
    cancelAnimationFrame(this.#frame);
    if (this.#ready) this.#app.destroy({ removeView: true }, { children: true });
    this.#ready = false;
  }

  /** Says where the handles lie on the screen, whenever it was drawn. */
  tellHandles(hear: (placed: readonly Placed[]) => void): void {
    this.#onHandles = hear;
  }

  schedule = (): void => {
    this.#frame ||= requestAnimationFrame(() => {
      this.#frame = 0;
      if (this.#ready) this.#draw(get());
    });
  };

  /** The handle or the role at a place on the screen. */
  handleAt([x, y]: Point): Handle | undefined {
    const near = this.handles
      .map((handle) => ({ handle, off: this.#off(handle.at, x, y) }))
      .filter(({ off }) => off <= REACH);
    // A role can be taken hold of anywhere, and turned in its row: its handles give way to those of shapes on them, and
    // that of its place to all.
    const rank = ({ handle: { form } }: { readonly handle: Handle }) =>
      form === 'origin' ? 2 : form === 'point' ? 0 : 1;
    return near.sort((a, b) => rank(a) - rank(b) || a.off - b.off)[0]?.handle;
  }

  /** The roles whose pictures lie under a point of the screen, the one on top first. */
  rolesAt(point: Point): readonly string[] {
    const { doc, reel, values, display } = get();
    if (!doc || !reel) return [];
    const world = this.toWorld(point);
    const hit = inOrder(rolesOf(doc, reel), values).filter((role) => {
      if (isHidden(display, role) || display.locked.includes(role)) return false;
      const corners = this.cornersOf(role, worldOf(doc, role, values));
      return corners && values[`${role}.visible`] !== false && isInside(world, corners);
    });
    return hit.toReversed();
  }

  toWorld([x, y]: Point): Point {
    const { zoom } = this.place;
    return [(x - this.place.x) / zoom, (y - this.place.y) / zoom];
  }

  cornersOf(role: string, matrix: Matrix): Point[] | undefined {
    const box = this.#boundsOf(role);
    if (!box) return undefined;
    return [
      [box.x, box.y],
      [box.right, box.y],
      [box.right, box.bottom],
      [box.x, box.bottom],
    ].map(([x, y]) => {
      const to = matrix.apply({ x: x!, y: y! });
      return [to.x, to.y] as const;
    });
  }

  /** What a role takes up in the world; nothing when it is not seen. */
  extentOf(role: string): Extent | undefined {
    const { doc, values, display } = get();
    if (!doc || isHidden(display, role) || values[`${role}.visible`] === false) return undefined;
    const corners = this.cornersOf(role, worldOf(doc, role, values));
    if (!corners) return undefined;
    const [xs, ys] = [corners.map(([x]) => x), corners.map(([, y]) => y)];
    return { left: Math.min(...xs), right: Math.max(...xs), top: Math.min(...ys), bottom: Math.max(...ys) };
  }

  /** Shows lines that something has snapped to. */
  showGuides(guides: readonly Guide[]): void {
    if (guides.length + this.#guides.length === 0) return;
    this.#guides = guides;
    this.schedule();
  }

  zoomBy(factor: number, [x, y]: Point): void {
    const [wx, wy] = this.toWorld([x, y]);
    const zoom = Math.min(40, Math.max(0.1, this.place.zoom * factor));
    this.place = { zoom, x: x - wx * zoom, y: y - wy * zoom };
    this.schedule();
  }

  panBy(dx: number, dy: number): void {
    this.place = { ...this.place, x: this.place.x + dx, y: this.place.y + dy };
    this.schedule();
  }

  /** The stage has another size: all of the cast is seen again, or what was in its middle stays there. */
  resize(): void {
    if (!this.#ready) return;
    const { width, height } = this.#app.screen;
    this.#app.resize();
    const { screen } = this.#app;
    if (screen.width === width && screen.height === height) return;
    if (this.#isFitted) this.fit();
    else this.panBy((screen.width - width) / 2, (screen.height - height) / 2);
  }

  /** Shows all of the cast, with room around it. */
  fit(): void {
    this.#isFitted = true;
    const { width, height } = this.#app.screen;
    const box = this.#cast.getLocalBounds();
    const [w, h] = [Math.max(40, box.width), Math.max(40, box.height)];
    const zoom = Math.min(8, Math.max(0.2, Math.min(width / w, height / h) * 0.55));
    this.place = {
      zoom,
      x: width / 2 - (box.x + box.width / 2) * zoom,
      y: height / 2 - (box.y + box.height / 2) * zoom,
    };
    this.schedule();
  }

  #off([x, y]: Point, px: number, py: number): number {
    const { place } = this;
    return Math.hypot(place.x + x * place.zoom - px, place.y + y * place.zoom - py);
  }

  #boundsOf(role: string): Rectangle | undefined {
    return this.#puppets.get('main')?.boundsOf(role);
  }

  #draw(state: State): void {
    const { doc, reel, pictures, display } = state;
    if (!doc || !reel || !pictures) return;
    const { x, y, zoom } = this.place;
    this.#world.position.set(x, y);
    this.#world.scale.set(zoom);
    this.#background.show(display.background);
    this.#reference.show(display.reference);
    const main = this.#puppet('main', doc, reel, this.#cast);
    main.show(state.values, (role) => isHidden(display, role));
    main.sharpen(display.pixelArt);
    this.#drawGhosts(state, doc, reel);
    this.#drawOther(state, doc);
    if (this.#fitted !== state.reelName) {
      this.#fitted = state.reelName;
      this.#fitUntil = performance.now() + ARRIVAL;
      this.fit();
    }
    this.#drawOver(state, doc);
    this.#app.render();
  }

  /** A puppet by its purpose; created again when the roles or sheets of its reel have changed. */
  #puppet(key: string, doc: ReelDocument, reel: Reel, parent: Container): Puppet {
    let puppet = this.#puppets.get(key);
    if (puppet && puppet.doc.roles === doc.roles && puppet.doc.sheets === doc.sheets && puppet.doc.roles) return puppet;
    if (puppet && !doc.roles && puppet.doc === doc) return puppet;
    puppet?.destroy();
    puppet = new Puppet(doc, rolesOf(doc, reel), get().pictures!, () => {
      if (key === 'main' && performance.now() < this.#fitUntil) this.fit();
      this.schedule();
    });
    parent.addChild(puppet.container);
    this.#puppets.set(key, puppet);
    return puppet;
  }

  /** A person has zoomed or panned: a picture that comes late changes nothing of that. */
  keepPlace(): void {
    this.#fitUntil = 0;
    this.#isFitted = false;
  }

  #drawGhosts(state: State, doc: ReelDocument, reel: Reel): void {
    const clip = shownClip(state);
    const count = clip && !state.playing ? state.display.ghosts : 0;
    const times = count > 0 ? ghostTimes(state, count) : undefined;
    for (let i = 0; i < 2 * MAX_GHOSTS; i++) {
      const off = (i >> 1) + 1;
      const sign = i % 2 === 0 ? -1 : 1;
      const time = times?.[sign < 0 ? 0 : 1][off - 1];
      const key = `ghost ${i}`;
      const known = this.#puppets.get(key);
      if (time === undefined || !clip || time < -1e-9 || time > clip.duration + 1e-9) {
        if (known) known.container.visible = false;
        continue;
      }
      const puppet = this.#puppet(key, doc, reel, this.#ghosts);
      puppet.container.visible = true;
      puppet.container.alpha = 0.34 / off;
      puppet.container.tint = sign < 0 ? GHOST.before : GHOST.after;
      puppet.show(valuesAt(reel, clip, time), (role) => isHidden(state.display, role));
      puppet.sharpen(state.display.pixelArt);
    }
  }

  /** What it is compared with: the reel before the last step, or another clip at the same time. */
  #drawOther(state: State, doc: ReelDocument): void {
    const { compare, beside } = state.display;
    const other = compare?.with === 'before' ? state.before : compare ? doc : undefined;
    const name = compare?.with === 'clip' ? compare.clip : state.clip;
    const known = this.#puppets.get('other');
    if (!other || name === undefined || !Object.hasOwn(other.clips, name)) {
      if (known) known.container.visible = false;
      return;
    }
    const reel = other === doc ? state.reel! : reelOf(other);
    const puppet = this.#puppet('other', other, reel, this.#other);
    const clip = reel.clip(name);
    puppet.container.visible = true;
    puppet.show(valuesAt(reel, clip, poseTime(state, clip.fps)));
    puppet.container.alpha = beside ? 1 : 0.4;
    puppet.container.position.set(beside ? this.#cast.getLocalBounds().width * 1.15 : 0, 0);
  }

  #drawOver(state: State, doc: ReelDocument): void {
    const over = this.#over.clear();
    for (const label of this.#labels.removeChildren()) label.destroy();
    const { place } = this;
    const screen = ([x, y]: Point): Point => [place.x + x * place.zoom, place.y + y * place.zoom];
    this.#drawFrame(state, screen);
    for (const { axis, at } of this.#guides) {
      const [x, y] = screen([at, at]);
      const { width, height } = this.#app.screen;
      if (axis === 'x') over.moveTo(x, 0).lineTo(x, height);
      else over.moveTo(0, y).lineTo(width, y);
      over.stroke({ width: 1, color: 0xd0417e });
    }
    for (const role of this.#puppets.get('main')?.bare ?? []) {
      if (isHidden(state.display, role) || state.values[`${role}.visible`] === false) continue;
      const corners = this.cornersOf(role, worldOf(doc, role, state.values));
      if (corners) this.#label(role, corners.map(screen), '#e8efee');
    }
    if (state.display.path && state.role !== undefined) this.#drawPath(state, doc, state.role, screen);
    if (state.display.shapes) {
      for (const { name, tag, points } of shapesOf(state)) {
        const color = OVERLAY_STYLES[tag ?? '']?.color ?? '#cdb4ff';
        const on = points.map(screen);
        trace(over, on).stroke({ width: 4, color: 0x101418, alpha: 0.6 });
        trace(over, on).stroke({ width: 2, color });
        this.#label(`${partsOf(name)[1]}${tag ? ` · ${tag}` : ''}`, on, color);
      }
    }
    const { role } = state;
    const isThere = role !== undefined && state.values[`${role}.position`] !== undefined;
    const corners = isThere ? this.cornersOf(role, worldOf(doc, role, state.values)) : undefined;
    if (corners) trace(over, corners.map(screen)).stroke({ width: 1, color: 0x7fb8c9, alpha: 0.9 });
    this.handles = state.playing ? [] : handlesOf(state, isThere ? this.#boundsOf(role) : undefined, place.zoom);
    const [origin] = this.handles;
    for (const { form, at } of this.handles)
      if (form === 'turn' || form === 'pivot')
        over
          .moveTo(...screen(origin!.at))
          .lineTo(...screen(at))
          .stroke({ width: 1.5, color: 0x2f9fb0 });
    const placed = this.handles.map((handle) => ({ handle, x: screen(handle.at)[0], y: screen(handle.at)[1] }));
    if (placed.length + this.#placed > 0) this.#onHandles(placed);
    this.#placed = placed.length;
  }

  /** What the camera of the game sees, and 90 % of it; one line a pixel where there is room for them. */
  #drawFrame({ display }: State, screen: (point: Point) => Point): void {
    const over = this.#over;
    if (display.snap.pixels && this.place.zoom >= 8) {
      const { width, height } = this.#app.screen;
      const [[left, top], [right, bottom]] = [this.toWorld([0, 0]), this.toWorld([width, height])];
      for (let x = Math.ceil(left); x <= right; x++)
        over.moveTo(screen([x, 0])[0], 0).lineTo(screen([x, 0])[0], height);
      for (let y = Math.ceil(top); y <= bottom; y++) over.moveTo(0, screen([0, y])[1]).lineTo(width, screen([0, y])[1]);
      over.stroke({ width: 1, color: 0x101418, alpha: 0.12 });
    }
    if (!display.cameraFrame) return;
    const [w, h] = display.cameraFrame;
    for (const share of [1, 0.9]) {
      const [x, y] = screen([(-w * share) / 2, (-h * share) / 2]);
      const [right, bottom] = screen([(w * share) / 2, (h * share) / 2]);
      over.rect(x, y, right - x, bottom - y).stroke({ width: share === 1 ? 2 : 1, color: 0xb03a1c, alpha: 0.8 });
    }
  }

  #label(text: string, points: readonly Point[], fill: string): void {
    const [x, y] = points.reduce((best, point) => (point[1] < best[1] ? point : best));
    const label = new Text({
      text,
      style: { fontSize: 11, fontFamily: 'system-ui, sans-serif', fill, stroke: { color: '#101418', width: 3 } },
    });
    label.position.set(Math.round(x - 10), Math.round(y - 18));
    this.#labels.addChild(label);
  }

  /** A role's way through the world: a mark for each frame, a larger one where its position has a key. */
  #drawPath(state: State, doc: ReelDocument, role: string, screen: (point: Point) => Point): void {
    const now = shown(state);
    const clip = shownClip(state);
    if (!now || !clip) return;
    const frames = Math.round(clip.duration * clip.fps);
    const step = Math.max(1, Math.ceil(frames / PATH));
    const tracks = Object.entries(now.clip.tracks ?? {}).filter(([name]) => name.startsWith(`${role}.position`));
    const keyed = new Set(
      tracks.flatMap(([, track]) => keysOf(track, now.fps).map(({ at }) => Math.round(at * now.fps))),
    );
    const over = this.#over;
    for (let frame = 0; frame <= frames; frame += step) {
      const values = valuesAt(now.reel, clip, Math.min(clip.duration, frame / clip.fps));
      if (!values[`${role}.position`]) return;
      const { tx, ty } = worldOf(doc, role, { ...values, [`${role}.pivot`]: [0, 0] });
      const [x, y] = screen([tx, ty]);
      const isHere = Math.abs(frame / clip.fps - state.time) < step / 2 / clip.fps;
      over.circle(x, y, isHere ? 4.5 : keyed.has(frame) ? 3.5 : 1.8).fill(isHere ? 0xe0622b : 0x2f9fb0);
    }
  }
}

export const MAX_GHOSTS = 4;

const reels = new WeakMap<ReelDocument, Reel>();

function reelOf(doc: ReelDocument): Reel {
  let reel = reels.get(doc);
  if (!reel) reels.set(doc, (reel = trustReel(doc) as Reel));
  return reel;
}

function trace(over: Graphics, points: readonly Point[]): Graphics {
  return over.poly(points.map(([x, y]) => ({ x, y })));
}
