import { mustBeReel } from '../clip/expect.js';
import type { Clip } from '../clip/clip.js';
import type { ShapeActivation } from '../clip/compiled.js';
import type { Reel } from '../clip/reel.js';
import { adviceOf, type Diagnostic } from '../reel/diagnostics/diagnostic.js';
import { TextLocations } from '../reel/diagnostics/text-locations.js';
import { shapeOf } from './moving-shape.js';
import { edgeOf, type Rounded } from '../shape/rounded.js';

/** Options of `adviseShapes`. */
export interface AdviceOptions {
  /** The text that the reel was read from, for lines and columns. */
  readonly text?: string;
  /** How diagnostics name the document: usually its file. */
  readonly source?: string;
}

/**
 * Returns advice on likely mistakes with the shapes of a reel: a shape without a size, active for less than a frame,
 * without data or a cue, or moving further per frame than it is long. The reel plays as it is.
 */
export function adviseShapes(reel: Reel, { text, source }: AdviceOptions = {}): Diagnostic[] {
  mustBeReel(reel);
  // Clips are compiled on first use: without shapes none needs to be.
  if (Object.keys(reel.facts.shapes).length === 0) return [];
  const outline = text === undefined ? undefined : new TextLocations(text);
  return Object.values<Clip>(reel.clips).flatMap((clip) => {
    // Parts are checked where they are written; each shape is reported once.
    const own = (shape: string) => trackOf(reel, clip, shape);
    const reported = new Set<string>();
    return clip.activations.flatMap((activation): Diagnostic[] => {
      const track = own(activation.shape);
      if (track === undefined) return [];
      const path = ['clips', clip.name, 'tracks', track];
      return oddities(clip, activation).flatMap(([code, message, hint]): Diagnostic[] => {
        if (reported.has(code + activation.shape)) return [];
        reported.add(code + activation.shape);
        return [adviceOf({ code: `shape/${code}`, path, of: 'name', message, hint }, outline, source)];
      });
    });
  });
}

/** The track of a clip that animates a shape, or the first property of it. */
function trackOf({ document }: Reel, { name }: Clip, shape: string): string | undefined {
  const names = Object.keys(document.clips[name]?.tracks ?? {});
  return names.find((one) => one === shape || one.startsWith(`${shape}.`));
}

type Oddity = readonly [code: string, message: string, hint: string];

function oddities(clip: Clip, activation: ShapeActivation): Oddity[] {
  const { shape: name, at, until } = activation;
  const { fps, cues, facts } = clip;
  const { tag, data = undefined } = facts.shapes[name]!;
  const found: Oddity[] = [];
  const formatSeconds = (seconds: number) => `${Number((seconds * fps).toFixed(2))}f`;
  if (until - at < 1 / fps - 1e-9) {
    const long = `${name} is active for ${formatSeconds(until - at)} from ${formatSeconds(at)}, less than one frame`;
    found.push(['short', long, 'it still hits; make it longer if a frame should show it']);
  }
  const heard = cues.some((cue) => cue.at <= until && (cue.until ?? cue.at) >= at);
  if (tag === 'hits' && activation.data === undefined && data === undefined && !heard) {
    const message = `${name} hits from ${formatSeconds(at)} to ${formatSeconds(until)} without data or a cue`;
    found.push(['silent', message, 'add "data" to the shape or its key, or add a cue']);
  }
  const moving = shapeOf(clip, name);
  const times = [at];
  for (let frame = Math.floor(at * fps) + 1; frame / fps < until; frame++) times.push(frame / fps);
  const shapes = times.map((time) => moving.at(time));
  if (shapes.every((one) => !hasSize(one)))
    found.push(['no-size', `${name} is active from ${formatSeconds(at)} but has no size`, 'key its size or radius']);
  for (let i = 1; i < shapes.length; i++) {
    const [size, way] = [extent(shapes[i - 1]!), gap(shapes[i - 1]!, shapes[i]!)];
    if (way <= size || size === 0) continue;
    const message = `${name} moves ${round(way)} units from ${formatSeconds(times[i - 1]!)} to ${formatSeconds(times[i]!)}, but is only ${round(size)} long`;
    found.push(['jump', message, 'it hits everything on the way; check for a missing key, or use the easing "hold"']);
    break;
  }
  return found;
}

const round = (n: number) => Number(n.toPrecision(3));

/** Whether it covers anything: a line does not. */
function hasSize({ corners, radius, arc }: Rounded): boolean {
  if (radius > 0 || arc) return true;
  if (corners.length < 3) return false;
  const [[ax, ay], [bx, by], [cx, cy]] = [corners[0]!, corners[1]!, corners[2]!];
  return Math.abs((bx - ax) * (cy - by) - (by - ay) * (cx - bx)) > 0;
}

/** The longest way through it. */
function extent(shape: Rounded): number {
  const { radius } = shape;
  const corners = shape.arc ? edgeOf(shape) : shape.corners;
  const ways = corners.flatMap(([x, y], i) => corners.slice(i).map(([u, v]) => Math.hypot(u - x, v - y)));
  return Math.max(...ways) + 2 * radius;
}

function gap(a: Rounded, b: Rounded): number {
  const middle = ({ corners }: Rounded, k: 0 | 1) => corners.reduce((sum, one) => sum + one[k], 0) / corners.length;
  return Math.hypot(middle(b, 0) - middle(a, 0), middle(b, 1) - middle(a, 1));
}
