import { Crowd, easing, Player, type CueEvent, type Gauge, type RuleExplanation } from 'unspool';
import { pixiCast } from 'unspool/cast/pixi';
import type { Texture } from 'pixi.js';
import barnacleReel from '../reels/barnacle.reel.json';
import bubblesReel from '../reels/bubbles.reel.json';
import crabReel from '../reels/crab.reel.json';
import gateReel from '../reels/gate.reel.json';
import gaugeReel from '../reels/gauge.reel.json';
import jellyReel from '../reels/jelly.reel.json';
import pearlReel from '../reels/pearl.reel.json';
import planktonReel from '../reels/plankton.reel.json';
import urchinReel from '../reels/urchin.reel.json';
import { pixiOverlay } from 'unspool/hit';
import { Match } from './match.js';
import { Plankton } from './plankton.js';
import { WIDTH, type Scene } from './scene.js';
import { Sluice } from './sluice.js';

/** What the player at the keys wants. */
export interface Wishes {
  /** −1, 0 or 1 each; down is 1. */
  readonly x: number;
  readonly y: number;
  /** How fast: 1 is as fast as it can. */
  readonly pace: number;
}

/** Of the smallest shell: air in it, and how fast that is used and comes back, a second. */
const AIR = { most: 100, used: 9, back: 18 };
/** A snap costs so much at once. */
const SNAP_AIR = 12;

/** The rock pool: who is where and plays what. It has no clock and no page: `tick` passes the time. */
export class Game {
  readonly crab;
  readonly jelly;
  readonly sluice;
  readonly gauge;
  readonly ripple;
  readonly bubbles;
  readonly pearl;
  readonly sparkle;
  readonly barnacles;
  readonly plankton;
  readonly match;
  /** Hears of every cue, for the panel. */
  onCue: (reel: string, cue: CueEvent) => void = () => {};
  /** And of every hit. */
  onHit: (message: string, time: number) => void = () => {};
  readonly #air: Gauge;
  readonly #shell: Gauge;
  #shellSize = 1;
  readonly #drawShapes;
  #showsShapes = false;
  #until = 0;

