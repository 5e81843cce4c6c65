import { Player } from 'unspool';
import { domCast } from 'unspool/cast/dom';
import toastReel from '../reels/toast.reel.json';

const byId = (id: string) => document.getElementById(id)!;

/** Shows messages one after the other. A separate element announces them to screen readers. */
export class Messages {
  readonly player;
  readonly #waiting: string[] = [];

  constructor(readonly isCalm: () => boolean) {
    this.player = new Player(toastReel, { cast: { toast: byId('toast') }, adapter: domCast() });
    // The words change at the very moment at which the next one begins, not when it was queued.
    this.player.on('cue', () => this.#show());
    byId('dismiss').onclick = () => this.player.playback?.finish();
  }

  say(message: string): void {
    this.#waiting.push(message);
    this.player.enqueue(this.isCalm() ? 'say-calm' : 'say');
    this.#count();
  }

  #show(): void {
    const message = this.#waiting.shift() ?? '';
    byId('words').textContent = message;
    byId('said').textContent = message;
    this.#count();
  }

  #count(): void {
    byId('waiting').textContent = String(this.#waiting.length);
  }
}
