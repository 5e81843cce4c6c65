import { useRef, type PointerEvent as Press } from 'react';
import { parseTime } from 'unspool';
import { markMoved, shown } from '../model/actions.js';
import { isMoment } from '../model/keys.js';
import { finishPreview, showPreview } from '../model/session.js';
import { get, set, shownClip, type ChosenMark } from '../model/store.js';
import { axisOf, ticksOf, type Axis } from './axis.js';
import { Canvas, type Colors } from './Canvas.js';
import { drawPlayhead } from './draw-rows.js';
import { scrub, stretch, type Gesture } from './gestures.js';
import { wheel } from './Rows.js';

/** Of the ruler and, under it, the line of cues and spans. */
const TICKS = 20;
const MARKS = 22;
export const RULER = TICKS + MARKS;

/** A cue or span as it is drawn. */
interface MarkView {
  readonly mark: ChosenMark;
  readonly from: number;
  readonly until: number | undefined;
}

function marksOf(): MarkView[] {
  const now = shown();
  if (!now) return [];
  const read = (time: Parameters<typeof parseTime>[0]) => parseTime(time, now.fps)!;
  const spans = Object.entries(now.clip.spans ?? {}).map(([name, [from, until]]): MarkView => ({ mark: { what: 'span', name }, from: read(from), until: read(until) })); // prettier-ignore
  const cues = (now.clip.cues ?? []).map(({ name, at, until }): MarkView => ({ mark: { what: 'cue', name, at: read(at) }, from: read(at), until: until === undefined ? undefined : read(until) })); // prettier-ignore
  return [...spans, ...cues];
}

function isSame(a: ChosenMark | undefined, b: ChosenMark): boolean {
  return a?.what === b.what && a.name === b.name && (a.what === 'span' || (b.what === 'cue' && isMoment(a.at, b.at)));
}

/** The times of a clip, its cues and spans, the playhead's handle, and the ends of what is chosen, to stretch it by. */
export function Ruler() {
  const gesture = useRef<Gesture>(undefined);
  const at = (event: Press<HTMLCanvasElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    return [event.clientX - box.left, event.clientY - box.top] as const;
  };
  const onPointerDown = (event: Press<HTMLCanvasElement>) => {
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const [x, y] = at(event);
    const axis = axisOf(get().view, event.currentTarget.clientWidth);
    gesture.current = (y > TICKS ? pressMark(axis, x) : pressEnd(axis, x)) ?? scrub(axis);
    gesture.current.move(x, y, event.nativeEvent);
  };
  const letGo = () => {
    gesture.current?.end();
    gesture.current = undefined;
  };
  return (
    <Canvas
      className="ruler"
      data-testid="ruler"
      aria-hidden="true"
      style={{ height: RULER }}
      draw={draw}
      onPointerDown={onPointerDown}
      onPointerMove={(event) => gesture.current?.move(...at(event), event.nativeEvent)}
      onPointerUp={letGo}
      onPointerCancel={() => gesture.current?.cancel()}
      onWheel={(event) => wheel(event, event.currentTarget)}
    />
  );
}

function pressEnd(axis: Axis, x: number): Gesture | undefined {
  const times = Object.values(get().chosen).flat();
  const [first, last] = [Math.min(...times), Math.max(...times)];
  if (!(last > first)) return undefined;
  if (Math.abs(axis.x(last) + 6 - x) < 7) return stretch(axis, x, 'until');
  return Math.abs(axis.x(first) - 6 - x) < 7 ? stretch(axis, x, 'from') : undefined;
}

function pressMark(axis: Axis, x: number): Gesture | undefined {
  const near = marksOf().toReversed().find(({ from, until }) => x >= axis.x(from) - 6 && x <= Math.max(axis.x(from) + 10, axis.x(until ?? from) + 5)); // prettier-ignore
  if (!near) {
    set({ mark: undefined });
    return undefined;
  }
  const { mark, from, until } = near;
  const fps = shown()!.fps;
  const end = until !== undefined && Math.abs(axis.x(until) - x) < 6 ? 'until' : until !== undefined && Math.abs(axis.x(from) - x) < 6 ? 'from' : undefined; // prettier-ignore
  const grabbed = end === 'until' ? until! : from;
  set({ mark, chosen: {} });
  let by = 0;
  return {
    move(to) {
      if (by === 0 && Math.abs(to - x) < 3) return;
      by = Math.round((grabbed + (to - x) / axis.scale) * fps) / fps - grabbed;
      set({ mark });
      showPreview(undefined);
      showPreview(by === 0 ? undefined : markMoved(mark, by, end));
      if (mark.what === 'cue' && end !== 'until') set({ mark: { ...mark, at: mark.at + by } });
    },
    end() {
      if (by !== 0 && !finishPreview()) set({ mark });
    },
    cancel() {
      showPreview(undefined);
      set({ mark });
    },
  };
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
    pen.fillRect(axis.x(state.range[0]), 0, axis.x(state.range[1]) - axis.x(state.range[0]), TICKS);
  }
  for (const { frame, major } of ticksOf(state.view, axis, clip.fps)) {
    const x = axis.x(frame / clip.fps);
    pen.fillStyle = colors(major ? 'soft' : 'line');
    pen.fillRect(Math.round(x), major ? 12 : 15, 1, TICKS - (major ? 12 : 15));
    pen.fillStyle = colors('soft');
    if (major)
      centred(pen, state.inSeconds ? Number((frame / clip.fps).toFixed(3)).toString() : String(frame), x, 10, width);
  }
  pen.fillStyle = colors('line');
  pen.fillRect(0, TICKS, width, 1);
  for (const view of marksOf()) drawMark(pen, view, axis, isSame(state.mark, view.mark), colors);
  drawEnds(pen, axis, colors);
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

function centred(pen: CanvasRenderingContext2D, text: string, x: number, y: number, width: number): void {
  const half = pen.measureText(text).width / 2;
  pen.fillText(text, Math.min(width - 2 * half, Math.max(0, x - half)), y);
}

/** A cue is a flag on a pole, from one time to another a bar between two poles; a span a bracket. */
function drawMark(
  pen: CanvasRenderingContext2D,
  { mark, from, until }: MarkView,
  axis: Axis,
  chosen: boolean,
  colors: Colors,
): void {
  const [top, bottom] = [TICKS + 2, RULER - 1];
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
  pen.fillText(mark.name, x + (end === undefined ? 10 : 4), isSpan ? bottom - 3 : top + 11);
}

/** Brackets at the first and the last of the chosen keys. */
function drawEnds(pen: CanvasRenderingContext2D, axis: Axis, colors: Colors): void {
  const times = Object.values(get().chosen).flat();
  const [first, last] = [Math.min(...times), Math.max(...times)];
  if (!(last > first)) return;
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
