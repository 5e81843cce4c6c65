import type { CueEvent, Player } from 'unspool';
import type { Game } from './game.js';

const MAX_EVENTS = 12;

/** The panel beside the pool: rate and time, what plays, events. It only reads the game. */
export class Panel {
  paused = false;
  rate = 1;
  readonly #rows: readonly (readonly [Player, Row])[];
  readonly #events = find('events', HTMLOListElement);
  readonly #rules = find('rules', HTMLUListElement);
  readonly #where = find('where', HTMLParagraphElement);
  readonly #slider = find('rate', HTMLInputElement);
  readonly #pause = find('pause', HTMLButtonElement);

  constructor(
    private readonly game: Game,
    onStep: () => void,
  ) {
    const body = find('playheads', HTMLTableSectionElement);
    this.#rows = game.players.map((player) => [player, addRow(body, player.name)]);
    game.onCue = (reel, cue) => this.#onCue(reel, cue);
    game.onHit = (label, time) => this.#addEvent(`${time.toFixed(2)} s  `, 'hit', ` ${label}`);
    this.#pause.addEventListener('click', () => this.togglePause());
    find('step', HTMLButtonElement).addEventListener('click', () => {
      this.togglePause(true);
      onStep();
    });
    this.#slider.addEventListener('input', () => this.#setRate(this.#slider.valueAsNumber));
  }

  /** Slow motion, or as fast as life. */
  toggleSlow(): void {
    this.#setRate(this.rate === 1 ? 0.1 : 1);
  }

  /** Shows or hides why the crab plays what it plays. */
  toggleRules(): void {
    this.#rules.parentElement!.hidden = !this.#rules.parentElement!.hidden;
    this.refresh();
  }

  #setRate(rate: number): void {
    this.rate = rate;
    this.#slider.valueAsNumber = rate;
    find('rate-value', HTMLOutputElement).value = String(rate);
  }

  togglePause(paused = !this.paused): void {
    this.paused = paused;
    this.#pause.setAttribute('aria-pressed', String(paused));
    this.#pause.textContent = paused ? 'Continue' : 'Pause';
  }

  refresh(): void {
    for (const [player, row] of this.#rows) {
      const { playback } = player;
      row.tr.dataset['clip'] = playback?.clip.name ?? '';
      row.clip.textContent = label(player);
      row.frame.textContent = playback ? String(Math.floor(playback.time * playback.clip.fps + 1e-6)) : '';
      row.pass.textContent = playback ? String(playback.iteration) : '';
      row.meter.max = playback?.clip.duration || 1;
      row.meter.value = playback?.time ?? 0;
    }
    const { x, y, air, most } = this.game.where;
    this.#where.textContent = `crab at ${Math.round(x)}, ${Math.round(y)} · air ${Math.round(air)} of ${most}`;
    if (!this.#rules.parentElement!.hidden) this.#explain();
  }

  #explain(): void {
    const items = this.game.explain().map(({ rule, layer, why, text }) => {
      const item = element('li', element('b', rule), ` ${layer === 'base' ? '' : `(${layer}) `}${text}`);
      item.dataset['why'] = why;
      return item;
    });
    this.#rules.replaceChildren(...items);
  }

  #onCue(reel: string, cue: CueEvent): void {
    const what = { cue: '', 'cue-start': ' begins', 'cue-end': ' ends' }[cue.type];
    this.#addEvent(`${cue.time.toFixed(2)} s  ${reel}, ${cue.clip}: `, cue.name, what);
  }

  #addEvent(before: string, bold: string, after: string): void {
    this.#events.prepend(element('li', before, element('b', bold), after));
    while (this.#events.children.length > MAX_EVENTS) this.#events.lastElementChild?.remove();
  }
}

/** What plays on the lowest layer, what on those above it, and what waits. */
function label({ playback, layers, queue }: Player): string {
  if (!playback) return '–';
  const above = layers.slice(1).flatMap((layer) => (layer.playback?.active ? [` + ${layer.playback.clip.name}`] : []));
  const next = queue.map(({ clip }) => `, then ${clip.name}`);
  return [playback.clip.name, playback.active ? '' : ', over', ...above, ...next].join('');
}

interface Row {
  readonly tr: HTMLTableRowElement;
  readonly clip: HTMLElement;
  readonly frame: HTMLElement;
  readonly pass: HTMLElement;
  readonly meter: HTMLMeterElement;
}

function addRow(body: HTMLTableSectionElement, name: string): Row {
  const tr = body.insertRow();
  tr.dataset['reel'] = name;
  tr.insertCell().textContent = name;
  const [clip, frame, pass, last] = [tr.insertCell(), tr.insertCell(), tr.insertCell(), tr.insertCell()];
  const meter = document.createElement('meter');
  meter.setAttribute('aria-label', `playhead of ${name}`);
  last.append(meter);
  return { tr, clip, frame, pass, meter };
}

function element(tag: string, ...children: (string | Node)[]): HTMLElement {
  const made = document.createElement(tag);
  made.append(...children);
  return made;
}

function find<T extends HTMLElement>(id: string, type: new () => T): T {
  const element = document.getElementById(id);
  if (element instanceof type) return element;
  throw new Error(`the page has no #${id}`);
}
