import type { Clip, Slot } from 'unspool';
import { isSelected } from '../model/actions.js';
import type { TrackRow } from '../model/rows.js';
import type { State } from '../model/store.js';
import type { Axis } from '../model/axis.js';
import type { Colors } from './colors.js';
import type { Box } from './curve-box.js';
import { curvesOf, gripsOf, type Curve, type Drawn, type Grip } from './curve.js';

const PAD = 16;
export function drawCurves(
  pen: CanvasRenderingContext2D,
  rows: readonly TrackRow[],
  clip: Clip,
  axis: Axis,
  height: number,
  speed: boolean,
  state: State,
  colors: Colors,
): Drawn {
  const curves = curvesOf(rows);
  const { lines, slots } = sampled(curves, clip, axis);
  const [low, high] = rangeOf(lines, slots);
  const y = (value: number) => height - PAD - ((value - low) / (high - low)) * (height - 2 * PAD);
  const value = (at: number) => low + ((height - PAD - at) / (height - 2 * PAD)) * (high - low);
  if (curves.length > 0) drawLevels(pen, low, high, y, axis.width, colors);
  const base = state.clip === undefined ? undefined : state.previewOf?.clip(state.clip);
  if (base) drawBase(pen, sampleLines(curves, base, axis).lines, y, colors);
  lines.forEach((line, k) => {
    pen.strokeStyle = colors(`curve-${k % 4}`);
    pen.lineWidth = 1.8;
    pen.setLineDash([...curves[k]!.dash]);
    pen.beginPath();
    line.forEach((n, i) => pen.lineTo(i * 2, y(n)));
    pen.stroke();
    pen.setLineDash([]);
    if (speed) drawSpeed(pen, line, axis, height, colors(`curve-${k % 4}`));
  });
  const grips = curves.flatMap((curve, k) => (slots[k] ? gripsOf(curve, state) : []));
  const drawn: Drawn = { axis, y, value, grips };
  for (const grip of grips) drawGrip(pen, grip, drawn, state, colors);
  return drawn;
}

interface Lines {
  readonly key: string;
  readonly clip: Clip;
  readonly lines: readonly Float64Array[];
  readonly slots: readonly (Slot | undefined)[];
}

let last: Lines | undefined;

/** The values of curves at every other pixel; kept while clip and view are the same. */
function sampled(curves: readonly Curve[], clip: Clip, axis: Axis): Lines {
  const key = [axis.width, axis.seconds(0), axis.scale, ...curves.map(({ label }) => label)].join();
  if (last?.clip === clip && last.key === key) return last;
  return (last = { key, clip, ...sampleLines(curves, clip, axis) });
}

function sampleLines(curves: readonly Curve[], clip: Clip, axis: Axis): Pick<Lines, 'lines' | 'slots'> {
  const columns = Math.max(2, Math.floor(axis.width / 2) + 1);
  const pose = clip.createPose();
  const lines = curves.map(() => new Float64Array(columns));
  const slots = curves.map(({ row }) => clip.layout.find(row.property));
  for (let i = 0; i < columns; i++) {
    clip.sampleInside(Math.min(clip.duration, Math.max(0, axis.seconds(i * 2))), pose);
    slots.forEach((slot, k) => (lines[k]![i] = slot ? pose.values[slot.offset + curves[k]!.channel]! : 0));
  }
  return { lines, slots };
}

/** What there is without the preview: thin and pale under it. */
function drawBase(
  pen: CanvasRenderingContext2D,
  lines: readonly Float64Array[],
  y: (value: number) => number,
  colors: Colors,
): void {
  pen.strokeStyle = colors('soft');
  pen.lineWidth = 3.5;
  pen.globalAlpha = 0.35;
  for (const line of lines) {
    pen.beginPath();
    line.forEach((n, i) => pen.lineTo(i * 2, y(n)));
    pen.stroke();
  }
  pen.globalAlpha = 1;
}

