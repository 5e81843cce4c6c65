import { isSelected } from '../model/actions.js';
import { firstFrom, firstKeyFrom, type KeyView } from '../model/keys.js';
import type { Row, SummaryRow, TrackRow } from '../model/rows.js';
import type { State } from '../model/store.js';
import { ticksOf, type Axis } from '../model/axis.js';
import type { Colors } from './colors.js';

/** Whether a finger or a pen points: then everything is larger. */
const isCoarse = typeof matchMedia === 'function' && matchMedia('(pointer: coarse)').matches;
/** The height of a row, in pixels; style/page.css has the same. */
export const ROW = isCoarse ? 44 : 24;
/** How far from its middle a key is still grabbed, in pixels. */
export const GRAB = isCoarse ? 18 : 7;
const SIZE = 5;

type Pen = CanvasRenderingContext2D;

/** The lines of time behind everything: frames, where there is room, and the end of the clip. */
export function drawGround(
  pen: Pen,
  axis: Axis,
  height: number,
  state: State,
  fps: number,
  duration: number,
  colors: Colors,
): void {
  for (const { frame, major } of ticksOf(state.view, axis, fps)) {
    pen.fillStyle = colors(major ? 'line' : 'faint');
    pen.fillRect(Math.round(axis.x(frame / fps)), 0, 1, height);
  }
  const end = axis.x(duration);
  pen.fillStyle = colors('beyond');
  pen.fillRect(end, 0, axis.width - end, height);
  if (!state.range) return;
  pen.fillStyle = colors('range');
  const [from, until] = state.range;
  pen.fillRect(axis.x(from), 0, axis.x(until) - axis.x(from), height);
}

/** The playhead; while recording it is dashed too. */
export function drawPlayhead(pen: Pen, axis: Axis, height: number, { time, recording }: State, colors: Colors): void {
  const x = Math.round(axis.x(time)) + 0.5;
  pen.strokeStyle = colors(recording ? 'record' : 'accent');
  pen.lineWidth = recording ? 2 : 1.5;
  pen.setLineDash(recording ? [5, 3] : []);
  pen.beginPath();
  pen.moveTo(x, 0);
  pen.lineTo(x, height);
  pen.stroke();
  pen.setLineDash([]);
}

/** The area that is marked, `gone` pixels after the view has gone along. */
export function drawMarquee(
  pen: Pen,
  corners: readonly [number, number, number, number] | undefined,
  gone: number,
  colors: Colors,
): void {
  if (!corners) return;
  const [left, top, right, bottom] = corners;
  pen.strokeStyle = colors('accent');
  pen.lineWidth = 1;
  pen.setLineDash([3, 3]);
  pen.strokeRect(left - gone + 0.5, top + 0.5, right - left, bottom - top);
  pen.setLineDash([]);
}

/** The keys of the rows that are seen. */
export function drawRows(
  pen: Pen,
  rows: readonly Row[],
  scrolled: number,
  height: number,
  axis: Axis,
  state: State,
  colors: Colors,
): void {
  const first = Math.max(0, Math.floor(scrolled / ROW));
  const last = Math.min(rows.length, Math.ceil((scrolled + height) / ROW));
  for (let i = first; i < last; i++) {
    const row = rows[i]!;
    const y = i * ROW - scrolled;
    if (row.is !== 'track') {
      pen.fillStyle = colors('band');
      pen.fillRect(0, y, axis.width, ROW);
      drawSummary(pen, row, y + ROW / 2, axis, state, colors);
      continue;
    }
    pen.fillStyle = colors('faint');
    pen.fillRect(0, y + ROW - 1, axis.width, 1);
    if (row.name === state.row) {
      pen.fillStyle = colors('here');
      pen.fillRect(0, y, axis.width, ROW - 1);
    }
    drawKeys(pen, row, y + ROW / 2, axis, state, colors);
  }
}

/** Paths of the keys of one row, with the row at height 0. */
interface Paths {
  readonly place: string;
  readonly chosen: readonly number[] | undefined;
  readonly goes: Path2D;
  readonly stays: Path2D;
  readonly plain: Path2D;
  readonly off: Path2D;
  readonly picked: Path2D;
  readonly frames: readonly KeyView[];
}

const known = new WeakMap<readonly KeyView[], Paths>();

