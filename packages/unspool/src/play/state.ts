import type { ReelNames } from '../clip/names.js';
import { UnspoolError } from '../wording/error.js';
import { show } from '../wording/show.js';
import type { PlayerCore } from './core.js';
import { Faces } from './facing.js';
import type { Layer } from './layer.js';
import { chainRun } from './chain.js';
import type { LayerState, PlayerState } from './saved.js';
import type { ChainRun, Playback } from './playback.js';

/** The version of the form below. */
const STATE_VERSION = 2;

export function savePlayer<N extends ReelNames>(core: PlayerCore<N>): PlayerState {
  const { reel, frame, stage, gauges, faces } = core;
  const chains = new ChainNumbers<N>();
  const layers = core.layers.map((layer) => layer.save((playback) => chains.of(playback)));
  const placed = stage.isPlaced ? stage.placed : undefined;
  return {
    saved: STATE_VERSION,
    reel: reel.name,
    clock: frame.save(),
    seed: core.nextSeed,
    covered: stage.coverage.names,
    rest: stage.saveRest(),
    chains: chains.runs.map(({ name }) => name),
    layers,
    gauges: gauges.map((gauge) => [gauge.name, gauge.save()]),
    direction: faces?.direction ? [...faces.direction] : null,
    faces: [...(faces?.playing ?? [])].map(([layer, { facing, side, playback }]) => {
      const plays = playback !== undefined && core.layers.some((one) => one.playback === playback);
      return [layer, facing, side.name, plays];
    }),
    place: placed ? [[...placed.position], placed.rotation, [...placed.scale], placed.flip, placed.mirrored] : null,
  };
}

/** Throws for a state that is not one of this reel, before anything has changed. */
export function restorePlayer<N extends ReelNames>(core: PlayerCore<N>, state: PlayerState): void {
  const { reel, frame, stage } = core;
  checkState(state, reel);
  const { layers: saved, gauges, direction, faces, place } = state;
  const found = gauges.map(([name]) => {
    const gauge = core.gauges.find((one) => one.name === name);
    if (gauge) return gauge;
    throw new UnspoolError(
      'play/state',
      `the state has a gauge ${show(name)}, and the player has none`,
      'make it first',
    );
  });
  for (const { voices, queue } of saved) for (const { clip } of [...voices, ...queue]) reel.clip(clip);
  const layerOf = (name: string) => core.layers.find((layer) => layer.name === name);
  for (const { name, mask } of saved) if (!layerOf(name)) core.addLayer(name, mask ?? undefined);
  for (const layer of core.layers) layer.load(saved.find(({ name }) => name === layer.name) ?? EMPTY_LAYER);
  chainRuns(
    state.chains,
    saved.map(({ name }) => layerOf(name)!),
    saved,
  );
  found.forEach((gauge, i) => gauge.restore(gauges[i]![1]));
  core.faces = undefined;
  if (direction || faces.length > 0) {
    core.faces = new Faces<N>();
    core.faces.direction = (direction as [number, number] | null) ?? undefined;
    for (const [layer, facing, name, plays] of faces) {
      const side = reel.facing(facing as N['facing']).find((one) => one.name === name);
      const playback = plays ? layerOf(layer)?.playback : undefined;
      if (side) core.faces.playing.set(layer, { facing, side, playback });
    }
  }
  if (place) {
    const [position, rotation, scale, flip, mirrored] = place;
    const { placed } = stage;
    placed.set({ position: position as [number, number, number], rotation, scale: scale as [number, number], flip });
    placed.mirrored = mirrored;
  }
  stage.load(state.covered, state.rest);
  core.nextSeed = state.seed;
  frame.load(state.clock);
}

/** A layer on which nothing plays, as it is saved. */
const EMPTY_LAYER: LayerState = {
  name: '',
  mask: null,
  weight: 1,
  voices: [],
  queue: [],
  current: -1,
  gone: null,
  isFallback: false,
  fallback: null,
};

/** Numbers the runs of chains that playbacks belong to. */
class ChainNumbers<N extends ReelNames> {
  readonly runs: ChainRun<N>[] = [];

  of(playback: Playback<N>): number {
    const { chain } = playback;
    if (!chain) return -1;
    const known = this.runs.indexOf(chain);
    return known >= 0 ? known : this.runs.push(chain) - 1;
  }
}

/** The runs of chains anew, each with the links that are still there. */
function chainRuns<N extends ReelNames>(
  names: readonly string[],
  layers: readonly Layer<N>[],
  saved: readonly LayerState[],
): void {
  const links: Playback<N>[][] = names.map(() => []);
  saved.forEach(({ voices, queue, gone }, i) => {
    const layer = layers[i]!;
    const all = [...voices, ...queue, ...(gone ? [gone] : [])];
    const here = [...layer.voices, ...layer.queue, ...(gone ? [layer.playback!] : [])];
    here.forEach((playback, k) => links[all[k]!.chain]?.push(playback));
  });
  links.forEach((list, i) => {
    const run = chainRun<N>(names[i]!, list);
    for (const link of list) link.chain = run;
  });
}

/** Checks that a state is one of this reel. */
function checkState(state: PlayerState, reel: { readonly name: string; readonly said: string }): void {
  if (typeof state !== 'object' || (state as PlayerState | null)?.saved !== STATE_VERSION)
    throw new UnspoolError('play/state', `${show(state)} was not written by save`, 'give what save returned');
  if (state.reel === reel.name) return;
  throw new UnspoolError(
    'play/state',
    `the state is of the reel ${show(state.reel)}, and this is ${reel.said}`,
    'restore it into a player of that reel',
  );
}
