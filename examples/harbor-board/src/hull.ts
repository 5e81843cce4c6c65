import { easing, Player, using } from 'unspool';
import { domCast } from 'unspool/cast/dom';
import heartReel from '../reels/heart.reel.json';
import hullReel from '../reels/hull.reel.json';
import { HEART, picture } from './art.js';

const byId = (id: string) => document.getElementById(id)!;

/** How sound the hull is: a bar with a trail of what was just lost, and a heart that beats faster the less is left. */
export class Hull {
  readonly player;
  readonly heart;
  readonly #level;
  #value = 100;

  constructor(readonly isCalm: () => boolean) {
    // The bar shrinks toward its left end, all else about its middle: one adapter a role.
    const left = domCast({ origin: [0, 0.5] });
    const [bar, lost, heart] = [byId('bar'), byId('lost'), byId('heart')];
    heart.append(...picture(HEART).children);
    this.player = new Player(hullReel, { cast: { bar: using(left, bar), lost: using(left, lost) } });
    this.#level = this.player.gauge('hull', {
      ...{ clip: 'level', max: 100, value: 100, time: 0.18, ease: easing('quad-out') },
      trail: { clip: 'trail', delay: 0.5, time: 0.6, ease: easing('quad-in-out') },
    });
    this.heart = new Player(heartReel, { cast: { heart }, adapter: domCast() });
    this.beat();
    byId('bump').onclick = () => this.change(-18);
    byId('patch').onclick = () => this.change(30);
  }

  /** The heart beats as people want it: they may change their mind. */
  beat(): void {
    this.heart.play(this.isCalm() ? 'beat-calm' : 'beat', { rate: this.#rate, unless: 'playing' });
  }

  get #rate(): number {
    return 1 + (1 - this.#value / 100) * 1.2;
  }

  change(by: number): void {
    this.#value = Math.min(100, Math.max(0, this.#value + by));
    this.#level.value = this.#value;
    if (this.heart.playback) this.heart.playback.rate = this.#rate;
    byId('track').setAttribute('aria-valuenow', String(this.#value));
    byId('hull').textContent = `${this.#value} of 100`;
  }
}
