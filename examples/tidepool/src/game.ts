import { Crowd, parseReel, Player, type CueEvent } from 'unspool';
import { pixiCast } from 'unspool/cast/pixi';
import type { Texture } from 'pixi.js';
import bubblesDocument from '../reels/bubbles.reel.json' with { type: 'json' };
import crabDocument from '../reels/crab.reel.json' with { type: 'json' };
import gateDocument from '../reels/gate.reel.json' with { type: 'json' };
import gaugeDocument from '../reels/gauge.reel.json' with { type: 'json' };
import jellyDocument from '../reels/jelly.reel.json' with { type: 'json' };
import planktonDocument from '../reels/plankton.reel.json' with { type: 'json' };
import { Plankton } from './plankton.js';
import { HEIGHT, WIDTH, type Scene } from './scene.js';

export const crabReel = parseReel(crabDocument, { source: 'crab.reel.json' });
const jellyReel = parseReel(jellyDocument, { source: 'jelly.reel.json' });
const gateReel = parseReel(gateDocument, { source: 'gate.reel.json' });
const gaugeReel = parseReel(gaugeDocument, { source: 'gauge.reel.json' });
const planktonReel = parseReel(planktonDocument, { source: 'plankton.reel.json' });
const bubblesReel = parseReel(bubblesDocument, { source: 'bubbles.reel.json' });

/** What the person at the keys wants. */
export interface Wishes {
  /** −1, 0 or 1 each; down is 1. */
  readonly x: number;
  readonly y: number;
}

const SPEED = 150; // px a second
const AIR_SECONDS = 24;

/** The rock pool: who is where and plays what. No clock and no page of its own: `tick` is told how time goes. */
export class Game {
  readonly crab;
  readonly jelly;
  readonly gate;
  readonly gauge;
  readonly ripple;
  readonly bubbles;
  readonly plankton;
  /** Hears of every cue, for the panel. */
  onCue: (reel: string, cue: CueEvent) => void = () => {};
  #busy = false;
  #hidden = false;
  #air = 1;

  constructor(
    readonly scene: Scene,
    crabCells: readonly Texture[],
  ) {
    const adapter = pixiCast({ frames: { body: crabCells } });
    this.crab = new Player(crabReel, {
      name: 'crab',
      cast: { crab: scene.crab, body: scene.body, claw: scene.claw },
      adapter,
    });
    this.jelly = new Player(jellyReel, { name: 'jelly', cast: scene.jelly, adapter });
    this.gate = new Player(gateReel, { name: 'gate', cast: scene.sluice, adapter });
    this.gauge = new Player(gaugeReel, { name: 'gauge', cast: scene.air, adapter });
    this.ripple = new Player(bubblesReel, { name: 'ripple', cast: { ring: scene.ring }, adapter });
    this.bubbles = scene.bubbles.map((bubble) => new Player(bubblesReel, { cast: { bubble: bubble }, adapter }));

    this.plankton = new Plankton(new Crowd(planktonReel), scene.specks);

    this.crab.play('sway');
    this.jelly.play('pulse');
    this.gauge.play('drain', { rate: 0 });
    this.bubbles.forEach((player, i) => player.play('rise', { from: (i * 0.53) % 2.4, rate: 0.6 + i * 0.09 }));

    this.crab.on('cue', (cue) => {
      if (cue.name === 'shut') this.#splash();
    });
    this.crab.on('end', ({ clip }) => {
      if (clip === 'snap' || clip === 'emerge' || clip === 'hop') this.#busy = false;
      if (clip === 'hop') this.#settle();
      if (clip !== 'hide') this.crab.play('sway');
    });
    this.jelly.on('end', () => void this.jelly.play('pulse'));
    for (const player of this.players) {
      for (const type of ['cue', 'cue-start', 'cue-end'] as const) {
        player.on(type, (cue: CueEvent) => this.onCue(player.name, cue));
      }
    }
  }

  /** Those whose playheads the panel shows. */
  get players(): readonly Player[] {
    return [this.crab, this.jelly, this.gate, this.gauge, this.ripple];
  }

  get where(): { readonly x: number; readonly y: number; readonly air: number } {
    return { x: this.scene.home.x, y: this.scene.home.y, air: this.#air };
  }

  snap(): void {
    if (this.#busy || this.#hidden) return;
    this.#busy = true;
    this.crab.play('snap');
  }

  hop(): void {
    if (this.#busy || this.#hidden) return;
    this.#busy = true;
    this.crab.play('hop');
  }

  hideOrEmerge(): void {
    if (this.#busy && !this.#hidden) return;
    this.#busy = true;
    this.#hidden = !this.#hidden;
    this.crab.play(this.#hidden ? 'hide' : 'emerge');
  }

  moveGate(): void {
    this.gate.play('gate');
  }

  /** One frame of `dt` seconds. */
  tick(dt: number, wishes: Wishes): void {
    this.#walk(dt, wishes);
    this.#air = this.#hidden ? Math.max(0, this.#air - dt / AIR_SECONDS) : Math.min(1, this.#air + dt / 6);
    this.gauge.playback?.seek((1 - this.#air) * gaugeReel.clips.drain.duration);
    for (const player of this.players) player.tick(dt);
    for (const player of this.bubbles) player.tick(dt);
    this.plankton.tick(dt);
  }

  #walk(dt: number, { x, y }: Wishes): void {
    if (this.#busy) return;
    const clip =
      x > 0 ? 'scuttle-right' : x < 0 ? 'scuttle-left' : y > 0 ? 'scuttle-down' : y < 0 ? 'scuttle-up' : 'sway';
    if (this.crab.playback?.clip.name !== clip) this.crab.play(clip);
    const { home } = this.scene;
    const length = Math.hypot(x, y) || 1;
    home.x = Math.min(WIDTH - 90, Math.max(90, home.x + (x / length) * SPEED * dt));
    home.y = Math.min(HEIGHT - 90, Math.max(110, home.y + (y / length) * SPEED * dt));
  }

  /** Where it has hopped to is its home from now on. In a handler the pose is that of the moment; objects follow. */
  #settle(): void {
    const { crab, home } = this.scene;
    const [x] = this.crab.pose.get('crab.position') as [number, number];
    home.x = Math.min(WIDTH - 90, home.x + x * home.scale.x);
    crab.position.set(0, 0);
  }

  #splash(): void {
    this.scene.ripple.position.set(this.scene.home.x + 62, this.scene.home.y + 4);
    this.ripple.play('ripple');
    this.jelly.play('startle');
  }
}
