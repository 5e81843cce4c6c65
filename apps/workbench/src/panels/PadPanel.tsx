import { useEffect, useRef, useState, type KeyboardEvent } from 'react';
import { Button } from 'react-aria-components';
import { Player, type CueEvent, type Gauge, type Reel, type ReelDocument } from 'unspool';
import { valuesAt, type Values } from '../model/pose.js';
import { get, useStore } from '../model/store.js';
import { painterOf, type Box } from '../stage/painter.js';

const HEARD = 6;
const SIDES: Readonly<Record<string, readonly [number, number]>> = {
  ArrowRight: [1, 0],
  ArrowLeft: [-1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** What a press plays: as the game would call it. */
interface Binding {
  readonly key: string;
  readonly name: string;
  readonly what: 'clip' | 'chain';
}

/** Plays clips, chains, facings and a gauge by keys, with the player that games use. */
export function PadPanel() {
  const doc = useStore((state) => state.doc);
  const reel = useStore((state) => state.reel);
  const canvas = useRef<HTMLCanvasElement>(null);
  const pad = useRef<Pad>(undefined);
  const [heard, setHeard] = useState<readonly string[]>([]);
  const [gaugeOf, setGaugeOf] = useState('');
  const [fade, setFade] = useState('6f');
  const bindings = bindingsOf(doc);
  const facing = Object.keys(doc?.facings ?? {})[0];

  useEffect(() => {
    if (!doc || !reel) return;
    const made = new Pad(doc, reel, (said) => setHeard((was) => [said, ...was].slice(0, HEARD)));
    pad.current = made;
    let last = performance.now();
    let frame = requestAnimationFrame(function tick(now) {
      frame = requestAnimationFrame(tick);
      // The first frame may have begun before this was asked for.
      made.tick(Math.min(0.1, Math.max(0, (now - last) / 1000)));
      last = now;
      const pen = canvas.current?.getContext('2d');
      if (pen) made.paint(pen);
    });
    return () => cancelAnimationFrame(frame);
  }, [doc, reel]);

  const play = ({ name }: Binding, add: boolean) => pad.current?.play(name, add, fade);
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || event.target instanceof HTMLInputElement) return;
    const side = SIDES[event.key];
    const bound = bindings.find(({ key }) => key === event.key.toLowerCase());
    if (event.target instanceof HTMLSelectElement) return;
    if (side && facing !== undefined) pad.current?.face(facing, side);
    else if (bound && !event.repeat) play(bound, event.altKey);
    else if (event.key === '0') pad.current?.stop();
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  if (!doc || !reel) return null;
  return (
    <div className="pad" onKeyDown={onKeyDown}>
      <div className="pad-stage">
        <canvas
          ref={canvas}
          width={190}
          height={150}
          tabIndex={0}
          role="application"
          aria-label="Pad: press the keys that are shown"
        />
        <p aria-live="polite">{heard[0] ?? 'Click here and press keys.'}</p>
        <ul aria-label="What was heard">
          {heard.slice(1).map((said, i) => (
            <li key={i}>{said}</li>
          ))}
        </ul>
      </div>
      <div>
        <div className="panel-bar">
          <label className="field">
            <span>fade</span>
            <input
              className="text-value is-short"
              value={fade}
              onChange={(event) => setFade(event.currentTarget.value)}
            />
          </label>
          <Button className="text-button" onPress={() => pad.current?.stop()}>
            Stop <kbd>0</kbd>
          </Button>
          <span>With Alt it waits for the end of what plays.</span>
        </div>
        <div className="pad-keys">
          {bindings.map((binding) => (
            <button key={binding.name} type="button" onClick={(event) => play(binding, event.altKey)}>
              <kbd>{binding.key.toUpperCase()}</kbd> {binding.name}
              {binding.what === 'chain' && <small> chain</small>}
            </button>
          ))}
          {facing !== undefined && (
            <span>
              <kbd>← ↑ ↓ →</kbd> {facing} <small>facing</small>
            </span>
          )}
        </div>
        <div className="panel-bar">
          <label className="field">
            <span>gauge</span>
            <select
              value={gaugeOf}
              onChange={({ currentTarget }) => {
                setGaugeOf(currentTarget.value);
                pad.current?.gauge(currentTarget.value);
              }}
            >
              <option value="">none</option>
              {Object.keys(doc.clips).map((clip) => (
                <option key={clip}>{clip}</option>
              ))}
            </select>
          </label>
          {gaugeOf && (
            <input
              type="range"
              min="0"
              max="1"
              step="0.01"
              defaultValue="0"
              aria-label={`Gauge of ${gaugeOf}`}
              onInput={(event) => pad.current?.setGauge(event.currentTarget.valueAsNumber)}
            />
          )}
        </div>
      </div>
    </div>
  );
}

/** Digits for the first nine clips and chains, then letters. */
function bindingsOf(doc: ReelDocument | undefined): readonly Binding[] {
  const keys = '123456789qwertyuiopasdfghjklzxcvbnm';
  const clips = Object.keys(doc?.clips ?? {}).map((name) => ({ name, what: 'clip' as const }));
  const chains = Object.keys(doc?.chains ?? {}).map((name) => ({ name, what: 'chain' as const }));
  return [...clips, ...chains].slice(0, keys.length).map((one, i) => ({ ...one, key: keys[i]! }));
}

/** A player of the reel, without objects of its own: its pose is painted. */
class Pad {
  readonly #player: Player;
  readonly #rest: Values;
  #gauge: Gauge | undefined;
  #gaugeClip = '';
  #box: Box | undefined;

  constructor(
    private readonly doc: ReelDocument,
    private readonly reel: Reel,
    hear: (said: string) => void,
  ) {
    this.#player = new Player(reel, { cast: {} });
    this.#rest = valuesAt(reel, undefined, 0);
    for (const type of ['cue', 'cue-start', 'cue-end'] as const)
      this.#player.on(type, ({ name, clip, data }: CueEvent) =>
        hear(`${type} ${name} of ${clip}${data === undefined ? '' : ` ${JSON.stringify(data)}`}`),
      );
    this.#player.on('end', ({ clip }) => hear(`${clip} ended`));
  }

  play(name: string, add: boolean, fade: string): void {
    const options = { fade: fade as '6f' };
    this.#try(() => (add ? this.#player.enqueue(name, options) : this.#player.play(name, options)));
  }

  face(name: string, side: readonly [number, number]): void {
    this.#try(() => this.#player.face(name, [side[0], side[1]]));
  }

  gauge(clip: string): void {
    if (clip === '' || clip === this.#gaugeClip) return;
    this.#gaugeClip = clip;
    this.#try(() => (this.#gauge = this.#player.gauge(`pad-${clip}`, { clip, time: 0.15 })));
  }

  setGauge(value: number): void {
    if (this.#gauge) this.#gauge.value = value;
  }

  stop(): void {
    this.#player.stop();
  }

  tick(dt: number): void {
    this.#player.tick(dt);
  }

  paint(pen: CanvasRenderingContext2D): void {
    const { pictures } = get();
    if (!pictures) return;
    const painter = painterOf(pictures);
    const box = painter.boxOf(this.doc, this.reel, this.#rest);
    if (box.width !== 120) this.#box ??= box;
    const values: Record<string, unknown> = { ...this.#rest };
    for (const { name } of this.#player.pose.layout.slots) values[name] = this.#player.pose.get(name);
    painter.paint(pen, this.doc, this.reel, values as Values, {
      ...box,
      width: box.width * 1.5,
      height: box.height * 1.5,
    });
  }

  #try(run: () => unknown): void {
    try {
      run();
    } catch (error) {
      // A fade that is no time, a facing that lacks a side: said, and nothing is played.
      this.#say((error as Error).message);
    }
  }

  #say(said: string): void {
    useStore.setState({ status: { said, isFault: true } });
  }
}