  constructor(
    readonly scene: Scene,
    crabCells: readonly Texture[],
  ) {
    const adapter = pixiCast({ frames: { body: crabCells } });
    const cast = { crab: scene.crab, body: scene.body, claw: scene.claw };
    this.crab = new Player(crabReel, { name: 'crab', cast, adapter });
    this.jelly = new Player(jellyReel, { name: 'jelly', cast: scene.jelly, adapter });
    this.sluice = new Sluice(new Player(gateReel, { name: 'gate', cast: scene.sluice, adapter }));
    this.gauge = new Player(gaugeReel, { name: 'gauge', cast: scene.air, adapter });
    this.ripple = new Player(bubblesReel, { name: 'ripple', cast: { ring: scene.ring }, adapter });
    this.bubbles = scene.bubbles.map((bubble) => new Player(bubblesReel, { cast: { bubble }, adapter }));
    this.pearl = new Player(pearlReel, { name: 'pearl', cast: { pearl: scene.pearl }, adapter });
    this.sparkle = new Player(pearlReel, { name: 'sparkle', cast: { sparkle: scene.sparkle }, adapter });
    this.barnacles = scene.barnacles.map(
      (barnacle, seed) => new Player(barnacleReel, { cast: { barnacle }, adapter, seed }),
    );
    const urchins = scene.urchins.map(
      (urchin, i) => new Player(urchinReel, { name: `urchin ${i}`, cast: { urchin }, adapter }),
    );
    this.match = new Match(this.crab, urchins, scene.home);
    this.match.onHit = ({ to, by, time, point: [x, y] }) => {
      this.onHit(`${by.owner}, ${by.shape}: ${to.owner} at ${Math.round(x)}, ${Math.round(y)}`, time);
    };
    this.#drawShapes = pixiOverlay(scene.overlay, scene.label);
    this.plankton = new Plankton(new Crowd(planktonReel), scene.specks);

    this.jelly.fallback('pulse', { fade: 0.2 });
    this.bubbles.forEach((player, i) => player.play('rise', { from: (i * 0.53) % 2.4, rate: 0.6 + i * 0.09 }));
    for (const player of this.barnacles) player.fallback('sway', { vary: { rate: 0.2, offset: 1 }, fade: 0.3 });
    this.#air = this.gauge.gauge('air', {
      clip: 'level',
      max: AIR.most,
      value: AIR.most,
      time: 0.12,
      trail: { clip: 'lost', delay: 0.5, speed: 40, ease: easing('quad-in') },
    });
    this.#shell = this.gauge.gauge('shell', { clip: 'grow', min: 1, max: 2, time: 0.5, ease: easing('back-out') });

    this.crab.on('cue', ({ name, clip }) => {
      if (name === 'shut') this.#splash();
      if (name === 'landed' && clip === 'hop') this.#settle();
    });
    for (const player of this.players) {
      for (const type of ['cue', 'cue-start', 'cue-end'] as const) {
        player.on(type, (cue: CueEvent) => this.onCue(player.name, cue));
      }
    }
  }

  /** Those whose playheads the panel shows. */
  get players(): readonly Player[] {
    return [this.crab, this.jelly, this.sluice.player, this.ripple, this.pearl, this.sparkle];
  }

  get where(): { readonly x: number; readonly y: number; readonly air: number; readonly most: number } {
    return { x: this.scene.home.x, y: this.scene.home.y, air: this.#air.value, most: this.#air.max };
  }

  /** Shows or hides the hit shapes. */
  toggleShapes(): void {
    this.#showsShapes = !this.#showsShapes;
    this.#drawShapes([]);
  }

  /** What the crab shall do, when its rules let it. */
  want(signal: 'attack' | 'hop' | 'win' | 'hide'): void {
    this.match.act.signal(signal);
  }

  /** Why the crab plays what it plays: a line for each of its rules. */
  explain(): RuleExplanation[] {
    return this.match.act.explain();
  }

  moveGate(): void {
    this.sluice.pull();
  }

  /** A bigger shell holds more air; the gauge keeps its share. */
  growShell(): void {
    this.#shellSize = this.#shellSize >= 2 ? 1 : this.#shellSize + 0.25;
    this.#shell.value = this.#shellSize;
    this.#air.resize({ max: AIR.most * this.#shellSize, keep: 'share' });
  }

  /** One frame of `dt` seconds. */
  tick(dt: number, { x, y, pace }: Wishes): void {
    this.#breathe(dt);
    this.match.tick(dt, [x, y], pace); // the crab and the urchins
    for (const player of [this.jelly, this.gauge, this.ripple, this.pearl]) player.tick(dt);
    this.sluice.tick(dt);
    this.sparkle.tick(dt); // after the pearl that it follows
    for (const player of [...this.bubbles, ...this.barnacles]) player.tick(dt);
    this.plankton.tick(dt);
    if (this.#showsShapes) this.#drawShapes(this.match.world.shapes);
  }

  /** Air is counted ten times a second: what is lost in between shows as one loss. */
  #breathe(dt: number): void {
    this.#until -= dt;
    if (this.#until > 0) return;
    this.#until += 0.1;
    this.#air.value += (this.match.act.get('hidden') ? -AIR.used : AIR.back) * 0.1;
  }

  /** Where it has hopped to is its home from now on. In a handler the pose is that of the moment; objects follow. */
  #settle(): void {
    const { crab, home } = this.scene;
    const [x] = this.crab.pose.get('crab.position');
    home.x = Math.min(WIDTH - 90, home.x + x * home.scale.x);
    crab.position.set(0, 0);
  }

  #splash(): void {
    const { home, ripple } = this.scene;
    const at = [home.x + 62, home.y + 4] as const;
    ripple.position.set(...at);
    this.ripple.play('ripple');
    this.jelly.play('startle', { fade: 0.1 });
    for (const player of this.barnacles) player.play('shut', { vary: { start: 0.4 } });
    this.#air.value -= SNAP_AIR;
    const pearl = this.pearl.place({ position: at }).play('roll');
    this.sparkle.play('twinkle', { every: '3f' });
    this.sparkle.follow(pearl, [0, -16]);
  }
}
