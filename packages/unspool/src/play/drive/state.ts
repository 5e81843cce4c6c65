import type { ReelNames } from '../../clip/names.js';
import { checkState, sealed, slotsOf } from '../state/check-state.js';
import { chainRun } from './chain.js';
import type { PlayerCore } from './core.js';
import { Faces } from './facing.js';
import type { Layer } from './layer.js';
import type { ChainRun, Playback } from './playback.js';
import { numberOut } from '../time/playhead.js';
import { STATE_VERSION, type LayerState, type PlaybackState, type PlayerState } from '../state/saved.js';

export function savePlayer<N extends ReelNames>(core: PlayerCore<N>): PlayerState {
  const { reel, frame, stage, gauges, faces } = core;
  const { base: ground } = stage;
  const chains = new ChainNumbers<N>();
  const layers = core.layers.map((layer) => layer.save((playback) => chains.of(playback)));
  return sealed({
    saved: STATE_VERSION,
    reel: reel.name,
    slots: slotsOf(reel),
    texts: reel.layout.texts,
    clock: frame.save(),
    seed: core.nextSeed,
    ground: ground.saved && Array.from(ground.saved, (n, i) => (Object.is(n, ground.rest[i]) ? null : numberOut(n))),
    covered: ground.covered.names,
    due: ground.due.names,
    isStarted: ground.isStarted,
    objects: stage.readFree().map(([name, numbers]) => ({ name, numbers: numbers.map(numberOut) })),
    chains: chains.runs.map(({ name }) => name),
    layers,
    gauges: gauges.map((gauge) => gauge.save()),
    direction: faces?.direction ? [...faces.direction] : null,
    faces: [...(faces?.playing ?? [])].map(([layer, { facing, side, playback }]) => {
      const plays = playback !== undefined && core.layers.some((one) => one.playback === playback);
      return { layer, facing, side: side.name, plays };
    }),
    place: stage.placed?.save() ?? null,
    hits: core.hits?.save() ?? core.savedHits,
    ...(core.routine && { routine: core.routine.save((run) => chains.runs.indexOf(run as never)) }),
  });
}

/** Throws for a state that is not one of this reel, before anything has changed. */
export function restorePlayer<N extends ReelNames>(core: PlayerCore<N>, state: PlayerState): void {
  checkState(state, core.reel, core.gauges, core.routine?.name);
  const known = core.stage.base.covered;
  loadPlayer(core, state);
  core.stage.writeBack(known, state.objects);
}

/**
 * Becomes what was saved, without writing it.
 *
 * @param goesOn the playback that has had a state until now, to have it again; default: all are made anew
 */
export function loadPlayer<N extends ReelNames>(
  core: PlayerCore<N>,
  state: Omit<PlayerState, 'check'>,
  goesOn?: (state: PlaybackState) => Playback<N> | undefined,
): void {
  const { reel, frame, stage } = core;
  const { layers: saved, gauges, direction, faces, place } = state;
  const layerOf = (name: string) => core.layers.find((layer) => layer.name === name);
  // Time first: fades depend on the clock.
  frame.load(state.clock);
  const { base: ground } = stage;
  ground.load(
    ground.rest.map((rest, i) => Number(state.ground?.[i] ?? rest)),
    state.isStarted,
  );
  stage.loadPlacement(place);
  core.setLayers(saved);
  for (const one of saved) layerOf(one.name)!.load(one, goesOn);
  const runs = chainRuns(
    state.chains,
    saved.map(({ name }) => layerOf(name)!),
    saved,
  );
  for (const gauge of [...core.gauges]) {
    const saved = gauges.find(({ name }) => name === gauge.name);
    if (saved) gauge.restore(saved);
    else gauge.remove();
  }
  core.faces = undefined;
  if (direction || faces.length > 0) {
    core.faces = new Faces<N>();
    core.faces.direction = (direction as [number, number] | null) ?? undefined;
    for (const { layer, facing, side: name, plays } of faces) {
      const side = reel.facing(facing as N['facing']).find((one) => one.name === name);
      const playback = plays ? layerOf(layer)?.playback : undefined;
      if (side) core.faces.playing.set(layer, { facing, side, playback });
    }
  }
  core.nextSeed = state.seed;
  for (const one of saved) layerOf(one.name)!.goOn();
  // Loading has marked properties as due; only those of the state are.
  ground.loadOwed(state.due, state.covered);
  frame.changed();
  core.sample();
  core.savedHits = state.hits;
  core.hits?.load(state.hits);
  if (state.routine) core.routine!.load(state.routine, runs);
  else core.endRoutine();
}

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

/** Recreates the chains, each with the links that still exist. */
function chainRuns<N extends ReelNames>(
  names: readonly string[],
  layers: readonly Layer<N>[],
  saved: readonly LayerState[],
): readonly ChainRun<N>[] {
  const links: Playback<N>[][] = names.map(() => []);
  saved.forEach(({ voices, queue, gone }, i) => {
    const layer = layers[i]!;
    const all = [...voices, ...queue, ...(gone ? [gone] : [])];
    const here = [...layer.voices, ...layer.queue, ...(gone ? [layer.playback!] : [])];
    here.forEach((playback, k) => links[all[k]!.chain]?.push(playback));
  });
  return links.map((list, i) => {
    // What goes on belongs to its chain already.
    const run = list.find((link) => link.run)?.run ?? chainRun<N>(names[i]!, list);
    for (const link of list) link.run = run;
    return run;
  });
}
