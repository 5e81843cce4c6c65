import { Player } from 'unspool';
import { domCast } from 'unspool/cast/dom';
import menuReel from '../reels/menu.reel.json';

/** A menu that one clip opens and closes: it plays until the menu is open, pauses there, and then plays to its end. */
export class Menu {
  readonly player;
  readonly #button = document.getElementById('menu')!;
  readonly #sheet = document.getElementById('sheet')!;

  constructor(readonly isCalm: () => boolean) {
    const [item1, item2, item3, item4] = [...this.#sheet.children] as [HTMLElement, HTMLElement, HTMLElement, HTMLElement]; // prettier-ignore
    // The sheet unrolls from its top left corner.
    const adapter = domCast({ origin: [0, 0] });
    this.player = new Player(menuReel, { cast: { sheet: this.#sheet, item1, item2, item3, item4 }, adapter });
    this.#button.onclick = () => (this.isOpen ? this.close() : this.open());
    this.#sheet.addEventListener('keydown', (event) => this.#move(event));
  }

  get isOpen(): boolean {
    return this.#button.getAttribute('aria-expanded') === 'true';
  }

  open(): void {
    if (this.isOpen) return;
    this.player.play(this.isCalm() ? 'fold-calm' : 'fold', { until: 'opened' });
    this.#button.setAttribute('aria-expanded', 'true');
    // Seen with the next frame; then it can have the focus.
    this.player.tick(0);
    this.#items[0]?.focus();
  }

  close(): void {
    if (!this.isOpen) return;
    this.#button.setAttribute('aria-expanded', 'false');
    if (this.#sheet.contains(document.activeElement)) this.#button.focus();
    const { playback } = this.player;
    if (!playback) return;
    // Not open yet: it goes back the way it came.
    if (playback.paused) playback.resume();
    else playback.reverse();
    void playback.ended.then(() => {
      if (!this.isOpen) this.#sheet.style.visibility = 'hidden';
    });
  }

  get #items(): HTMLElement[] {
    return [...this.#sheet.querySelectorAll('button')];
  }

  /** Up and down go through the items, and around. */
  #move(event: KeyboardEvent): void {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (step === undefined) return;
    event.preventDefault();
    const items = this.#items;
    const at = items.indexOf(document.activeElement as HTMLElement);
    items[(at + step + items.length) % items.length]?.focus();
  }
}
