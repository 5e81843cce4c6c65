import { ask } from './pictures.js';
import type { Token } from './token.js';

/** How many bars a second a waveform has. */
export const BARS = 200;

/** A sound that has come: what is played, and how loud it is over time. */
export interface Sound {
  readonly buffer: AudioBuffer;
  /** The greatest amplitude, 0 to 1, in each of `BARS` pieces of a second. */
  readonly peaks: Float32Array;
}

/** Sounds of the folders that the server was given, fetched once each. */
export class Sounds {
  readonly #sounds = new Map<string, Sound | undefined>();

  constructor(
    private readonly token: Token,
    readonly names: readonly string[],
    private readonly onLoad: () => void,
  ) {}

  /** The file that `data.sound` of a cue means: its name, with or without its folder and its ending. */
  fileOf(sound: string): string | undefined {
    const bare = (name: string) => name.replace(/^.*\//, '').replace(/\.\w+$/, '');
    return this.names.find((name) => name === sound) ?? this.names.find((name) => bare(name) === sound);
  }

  /** A sound, once it has been loaded; asking for it loads it. */
  get(sound: unknown): Sound | undefined {
    const file = typeof sound === 'string' ? this.fileOf(sound) : undefined;
    if (file === undefined) return undefined;
    if (!this.#sounds.has(file)) {
      this.#sounds.set(file, undefined);
      void this.#load(file);
    }
    return this.#sounds.get(file);
  }

  async #load(file: string): Promise<void> {
    const path = file.split('/').map(encodeURIComponent).join('/');
    const answer = await ask(`api/sounds/${path}`, this.token.text).catch(() => undefined);
    if (!answer?.ok) return;
    // Needs no permission to play, which a page has only after a press.
    const decoder = new OfflineAudioContext(1, 1, 48_000);
    const buffer = await decoder.decodeAudioData(await answer.arrayBuffer()).catch(() => undefined);
    if (!buffer) return;
    this.#sounds.set(file, { buffer, peaks: peaksOf(buffer) });
    this.onLoad();
  }
}

function peaksOf(buffer: AudioBuffer): Float32Array {
  const samples = buffer.getChannelData(0);
  const each = buffer.sampleRate / BARS;
  return Float32Array.from({ length: Math.max(1, Math.ceil(samples.length / each)) }, (_, i) => {
    let most = 0;
    for (let k = Math.floor(i * each); k < Math.min(samples.length, (i + 1) * each); k++)
      most = Math.max(most, Math.abs(samples[k]!));
    return most;
  });
}
