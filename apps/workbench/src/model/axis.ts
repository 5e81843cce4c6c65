import { scaleLinear } from 'd3-scale';

/** Room at both ends of the time axis, in pixels. */
export const PAD = 14;
/** How far the view and the playhead go: this many times the clip. */
export const FAR = 3;
/** What can be seen at least: one frame and a little. */
const LEAST_FRAMES = 1.5;

/** The part of time that is seen, in seconds. */
export interface View {
  readonly from: number;
  readonly until: number;
}

export interface Axis {
  readonly width: number;
  /** Pixels of a time in seconds. */
  readonly x: (seconds: number) => number;
  readonly seconds: (x: number) => number;
  /** Pixels a second. */
  readonly scale: number;
}

export function axisOf({ from, until }: View, width: number): Axis {
  const scale = scaleLinear([from, until], [PAD, Math.max(PAD + 1, width - PAD)]);
  const perSecond = (width - 2 * PAD) / (until - from);
  return { width, x: scale, seconds: (x) => scale.invert(x), scale: perSecond };
}

export function wholeOf(duration: number, fps: number): View {
  return { from: 0, until: Math.max(duration, LEAST_FRAMES / fps) };
}

/** The view zoomed by a factor about a time, between one frame and three times the clip. */
export function zoomed({ from, until }: View, factor: number, about: number, duration: number, fps: number): View {
  const length = Math.min(
    Math.max(duration, LEAST_FRAMES / fps) * FAR,
    Math.max(LEAST_FRAMES / fps, (until - from) * factor),
  );
  const share = (about - from) / (until - from);
  return moved({ from: about - share * length, until: about + (1 - share) * length }, 0, duration);
}

/** The view moved by seconds; it does not leave the clip behind. */
export function moved({ from, until }: View, by: number, duration: number): View {
  const length = until - from;
  const start = Math.min(Math.max(0, from + by), Math.max(0, duration * FAR - length));
  return { from: start, until: start + length };
}

/** How many frames from one mark to the next. */
const STEPS: readonly number[] = [1, 2, 5, 10, 30, 60, 120, 300, 600, 3000, 6000];

/** Rounded up to a whole number of thousands. */
const wholeStep = (frames: number) => 6000 * Math.ceil(frames / 6000);

/** Frames with a mark, and those with a number, spaced so that neither are too close. */
export function ticksOf(
  { from, until }: View,
  axis: Axis,
  fps: number,
): { readonly frame: number; readonly major: boolean }[] {
  const perFrame = axis.scale / fps;
  // However long a clip is, marks are at least 6 px apart, and numbers 34.
  const step = STEPS.find((one) => one * perFrame >= 6) ?? wholeStep(6 / perFrame);
  const labelled =
    STEPS.find((one) => one % step === 0 && one * perFrame >= 34) ?? step * Math.ceil(34 / (step * perFrame));
  const [first, last] = [Math.ceil((from * fps) / step - 1e-6), Math.floor((until * fps) / step + 1e-6)];
  return Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => {
    const frame = (first + i) * step;
    return { frame, major: frame % labelled === 0 };
  });
}
