import { Player } from 'unspool';
import { matrixScene } from 'unspool/cast/matrix';
import lagoonReel from '../reels/lagoon.reel.json';

/** What a speaker says, and how much of it is typed. */
export interface Line {
  readonly speaker: string;
  readonly text: string;
}

/** The scene without a screen: a boat comes in, a bell is rung, two people talk. */
export class Story {
  /** World matrices of what is drawn. */
  readonly scene;
  readonly camera = { position: { x: 0, y: 0, z: 0 }, target: { x: 0, y: 0, z: 0 }, fov: 46 };
  readonly caption = { typed: 0 };
  readonly player;
  /** What has happened to the world, whether it was seen or skipped. */
  line: Line | undefined;
  rings = 0;
  isMoored = false;
  /** Called with the strength of a ring that is heard. */
  onRing: (strength: number) => void = () => {};

  constructor(reel: typeof lagoonReel = lagoonReel) {
    const { camera, caption } = this;
    this.scene = matrixScene(reel);
    this.player = new Player(reel, { cast: { ...this.scene.cast, camera, caption } });
    const { player } = this;
    player.on('cue', (cue) => {
      if (cue.name === 'moored') this.isMoored = true;
      if (cue.name !== 'bell') return;
      this.rings++;
      // A ring that was skipped counts, but nobody hears it.
      if (cue.skipped) return;
      player.play('shake', { layer: 'shake', weight: cue.data.strength });
      this.onRing(cue.data.strength);
    });
    player.on('cue-start', (cue) => cue.name === 'line' && (this.line = cue.data));
    player.on('cue-end', (cue) => cue.name === 'line' && (this.line = undefined));
    player.play('rock', { layer: 'swell' });
    this.start();
  }

  /** From the beginning. */
  start(): void {
    this.rings = 0;
    this.isMoored = false;
    this.player.play('arrival');
    this.player.enqueue('ashore', { fade: 0.5 });
  }

  get isOver(): boolean {
    return this.player.playback?.clip.name !== 'arrival';
  }

  /** To the end of the scene, as if it had been seen. */
  skip(): void {
    if (!this.isOver) this.player.playback?.finish();
    this.player.tick(0);
    this.scene.update();
  }

  tick(dt: number): void {
    this.player.tick(dt);
    this.scene.update();
  }

  /** What is shown of the line: so much of it as is typed. */
  get shownText(): string {
    const text = this.line?.text ?? '';
    return text.slice(0, Math.round(text.length * this.caption.typed));
  }
}
