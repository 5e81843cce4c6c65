import { mustBePlayer } from '../play/drive/player-options.js';
import type { ReelNames } from '../clip/names.js';
import { Reel } from '../clip/reel.js';
import { Crowd } from '../crowd/crowd.js';
import { UnspoolError } from '../errors/error.js';
import { digest } from '../errors/digest.js';
import { show } from '../errors/show.js';
import type { PlayerCore } from '../play/drive/core.js';
import type { Gauge } from '../play/drive/gauge.js';
import type { Playback } from '../play/drive/playback.js';
import type { Player } from '../play/drive/player.js';
import { checkTargets } from '../play/drive/player-options.js';
import { loadPlayer, savePlayer } from '../play/drive/state.js';
import { Stage } from '../play/pose/stage.js';
import { windowOf } from '../play/time/clip-times.js';
import { fit, missing } from '../play/state/fit.js';
import type { PlaybackState, PlayerState } from '../play/state/saved.js';
import { adoptInCrowd } from './adopt-crowd.js';
import { foundIn, giveBack, shownOf, underlay, writeChanged } from './adopt-values.js';

/**
 * What a player was before it adopted a reel, for as long as nothing has happened since: a second reel at the same
 * moment is adopted from there. So a duration that is dragged shorter and longer again leaves no trace.
 */
interface Before {
  readonly state: PlayerState;
  readonly playbacks: ReadonlyMap<PlaybackState, Playback>;
  /** The digest of what it became. */
  readonly became: number;
}

const befores = new WeakMap<PlayerCore, Before>();

/**
 * A player or crowd goes on with a changed reel, at the same moment: what plays and waits, layers, gauges, facings,
 * its routine, handlers and placement stay. Playheads stay at their time, or at the nearest that their clip still has; a
 * loop goes on from there with its new length. What a call did not say (loop mode, `after`) and moments that it named
 * follow the clip. Clips, spans, rules and gauges that are gone stop. No event is emitted. What looks different is
 * written at once, and nothing else.
 *
 * @returns what is gone (`play/lost`); a player warns of it too
 * @throws UnspoolError `play/adopt` inside an event handler; `play/cast` for an object that cannot take a new property;
 *   as `startRoutine` for a rule that could not begin. Nothing has changed then
 * @example
 * adopt(crab, parseReel(changed));
 */
export function adopt<N extends ReelNames>(
  target: Player<N, never> | Crowd<N>,
  reel: Reel<ReelNames>,
): readonly UnspoolError[] {
  if (!(reel instanceof Reel))
    throw new UnspoolError('play/adopt', `expected a reel, found ${show(reel)}`, 'parse the document first');
  if (!(target instanceof Crowd)) mustBePlayer(target);
  return target instanceof Crowd ? adoptInCrowd(target, reel) : adoptInPlayer(target.parts, reel);
}

function adoptInPlayer(core: PlayerCore, reel: Reel): readonly UnspoolError[] {
  const { frame, stage, routine } = core;
  if (core.isDisposed)
    throw new UnspoolError('play/disposed', `the player ${show(stage.name)} is disposed`, 'let it go');
  if (frame.isRunning)
    throw new UnspoolError('play/adopt', 'adopt was called inside an event handler', 'call it between two frames');
  checkTargets(reel, stage.cast, stage.adapter);
  const orphans = routine?.orphans(reel) ?? [];
  core.sample();
  const before = statesOf(core);
  const lost: UnspoolError[] = [];
  const isLess = release(core, reel, orphans, lost);
  const { state, playbacks } = isLess ? statesOf(core) : before;
  const now = new Map<PlaybackState, Playback>();
  const isRuledAnew = routine !== undefined && rulesOf(core.reel, routine.name) !== rulesOf(reel, routine.name);
  const fitted = fit(state, reel, {
    isRuledAnew,
    isOut: (one) => orphans.includes(playbacks.get(one)!),
    goesOn: (next, was) => now.set(next, playbacks.get(was)!),
  });
  lost.push(...fitted.lost);
  const shown = shownOf(core);
  for (const watcher of core.watchers) watcher.ends();
  giveBack(core, reel);
  core.reel = reel;
  core.stage = nextStage(stage, reel);
  for (const gauge of core.gauges) changeGauge(core, gauge, reel);
  const { routine: goesOn, hits } = fitted.state;
  if (goesOn) routine!.become();
  loadPlayer(core, { ...fitted.state, ground: foundIn(core, fitted.state, shown) }, (one) => now.get(one));
  core.hits?.become(hits);
  if (goesOn && isRuledAnew) routine.mark();
  for (const { voices } of core.shown) for (const voice of voices) underlay(core.stage, voice);
  core.sample();
  for (const watcher of core.watchers) watcher.become();
  writeChanged(core, shown, state.objects);
  if (isLess) befores.delete(core);
  else befores.set(core, { state, playbacks, became: savePlayer(core).check });
  for (const problem of lost) core.stage.warn(problem);
  return lost;
}