/** Everything of one look is one path, and kept: thousands of keys are a few calls, and only rows that changed are walked. */
function pathsOf({ name, keys }: TrackRow, axis: Axis, state: State): Paths {
  const place = `${axis.x(0)} ${axis.scale} ${axis.width}`;
  const chosen = state.selectedKeys[name];
  const was = known.get(keys);
  if (was?.place === place && was.chosen === chosen) return was;
  // Thousands may be dragged: none of them is looked for.
  const isAll = chosen?.length === keys.length;
  const [goes, stays] = [new Path2D(), new Path2D()];
  const [plain, off, picked] = [new Path2D(), new Path2D(), new Path2D()];
  const frames: KeyView[] = [];
  const right = axis.seconds(axis.width + 20);
  // The segment of the previous key may be visible.
  const start = Math.max(0, firstKeyFrom(keys, axis.seconds(-20)) - 1);
  for (let i = start; i < keys.length && keys[i]!.at <= right; i++) {
    const [key, next] = [keys[i]!, keys[i + 1]];
    const x = axis.x(key.at);
    if (key.frames) frames.push(key);
    else if (next && key.ease !== 'hold' && key.value !== null) {
      const line = key.stays ? stays : goes;
      line.moveTo(x, 0);
      line.lineTo(axis.x(next.at), 0);
    }
    const isOne = isAll || (chosen !== undefined && isSelected(state.selectedKeys, name, key.at));
    addKey(isOne ? picked : key.value === null ? off : plain, key, x);
  }
  const paths = { place, chosen, goes, stays, plain, off, picked, frames };
  known.set(keys, paths);
  return paths;
}

/** Small diamonds where something has a key; filled where something of that moment is selected. */
function drawSummary(pen: Pen, row: SummaryRow, y: number, axis: Axis, state: State, colors: Colors): void {
  const [plain, picked] = [new Path2D(), new Path2D()];
  const { role } = row;
  const tracks = Object.keys(state.selectedKeys).filter((track) => role === undefined || track.startsWith(`${role}.`));
  const right = axis.seconds(axis.width + 20);
  for (let i = firstFrom(row.times, axis.seconds(-20), (at) => at); i < row.times.length; i++) {
    const at = row.times[i]!;
    if (at > right) break;
    const isPicked = tracks.some((track) => isSelected(state.selectedKeys, track, at));
    const path = isPicked ? picked : plain;
    const x = axis.x(at);
    path.moveTo(x, y - 4);
    path.lineTo(x + 4, y);
    path.lineTo(x, y + 4);
    path.lineTo(x - 4, y);
    path.closePath();
  }
  fill(pen, plain, colors('ground'), colors('soft'), 1.2);
  fill(pen, picked, colors('accent'), colors('ink'), 1.5);
}

function drawKeys(pen: Pen, row: TrackRow, y: number, axis: Axis, state: State, colors: Colors): void {
  const paths = pathsOf(row, axis, state);
  pen.translate(0, y);
  for (const key of paths.frames) drawFrames(pen, key, axis.x(key.at), axis, colors);
  // A line where the value changes, dots where it does not, nothing where it is held.
  pen.strokeStyle = colors('soft');
  pen.lineWidth = 2;
  pen.stroke(paths.goes);
  pen.setLineDash([2, 4]);
  pen.stroke(paths.stays);
  pen.setLineDash([]);
  fill(pen, paths.plain, colors('ink'), colors('ground'), 1.2);
  fill(pen, paths.off, colors('ground'), colors('ink'), 1.2);
  if (paths.chosen) fill(pen, paths.picked, colors('accent'), colors('ink'), 2.5);
  pen.translate(0, -y);
}

function fill(pen: Pen, path: Path2D, inside: string, edge: string, width: number): void {
  pen.fillStyle = inside;
  pen.fill(path);
  pen.strokeStyle = edge;
  pen.lineWidth = width;
  pen.stroke(path);
}

/** A row of frames: a bar with a line at each of its frames. */
function drawFrames(pen: Pen, key: KeyView, x: number, axis: Axis, colors: Colors): void {
  const [first, last] = key.frames!;
  const count = Math.abs(last - first) + 1;
  const width = axis.x(key.until!) - x;
  pen.fillStyle = colors('bar');
  pen.fillRect(x, -7, width, 14);
  pen.fillStyle = colors('ground');
  if (width / count >= 4) for (let i = 1; i < count; i++) pen.fillRect(Math.round(x + (width * i) / count), -7, 1, 14);
  pen.fillStyle = colors('ink');
  pen.font = '10px system-ui, sans-serif';
  if (width > 44) pen.fillText(`${first}–${last}`, x + 9, 3.5);
}

/** A diamond for a value that continues, a square for a held one; hollow where a shape is turned off. */
function addKey(path: Path2D, key: KeyView, x: number): void {
  if (key.ease === 'hold') {
    path.rect(x - SIZE + 1, 1 - SIZE, 2 * SIZE - 2, 2 * SIZE - 2);
    return;
  }
  path.moveTo(x, -SIZE - 1);
  path.lineTo(x + SIZE + 1, 0);
  path.lineTo(x, SIZE + 1);
  path.lineTo(x - SIZE - 1, 0);
  path.closePath();
}
