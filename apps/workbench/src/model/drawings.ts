import { parseTime, type ReelDocument } from 'unspool';
import type { Operation } from 'unspool/edit';
import { apply, goTo, needed, selectKeys, shown, type Shown } from './actions.js';
import { isMoment, keysOf, writeAt } from './keys.js';
import { freeName, partsOf } from './names.js';
import { get, setStatus, showClip } from './store.js';

/** Drawings: the cells of a sheet that a role shows one after the other. */

type Sheet = NonNullable<ReelDocument['sheets']>[string];

/** One drawing of a track: which cell, from when to when (s). */
interface Drawing {
  readonly cell: number;
  readonly at: number;
  readonly until: number;
}

/** The `frame` track that is meant: the current row, that of the current role, or the only one. */
function frameTrack({ clip }: Shown): string | undefined {
  const { row, role } = get();
  const names = Object.keys(clip.tracks ?? {}).filter((name) => partsOf(name)[1] === 'frame');
  return names.find((name) => name === row) ?? names.find((name) => name === `${role}.frame`) ?? names[0];
}

/** The drawings of a track in order; rows of frames are taken apart. */
function drawingsOf(now: Shown, track: string): Drawing[] {
  const keys = keysOf(now.clip.tracks![track]!, now.fps);
  return keys.flatMap((key, i): Drawing[] => {
    const end = keys[i + 1]?.at ?? Math.max(now.duration, key.until ?? key.at);
    if (!key.frames) return [{ cell: key.value as number, at: key.at, until: end }];
    const [first, last] = key.frames;
    const count = Math.abs(last - first) + 1;
    const each = (key.until! - key.at) / count;
    const shown = Array.from({ length: count }, (_, k) => {
      const at = key.at + k * each;
      return { cell: first + Math.sign(last - first) * k, at, until: k === count - 1 ? end : Math.min(end, at + each) };
    });
    return shown.filter(({ at }) => at < end - 1e-9);
  });
}

const NEEDED = 'This clip has no drawings. Key cells of a sheet first.';

/** Goes to the next or previous drawing, also inside a row of frames. */
export function goToDrawing(direction: 1 | -1): void {
  const now = shown();
  const track = now && frameTrack(now);
  if (!now || track === undefined) return needed(NEEDED);
  const { time } = get();
  const starts = drawingsOf(now, track).map(({ at }) => at);
  const next = direction > 0 ? starts.find((at) => at > time + 1e-9) : starts.findLast((at) => at < time - 1e-9);
  if (next === undefined) setStatus(`No ${direction > 0 ? 'later' : 'earlier'} drawing of ${track}.`);
  else goTo(next, false);
}

/** Turns the drawings round by one: the second becomes the first, the first the last. */
export function turnDrawings(): void {
  const now = shown();
  const track = now && frameTrack(now);
  if (!now || track === undefined) return needed(NEEDED);
  const [first, ...rest] = drawingsOf(now, track);
  if (!first || rest.length === 0) return needed('There is only one drawing.');
  let at = first.at;
  const turned = [...rest, first].map(({ cell, at: from, until }) => {
    const one = { cell, at, until: at + (until - from) };
    at = one.until;
    return one;
  });
  const keys = asKeys(turned, now);
  const said = `turned the drawings of ${track} round: cell ${rest[0]!.cell} is the first`;
  const change: Operation = { do: 'change', what: 'track', clip: now.name, name: track, to: { keys } };
  if (apply({ do: 'group', said, operations: [change] })) selectKeys({ [track]: [first.at] });
}

/** Drawings as keys: those that follow each other and last equally long as one row of frames. */
function asKeys(drawings: readonly Drawing[], { fps, clip }: Shown): unknown[] {
  const keys: unknown[] = [];
  const lengthOf = ({ at, until }: Drawing) => until - at;
  for (let i = 0; i < drawings.length;) {
    const start = drawings[i]!;
    const step = Math.sign((drawings[i + 1]?.cell ?? start.cell) - start.cell);
    let last = i;
    while (
      step !== 0 &&
      drawings[last + 1]?.cell === start.cell + (last + 1 - i) * step &&
      isMoment(lengthOf(drawings[last + 1]!), lengthOf(start))
    )
      last++;
    const at = writeAt(start.at, fps, clip);
    if (last > i)
      keys.push({ at, frames: [start.cell, drawings[last]!.cell], each: writeAt(lengthOf(start), fps, clip) });
    else keys.push({ at, value: start.cell });
    i = last + 1;
  }
  return keys;
}

