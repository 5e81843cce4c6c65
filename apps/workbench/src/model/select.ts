import type { Kind } from 'unspool';
import type { Operation } from 'unspool/edit';
import {
  apply,
  changeSelection,
  copied,
  needed,
  pasteTracks,
  posedOf,
  selectedCount,
  selectKeys,
  shown,
} from './actions.js';
import { isMoment, keyAt, keysOf, type KeyView } from './keys.js';
import { partsOf } from './names.js';
import { placeOf } from './rows.js';
import { get, setStatus, type SelectedKeys } from './store.js';

/** Which keys are meant, beyond those that are pointed at; and what goes from some keys to others. */

/** All keys of the current clip that a test lets through. */
export function keysWhere(test: (key: KeyView, track: string) => boolean): SelectedKeys {
  const now = shown();
  const found = Object.entries(now?.clip.tracks ?? {}).map(([name, track]) => {
    const times = keysOf(track, now!.fps).flatMap((key) => (test(key, name) ? [key.at] : []));
    return [name, times] as const;
  });
  return Object.fromEntries(found.filter(([, times]) => times.length > 0));
}

function select(keys: SelectedKeys, none: string): void {
  const count = selectedCount(keys);
  if (count === 0) return setStatus(none, true);
  selectKeys(keys);
  setStatus(`Selected ${count} ${count === 1 ? 'key' : 'keys'}.`);
}

export function selectTrackKeys(): void {
  const { row } = get();
  select(
    keysWhere((_, track) => track === row),
    'Select a track with keys first.',
  );
}

export function selectRoleKeys(): void {
  const { role } = get();
  select(
    keysWhere((_, track) => partsOf(track)[0] === role),
    'Select a role with keys first.',
  );
}

/** Those at the playhead too. */
export function selectLaterKeys(): void {
  const { time } = get();
  select(
    keysWhere(({ at }) => at >= time - 1e-9),
    'No keys at the playhead or after it.',
  );
}

/** Keys with the easing of one of the selected keys. */
export function selectSameEasing(): void {
  const { selectedKeys } = get();
  const eases = new Set(easesOf(posedOf(selectedKeys)));
  if (eases.size === 0) return needed();
  select(
    keysWhere((key) => !key.frames && eases.has(key.ease)),
    'No key has this easing.',
  );
}

/** The keys at a moment: of a role, or of the whole clip. */
export function keysAt(seconds: number, role: string | undefined): SelectedKeys {
  return keysWhere(
    ({ at }, track) => Math.abs(at - seconds) < 1e-9 && (role === undefined || partsOf(track)[0] === role),
  );
}

function easesOf(keys: SelectedKeys): readonly string[] {
  const now = shown();
  return Object.entries(keys).flatMap(([track, times]) => {
    const list = keysOf(now?.clip.tracks?.[track] ?? [], now?.fps ?? 60);
    return times.flatMap((at) => keyAt(list, at)?.ease ?? []);
  });
}

/** Speeds that go on without a break through the selected keys. */
export function smoothKeys(): void {
  changeSelection({ ease: 'smooth' });
}

/** Values that stand still for a moment at the selected keys: the curve is flat on both sides of them. */
export function flattenKeys(): void {
  const now = shown();
  const chosen = posedOf(get().selectedKeys);
  if (!now || selectedCount(chosen) === 0) return needed();
  const operations = Object.entries(chosen).flatMap(([track, times]): Operation[] => {
    const keys = keysOf(now.clip.tracks![track]!, now.fps);
    const isFlat = (at: number | undefined) => at !== undefined && times.some((one) => isMoment(one, at));
    return keys.slice(0, -1).flatMap((key, i): Operation[] => {
      const [start, end] = [isFlat(key.at), isFlat(keys[i + 1]!.at)];
      if ((!start && !end) || key.ease === 'hold' || key.value === null) return [];
      const ease = `cubic-bezier(0.33, ${start ? 0 : 0.33}, 0.67, ${end ? 1 : 0.67})`;
      return [{ do: 'set-keys', clip: now.name, keys: { [track]: [key.at] }, ease }];
    });
  });
  if (operations.length === 0) return needed('The selected keys are held: there is nothing to flatten.');
  apply({ do: 'group', said: `flattened ${selectedCount(chosen)} keys`, operations });
}

let copiedEase: string | undefined;

export function copyEasing(): void {
  const eases = [...new Set(easesOf(posedOf(get().selectedKeys)))];
  if (eases.length === 0) return needed();
  if (eases.length > 1) return setStatus(`The selected keys have ${eases.length} easings. Select keys with one.`, true);
  if (eases[0] === 'curve')
    return setStatus('The handles of a curve belong to its keys. Copy the keys instead (Ctrl+C).', true);
  copiedEase = eases[0];
  setStatus(`Copied the easing ${copiedEase}.`);
}

export function pasteEasing(): void {
  if (copiedEase === undefined) return setStatus('Nothing to paste. Copy an easing first.', true);
  changeSelection({ ease: copiedEase });
}

/** Copied keys of one track to the current track, if that is of the same kind. */
export function pasteToTrack(): void {
  const { row } = get();
  const keys = copied();
  if (!keys) return needed('Nothing to paste. Copy keys first.');
  const [source, ...more] = Object.keys(keys.tracks);
  if (more.length > 0) return needed(`The copied keys are of ${more.length + 1} tracks. Copy keys of one track first.`);
  if (row === undefined) return needed('Select the track to paste to first.');
  const [from, to] = [kindOf(source!), kindOf(row)];
  if (from !== to)
    return needed(`${source} is ${from}, ${row} is ${to ?? 'unknown'}. Select a track of the same kind.`);
  pasteTracks({ [row]: keys.tracks[source!]! }, keys.fps);
}

/** Copied keys of one role to the current role. */
export function pasteToRole(): void {
  const { role } = get();
  const keys = copied();
  if (!keys) return needed('Nothing to paste. Copy keys first.');
  const roles = [...new Set(Object.keys(keys.tracks).map((track) => partsOf(track)[0]))];
  if (roles.length > 1) return needed(`The copied keys are of ${roles.join(', ')}. Copy keys of one role first.`);
  if (role === undefined) return needed('Select the role to paste to first.');
  const tracks = Object.entries(keys.tracks).map(([name, track]) => [`${role}.${partsOf(name)[1]}`, track] as const);
  pasteTracks(Object.fromEntries(tracks), keys.fps);
}

/** What a track animates: its kind, and whether it is one number of it. */
function kindOf(track: string): Kind | 'number' | undefined {
  const { reel } = get();
  const place = reel && placeOf(reel, ...partsOf(track));
  return place && (place.channel >= 0 ? 'number' : place.kind);
}