/**
 * What a reel no longer has leaves what its `after` says.
 *
 * @returns whether there is anything
 */
function release(core: PlayerCore, reel: Reel, orphans: readonly object[], lost: UnspoolError[]): boolean {
  let isLess = false;
  for (const { voices, queue, playback } of core.layers) {
    const isOut = (one: Playback) =>
      orphans.includes(one) || missing(one.clip.name, one.settings.span, reel) !== undefined;
    isLess ||= [...voices, ...queue, ...(playback ? [playback] : [])].some(isOut);
    core.release(voices.filter(isOut));
  }
  for (const gauge of core.gauges) {
    if (gauge.hands.every(({ clip, span }) => missing(clip.name, span, reel) === undefined)) continue;
    gauge.remove();
    isLess = true;
    const message = `the gauge ${show(gauge.name)} is gone: ${reel.message} no longer has its clip`;
    lost.push(new UnspoolError('play/lost', message, 'bring it back, or let the game do without it'));
  }
  return isLess;
}

/** The same cast for a changed reel. */
function nextStage(stage: PlayerCore['stage'], reel: Reel): PlayerCore['stage'] {
  const { cast, adapter, name, warn, frames, wroteAt, pose, base } = stage;
  const { shown } = base;
  stage.dispose();
  const next = new Stage(reel, cast, adapter, name, warn);
  [next.frames, next.wroteAt, next.base.shown] = [frames, wroteAt, shown];
  if (pose) next.makePose();
  return next;
}

function changeGauge(core: PlayerCore, { hands }: Gauge, reel: Reel): void {
  for (const hand of hands) {
    hand.clip = reel.clip(hand.clip.name);
    [hand.low, hand.high] = windowOf(hand.clip, hand.span);
    core.ready(hand, hand.slotsLeft);
  }
}

const rules = new WeakMap<object, number>();

/** A digest of a routine; it is asked for by every player that runs it. */
function rulesOf({ facts }: Reel, name: string): number | undefined {
  const routine = facts.routines[name];
  if (!routine) return undefined;
  let known = rules.get(routine);
  if (known === undefined) rules.set(routine, (known = digest(routine)));
  return known;
}

/** The state of a player, with the playback that each part of it is of: of now, or before the last reel. */
function statesOf(core: PlayerCore): Omit<Before, 'became'> {
  const state = savePlayer(core);
  const before = befores.get(core);
  if (before?.became === state.check) return before;
  const playbacks = new Map<PlaybackState, Playback>();
  state.layers.forEach(({ voices, queue, gone }, i) => {
    const layer = core.layers[i]!;
    voices.forEach((one, k) => playbacks.set(one, layer.voices[k]!));
    queue.forEach((one, k) => playbacks.set(one, layer.queue[k]!));
    if (gone) playbacks.set(gone, layer.playback!);
  });
  return { state, playbacks };
}