/** How long (s) a held key lasts: to the next key of its track, or to the end of the clip. */
export function lastsOf(now: Shown, track: string, at: number): number {
  const keys = keysOf(now.clip.tracks![track]!, now.fps);
  const next = keys.find((key) => key.at > at + 1e-9);
  return (next?.at ?? Math.max(at, now.duration)) - at;
}

/** Lets a held key last so long; later keys of its track move along, and the end of the clip with the last of them. */
export function changeLasts(now: Shown, track: string, at: number, seconds: number): Operation | undefined {
  const { name: clip, fps, clip: written, duration } = now;
  const keys = keysOf(written.tracks![track]!, fps);
  const by = seconds - lastsOf(now, track, at);
  const later = keys.filter((key) => key.at > at + 1e-9).map((key) => key.at);
  const isOnly = Object.keys(written.tracks!).length === 1;
  const operations: Operation[] = [];
  if (later.length > 0)
    operations.push({ do: 'move-keys', clip, keys: { [track]: later }, by: writeAt(by, fps, written) });
  // A clip of these drawings alone ends with the last of them.
  if ((isOnly || later.length === 0) && written.duration !== undefined)
    operations.push({
      do: 'change',
      what: 'clip',
      name: clip,
      to: { duration: writeAt(Math.max(0, duration + by), fps, written) },
    });
  if (operations.length === 0) return undefined;
  const said = `the drawing at ${writeAt(at, fps, written)} of ${track} lasts ${writeAt(seconds, fps, written)}`;
  return { do: 'group', said, operations };
}

export interface RowClips {
  readonly role: string;
  readonly sheet: Extract<Sheet, { readonly columns: number }>;
  /** Rows from 0, and how many of the cells of each are drawn. */
  readonly rows: readonly { readonly row: number; readonly cells: number; readonly name: string }[];
  /** A time such as `3f`. */
  readonly each: string;
  readonly loop: string;
  /** Whether clips named `walk-left`, `walk-up` … become the facing `walk`. */
  readonly facings: boolean;
}

/** Makes a clip of each row of a sheet, in one step. */
export function addRowClips({ role, sheet, rows, each, loop, facings }: RowClips): boolean {
  const { doc } = get();
  const seconds = parseTime(each, doc?.fps ?? 60);
  if (!doc) return false;
  if (seconds === undefined || !(seconds > 0))
    return needed(`${each} is not a length of time. Use frames (3f) or seconds (0.1s).`) ?? false;
  const [, amount = '', unit = ''] = /^([\d.]+)(\D*)$/.exec(each) ?? [];
  const clips = rows.map(({ row, cells, name }): Operation => {
    const first = row * sheet.columns;
    const total = `${Number((Number(amount) * cells).toFixed(6))}${unit}`;
    const track = [{ at: 0, frames: [first, first + cells - 1], each }];
    const value = {
      duration: unit === '' ? Number(total) : total,
      ...(loop !== 'once' && { loop }),
      tracks: { [`${role}.frame`]: track },
    };
    return { do: 'add', what: 'clip', name, value };
  });
  const made = facings
    ? facingsOf(
        rows.map(({ name }) => name),
        doc,
      )
    : [];
  const said = `made ${clips.length} clips of the rows of a sheet of ${role}`;
  if (!apply({ do: 'group', said, operations: [...clips, ...made] })) return false;
  showClip(rows[0]!.name);
  return true;
}

const SIDES = ['up-left', 'up-right', 'down-left', 'down-right', 'up', 'down', 'left', 'right'];

/** Facings of clips whose names end with a side; two sides or more make one. */
function facingsOf(names: readonly string[], doc: ReelDocument): readonly Operation[] {
  const sides = new Map<string, Record<string, string>>();
  for (const name of names) {
    const side = SIDES.find((one) => name.endsWith(`-${one}`));
    if (side === undefined) continue;
    const base = name.slice(0, -side.length - 1);
    sides.set(base, { ...sides.get(base), [side]: name });
  }
  return [...sides]
    .filter(([, value]) => Object.keys(value).length > 1)
    .map(([base, value]): Operation => ({ do: 'add', what: 'facing', name: freeName(base, doc.facings ?? {}), value }));
}