function rangeOf(lines: readonly Float64Array[], slots: readonly (Slot | undefined)[]): readonly [number, number] {
  let [low, high] = [Infinity, -Infinity];
  lines.forEach((line, k) => slots[k] && line.forEach((n) => ((low = Math.min(low, n)), (high = Math.max(high, n)))));
  if (!(low <= high)) return [0, 1];
  const room = (high - low) * 0.08 || Math.max(0.5, Math.abs(high) * 0.1);
  return [low - room, high + room];
}

/** Lines at round values. */
function drawLevels(
  pen: CanvasRenderingContext2D,
  low: number,
  high: number,
  y: (value: number) => number,
  width: number,
  colors: Colors,
): void {
  const rough = (high - low) / 4;
  const size = 10 ** Math.floor(Math.log10(rough));
  const step = [1, 2, 5, 10].map((n) => n * size).find((n) => n >= rough)!;
  pen.font = '10px system-ui, sans-serif';
  for (let n = Math.ceil(low / step) * step; n <= high; n += step) {
    pen.fillStyle = colors(Math.abs(n) < step / 1e6 ? 'soft' : 'line');
    pen.fillRect(0, Math.round(y(n)), width, 1);
    pen.fillStyle = colors('soft');
    pen.fillText(String(Number(n.toPrecision(6))), 3, Math.round(y(n)) - 3);
  }
}

/** How fast a value changes, on a scale of its own: still in the middle, up is more. */
function drawSpeed(
  pen: CanvasRenderingContext2D,
  line: Float64Array,
  { scale }: Axis,
  height: number,
  color: string,
): void {
  const speeds = line.map((n, i) => (i === 0 ? 0 : (n - line[i - 1]!) * (scale / 2)));
  const most = speeds.reduce((best, n) => Math.max(best, Math.abs(n)), 0) || 1;
  pen.strokeStyle = color;
  pen.globalAlpha = 0.45;
  pen.lineWidth = 1;
  pen.beginPath();
  speeds.forEach((n, i) => i > 0 && pen.lineTo(i * 2, height / 2 - (n / most) * (height / 2 - PAD)));
  pen.stroke();
  pen.globalAlpha = 1;
}

/** The box around the selected keys, with a knob at the middle of each side. */
export function drawBox(pen: CanvasRenderingContext2D, box: Box | undefined, colors: Colors): void {
  if (!box) return;
  const { left, right, top, bottom } = box;
  pen.strokeStyle = colors('accent');
  pen.lineWidth = 1;
  pen.setLineDash([5, 3]);
  pen.strokeRect(left, top, right - left, bottom - top);
  pen.setLineDash([]);
  pen.fillStyle = colors('accent');
  const [x, y] = [(left + right) / 2, (top + bottom) / 2];
  for (const [a, b] of [
    [left, y],
    [right, y],
    [x, top],
    [x, bottom],
  ] as const)
    pen.fillRect(a - 3, b - 3, 6, 6);
}

function drawGrip(pen: CanvasRenderingContext2D, grip: Grip, { axis, y }: Drawn, state: State, colors: Colors): void {
  const [x, at] = [axis.x(grip.at), y(grip.value)];
  const isKey = grip.form === 'key';
  if (!isKey) {
    pen.strokeStyle = colors('soft');
    pen.lineWidth = 1;
    pen.beginPath();
    pen.moveTo(axis.x(grip.from.at), y(grip.from.value));
    pen.lineTo(x, at);
    pen.stroke();
  }
  pen.beginPath();
  if (isKey) {
    pen.moveTo(x, at - 5);
    pen.lineTo(x + 5, at);
    pen.lineTo(x, at + 5);
    pen.lineTo(x - 5, at);
    pen.closePath();
  } else pen.arc(x, at, 4, 0, 2 * Math.PI);
  const chosen = isKey && isSelected(state.selectedKeys, grip.curve.row.name, grip.key.at);
  pen.fillStyle = isKey ? colors(chosen ? 'accent' : 'ink') : colors('ground');
  pen.fill();
  pen.lineWidth = 1.5;
  pen.strokeStyle = colors(isKey ? 'ground' : 'accent');
  pen.stroke();
}
