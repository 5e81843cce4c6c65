import { goTo, selectedRange } from '../model/actions.js';
import { get, set, shownClip, useStore } from '../model/store.js';
import { axisOf, ticksOf, type Axis } from '../model/axis.js';
import { Canvas } from './Canvas.js';
import type { Colors } from './colors.js';
import { drawPlayhead } from './draw-rows.js';
import { dragEnd, dragRange, markRange, scrub, type Gesture } from './gestures.js';
import { CUES, isSameMark, marksOf, PARTS, pressMark, type MarkView } from './marks.js';
import { BARS } from '../link/sounds.js';
import { cueSounds, type CueSound } from './cue-sounds.js';
import { wheel } from './Rows.js';
import { useGesture } from './use-gesture.js';

/** The ruler itself; the lines of cues, spans and parts are under it. */
const TICKS = 20;
/** How far the tab at the end of the clip reaches, in pixels. */
const END = 12;

/** The ruler: times, cues and spans, the playhead's handle, and brackets around the selection to scale its times. */
export function Ruler() {
  const hasParts = useStore(({ doc, clip }) => (doc?.clips[clip ?? '']?.parts?.length ?? 0) > 0);
  const { on } = useGesture((x, y, event) => {
    const axis = axisOf(get().view, event.currentTarget.clientWidth);
    const onMark = y > TICKS;
    const gesture = (onMark ? pressMark(axis, x, y - TICKS) : pressTicks(axis, x, event.shiftKey)) ?? scrub(axis);
    gesture.move(x, y, event.nativeEvent);
    return gesture;
  });
  return (
    <Canvas
      className="ruler"
      data-testid="ruler"
      aria-hidden="true"
      style={{ height: TICKS + CUES + (hasParts ? PARTS : 0) }}
      draw={draw}
      {...on}
      onWheel={(event) => wheel(event, event.currentTarget)}
    />
  );
}

/** What is held on the ruler: brackets of the selected keys, the end of the clip, an end of the range; with Shift a new one. */
function pressTicks(axis: Axis, x: number, isNew: boolean): Gesture | undefined {
  if (isNew) return markRange(axis, x);
  const selected = selectedRange();
  if (selected) {
    const [first, last] = selected;
    if (Math.abs(axis.x(last) + 6 - x) < 7) return dragRange(axis, x, 'until');
    if (Math.abs(axis.x(first) - 6 - x) < 7) return dragRange(axis, x, 'from');
  }
  const clip = shownClip(get());
  const end = clip && axis.x(clip.duration);
  if (end !== undefined && x > end + 1 && x < end + END) return dragEnd(axis, x);
  const { range, time } = get();
  // The playhead lies above an end of the range.
  if (!range || Math.abs(axis.x(time) - x) < 5) return undefined;
  const [from, until] = range;
  if (Math.abs(axis.x(until) - x) < 5) return markRange(axis, x, from);
  return Math.abs(axis.x(from) - x) < 5 ? markRange(axis, x, until) : undefined;
}

function draw(pen: CanvasRenderingContext2D, width: number, height: number, colors: Colors): void {
  const state = get();
  const clip = shownClip(state);
  if (!clip) return;
  const axis = axisOf(state.view, width);
  pen.font = '11px system-ui, sans-serif';
  const end = axis.x(clip.duration);
  pen.fillStyle = colors('beyond');
  pen.fillRect(end, 0, width - end, height);
  if (state.range) {
    pen.fillStyle = colors('range');
    const [from, until] = state.range.map(axis.x) as [number, number];
    pen.fillRect(from, 0, until - from, TICKS);
    pen.fillStyle = colors('accent');
    for (const at of [from, until]) pen.fillRect(at - 1, 0, 2, TICKS);
  }
  for (const { frame, major } of ticksOf(state.view, axis, clip.fps)) {
    const x = axis.x(frame / clip.fps);
    pen.fillStyle = colors(major ? 'soft' : 'line');
    pen.fillRect(Math.round(x), major ? 12 : 15, 1, TICKS - (major ? 12 : 15));
    pen.fillStyle = colors('soft');
    if (major)
      centerd(pen, state.inSeconds ? Number((frame / clip.fps).toFixed(3)).toString() : String(frame), x, 10, width);
  }
  pen.fillStyle = colors('line');
  pen.fillRect(0, TICKS, width, 1);
  for (const one of cueSounds()) drawWaveform(pen, one, axis, colors);
  for (const view of marksOf()) {
    const chosen = isSameMark(state.selectedMark, view.mark);
    if (view.mark.what === 'part') drawPart(pen, view, axis, chosen, colors);
    else drawMark(pen, view, axis, chosen, colors);
  }
  drawEnds(pen, axis, colors);
  drawClipEnd(pen, end, colors);
  drawPlayhead(pen, axis, height, state, colors);
  const x = axis.x(state.time);
  pen.fillStyle = colors(state.recording ? 'record' : 'accent');
  pen.beginPath();
  pen.moveTo(x - 6, 0);
  pen.lineTo(x + 6, 0);
  pen.lineTo(x + 6, 7);
  pen.lineTo(x, 13);
  pen.lineTo(x - 6, 7);
  pen.fill();
}

function centerd(pen: CanvasRenderingContext2D, text: string, x: number, y: number, width: number): void {
  const half = pen.measureText(text).width / 2;
  pen.fillText(text, Math.min(width - 2 * half, Math.max(0, x - half)), y);
}

