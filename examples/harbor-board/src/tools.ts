import { Player } from 'unspool';
import { domCast } from 'unspool/cast/dom';
import toolReel from '../reels/tool.reel.json';
import { picture, TOOL_ART, type Tool } from './art.js';

const SECONDS: Readonly<Record<Tool, number>> = { net: 4, bell: 2, lamp: 6, tow: 3 };
const NAMES: Readonly<Record<Tool, string>> = { net: 'Cast the net', bell: 'Ring the bell', lamp: 'Light the lamp', tow: 'Take in tow' }; // prettier-ignore
const DONE: Readonly<Record<Tool, string>> = { net: 'The net is out.', bell: 'The bell rings.', lamp: 'The lamp is lit.', tow: 'The barge is in tow.' }; // prettier-ignore

/** A button of the board: it can be used again when it has cooled down. */
export class ToolButton {
  readonly element = document.createElement('button');
  readonly player;
  readonly #state = document.createElement('span');

  constructor(
    readonly tool: Tool,
    readonly isCalm: () => boolean,
    readonly say: (message: string) => void,
  ) {
    const part = (name: string) => Object.assign(document.createElement('span'), { className: name });
    const [dial, face, veil, glow] = [part('dial'), part('face'), part('veil'), part('glow')];
    const name = Object.assign(part('name'), { textContent: NAMES[tool] });
    this.#state.className = 'state';
    face.append(picture(TOOL_ART[tool]));
    dial.append(face, veil, glow);
    this.element.type = 'button';
    this.element.className = 'tool';
    this.element.append(dial, name, this.#state);
    this.element.onclick = () => this.use();
    this.player = new Player(toolReel, { name: tool, cast: { face, veil, glow }, adapter: domCast() });
    this.player.layer('veil', { mask: ['veil', 'face.opacity'] });
    this.player.on('cue', () => this.#show('ready'));
    this.#show('ready');
  }

  get isReady(): boolean {
    return this.element.getAttribute('aria-disabled') === 'false';
  }

  use(): void {
    if (!this.isReady) return;
    const { player, tool } = this;
    this.say(DONE[tool]);
    this.#show('cooling down');
    if (!this.isCalm()) player.play('press');
    // A second of the clip takes as long as the tool needs; what follows plays at its own rate.
    player.play('cool', { layer: 'veil', rate: 1 / SECONDS[tool] });
    void player.layer('veil').playback?.ended.then((how) => {
      if (how === 'end') player.play(this.isCalm() ? 'ready-calm' : 'ready');
    });
  }

  /** A button that cannot be used can still be found: it is not `disabled`. */
  #show(state: 'ready' | 'cooling down'): void {
    this.#state.textContent = state;
    this.element.setAttribute('aria-disabled', String(state !== 'ready'));
  }
}
