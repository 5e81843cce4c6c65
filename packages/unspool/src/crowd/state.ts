import { digest } from '../errors/digest.js';
import { UnspoolError } from '../errors/error.js';
import { show } from '../errors/show.js';
import type { Clip } from '../clip/clip.js';
import { CueList } from './cue-list.js';
import type { Group } from './group.js';
import type { Ids } from './ids.js';
import { repeatIn } from './instances.js';
import { CROWD_VERSION, type CrowdState, type GroupState } from './saved.js';

/** What saving needs of a crowd. */
interface CrowdParts {
  readonly reel: { readonly name: string; readonly message: string };
  readonly groups: readonly Group[];
  readonly ids: Ids;
  readonly cues: CueList;
  readonly pending: CueList;
  rate: number;
  pause(): void;
  resume(): void;
  isPaused(): boolean;
  clipNamed(name: string): Clip | undefined;
  groupFor(clip: string): Group;
  placeOf(id: number): readonly [group: Group, place: number];
  clear(clips: readonly string[]): void;
  put(id: number, saved: GroupState, i: number): void;
  take(id: number, cues: CueList): void;
}

/** See `crowd.save`. */
export function saveCrowd(crowd: CrowdParts, id: number | undefined): CrowdState {
  const { reel, groups, pending, ids, rate } = crowd;
  const [only, at] = id === undefined ? [] : crowd.placeOf(id);
  const state = {
    crowd: CROWD_VERSION,
    reel: reel.name,
    groups: groups
      .filter((group) => only === undefined || group === only)
      .map((group) => group.save(at === undefined ? Array.from({ length: group.count }, (_, i) => i) : [at])),
    whole:
      id === undefined
        ? { rate, paused: crowd.isPaused(), ids: ids.save(), pending: [...pendingOf(crowd, pending)] }
        : null,
  };
  return { ...state, check: digest(state) };
}

function* pendingOf(crowd: CrowdParts, pending: CueList) {
  for (let i = 0; i < pending.count; i++) {
    const { id, clip, type } = pending.at(i);
    const cue = crowd.clipNamed(clip)?.cues.indexOf(pending.cueAt(i)) ?? -1;
    // Of a clip that has changed meanwhile.
    if (cue >= 0) yield { id, clip, cue, type };
  }
}

/** See `crowd.restore`. */
export function restoreCrowd(crowd: CrowdParts, state: CrowdState, id: number | undefined): void {
  check(crowd, state, id);
  const { groups, whole } = state;
  if (id !== undefined) {
    const [one] = groups as [GroupState];
    // What could throw, before anything has changed.
    crowd.groupFor(one.clip).loopOf(repeatIn(one, 0));
    crowd.take(id, new CueList());
    crowd.put(id, one, 0);
    return;
  }
  crowd.clear(groups.map(({ clip }) => clip));
  crowd.ids.load(whole!.ids);
  for (const group of groups) for (const [i, one] of group.ids.entries()) crowd.put(one, group, i);
  crowd.rate = whole!.rate;
  if (whole!.paused) crowd.pause();
  else crowd.resume();
  crowd.cues.count = crowd.pending.count = 0;
  for (const { id: one, clip, cue, type } of whole!.pending) {
    const found = crowd.clipNamed(clip)!.cues[cue];
    if (found) crowd.pending.add(Float64Array.of(one), 0, clip, found, type, new Float64Array(1));
  }
}

/** Throws for a state that is not one for this crowd, before anything has changed. */
function check(crowd: CrowdParts, state: CrowdState, id: number | undefined): void {
  if (typeof state !== 'object' || (state as CrowdState | null)?.crowd !== CROWD_VERSION)
    refuse(`${show(state)} is not the saved state of a crowd`, 'pass what save() returned');
  const { check: given, ...all } = state;
  if (given !== digest(all)) refuse('the saved state was modified', 'pass what save() returned, unmodified');
  const { reel } = crowd;
  if (state.reel !== reel.name)
    refuse(
      `the state belongs to the reel ${show(state.reel)}, not to ${reel.message}`,
      'restore it into a crowd of that reel',
    );
  for (const clip of [...state.groups, ...(state.whole?.pending ?? [])].map((one) => one.clip))
    if (!crowd.clipNamed(clip))
      refuse(`the state has the clip ${show(clip)}, which ${reel.message} no longer has`, 'bring it back');
  if (id === undefined && !state.whole) refuse('the state is that of one instance', 'pass the id of one as well');
  if (id !== undefined) {
    if (state.whole) refuse('the state is that of a whole crowd', 'save one instance: save(id)');
    crowd.placeOf(id);
  }
}

function refuse(message: string, hint: string): never {
  throw new UnspoolError('crowd/state', message, hint);
}