/** The waveform of the sound of a cue, from its moment on. */
function drawWaveform(pen: CanvasRenderingContext2D, { at, sound }: CueSound, axis: Axis, colors: Colors): void {
  const middle = TICKS + CUES / 2 + 2;
  pen.fillStyle = colors('accent');
  pen.globalAlpha = 0.45;
  const { peaks } = sound;
  const right = Math.min(axis.width, axis.x(at + peaks.length / BARS));
  for (let x = Math.max(0, axis.x(at)); x < right; x++) {
    // The loudest of all bars in this pixel.
    const [from, until] = [axis.seconds(x), axis.seconds(x + 1)].map((time) => Math.floor((time - at) * BARS));
    let most = 0;
    for (let i = Math.max(0, from!); i <= until! && i < peaks.length; i++) most = Math.max(most, peaks[i]!);
    const half = Math.max(0.5, most * (CUES / 2 - 3));
    pen.fillRect(x, middle - half, 1, 2 * half);
  }
  pen.globalAlpha = 1;
}

/** A cue is a flag on a pole, from one time to another a bar between two poles; a span a bracket. */
function drawMark(
  pen: CanvasRenderingContext2D,
  { mark, from, until }: MarkView,
  axis: Axis,
  chosen: boolean,
  colors: Colors,
): void {
  const [top, bottom] = [TICKS + 2, TICKS + CUES - 1];
  const [x, end] = [axis.x(from), until === undefined ? undefined : axis.x(until)];
  const isSpan = mark.what === 'span';
  pen.strokeStyle = pen.fillStyle = colors(chosen ? 'accent' : isSpan ? 'soft' : 'ink');
  pen.lineWidth = chosen ? 2.5 : 1.5;
  pen.beginPath();
  if (isSpan) {
    pen.moveTo(x, bottom - 4);
    pen.lineTo(x, bottom);
    pen.lineTo(end!, bottom);
    pen.lineTo(end!, bottom - 4);
  } else {
    pen.moveTo(x, top);
    pen.lineTo(x, bottom);
    if (end !== undefined) {
      pen.moveTo(end, top);
      pen.lineTo(end, bottom);
      pen.fillStyle = colors('range');
      pen.fillRect(x, top, end - x, 12);
    } else {
      pen.moveTo(x, top);
      pen.lineTo(x + 8, top + 4);
      pen.lineTo(x, top + 8);
    }
  }
  pen.stroke();
  if (!isSpan && end === undefined) pen.fill();
  pen.fillStyle = colors('ink');
  pen.font = `${chosen ? '600 ' : ''}11px system-ui, sans-serif`;
  const left = x + (end === undefined ? 10 : 4);
  // After the last moment of a clip there is no space on the right.
  const before = left + pen.measureText(mark.name).width > axis.width ? x - 4 - pen.measureText(mark.name).width : left;
  pen.fillText(mark.name, before, isSpan ? bottom - 3 : top + 9);
}

/** A part is a bar of its own line. */
function drawPart(
  pen: CanvasRenderingContext2D,
  { mark, from, until }: MarkView,
  axis: Axis,
  chosen: boolean,
  colors: Colors,
): void {
  const top = TICKS + CUES;
  const [x, width] = [axis.x(from), axis.x(until!) - axis.x(from)];
  pen.fillStyle = colors('bar');
  pen.fillRect(x, top, width, PARTS - 3);
  pen.strokeStyle = colors(chosen ? 'accent' : 'soft');
  pen.lineWidth = chosen ? 2.5 : 1;
  pen.strokeRect(x, top, width, PARTS - 3);
  pen.fillStyle = colors('ink');
  pen.fillText(mark.name, x + 5, top + 11);
}

/** Brackets at the first and the last selected key. */
function drawEnds(pen: CanvasRenderingContext2D, axis: Axis, colors: Colors): void {
  const range = selectedRange();
  if (!range) return;
  const [first, last] = range;
  pen.strokeStyle = colors('accent');
  pen.lineWidth = 2;
  for (const [x, out] of [
    [axis.x(first) - 4, -5],
    [axis.x(last) + 4, 5],
  ] as const) {
    pen.beginPath();
    pen.moveTo(x + out * 0.2, 3);
    pen.lineTo(x + out, 3);
    pen.lineTo(x + out, TICKS - 3);
    pen.lineTo(x + out * 0.2, TICKS - 3);
    pen.stroke();
  }
}

/** The tab after the last frame, by which the clip is made longer or shorter. */
function drawClipEnd(pen: CanvasRenderingContext2D, end: number, colors: Colors): void {
  pen.fillStyle = colors('soft');
  pen.fillRect(end, 11, 2, TICKS - 11);
  pen.beginPath();
  pen.moveTo(end + 2, 11);
  pen.lineTo(end + END - 3, 15);
  pen.lineTo(end + 2, 19);
  pen.fill();
}

/** The cues, spans and parts by their names: for the keyboard, and those who do not see the canvas. */
export function MarkList() {
  const mark = useStore((state) => state.selectedMark);
  // What marks are made of; an edit of keys leaves these as they are.
  useStore(({ doc, clip }) => doc?.clips[clip ?? '']?.cues);
  useStore(({ doc, clip }) => doc?.clips[clip ?? '']?.spans);
  useStore(({ doc, clip }) => doc?.clips[clip ?? '']?.parts);
  const marks = marksOf();
  if (marks.length === 0) return <span>cues, spans</span>;
  const index = marks.findIndex((one) => isSameMark(mark, one.mark));
  const choose = (value: string) => {
    const chosen = marks[Number(value)];
    if (!chosen) return;
    goTo(chosen.from, false);
    set({ selectedMark: chosen.mark, selectedKeys: {} });
  };
  return (
    <select
      aria-label="Cues, spans and parts"
      value={index < 0 ? '' : index}
      onChange={({ currentTarget }) => choose(currentTarget.value)}
    >
      <option value="">cues, spans ({marks.length})</option>
      {marks.map(({ mark: { what, name } }, i) => (
        <option key={i} value={i}>
          {what} {name}
        </option>
      ))}
    </select>
  );
}
