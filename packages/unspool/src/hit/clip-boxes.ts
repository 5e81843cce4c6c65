import type { Clip } from '../clip/clip.js';
import type { Playback } from '../play/drive/playback.js';
import { rootPlace, type RootPlace } from '../play/pose/place-root.js';
import { Core } from '../shape/core.js';
import { cosine, sine } from '../easing/sine.js';
import { boxOf, grow, includePoint } from './boxes.js';
import { ClipNumbers, RigMotion } from './moving-shape.js';
import type { Rig } from './rig.js';
import { TOLERANCE } from './sweep.js';

/** A clip is cut into so many slices. */
const SLICES = 48;
/** Seconds that a playhead may be shown off the time that its speed gives. */
const OFF = 1e-6;
const HERE = rootPlace(0, 0, 0, 1, 1);
const RADIANS = Math.PI / 180;
const CORE = new Core();
/** Numbers that are passed on would be boxed. */
const RANGE = new Float64Array(2);

/**
 * The boxes that a shape of a clip stays in, slice by slice, while the clip plays alone in a cast that is not placed:
 * worked out once for all who play it, when somebody first comes there.
 */
class ClipBoxes {
  readonly #motion: RigMotion;
  readonly #boxes = new Float64Array(4 * SLICES).fill(NaN);

  constructor(
    readonly clip: Clip,
    rig: Rig,
  ) {
    this.#motion = new RigMotion(rig, new ClipNumbers(clip, rig));
  }

  /** Extends a box by all the slices between the two times inside the clip in `RANGE`. */
  include(box: Float64Array): void {
    const each = this.clip.duration / SLICES;
    const first = Math.max(0, Math.floor((RANGE[0]! - OFF) / each));
    const last = Math.min(SLICES - 1, Math.floor((RANGE[1]! + OFF) / each));
    for (let i = first; i <= last; i++) {
      if (Number.isNaN(this.#boxes[4 * i])) this.#find(i, each);
      includePoint(box, this.#boxes[4 * i]!, this.#boxes[4 * i + 1]!, 0);
      includePoint(box, this.#boxes[4 * i + 2]!, this.#boxes[4 * i + 3]!, 0);
    }
  }

  #find(i: number, each: number): void {
    const box = this.#boxes.subarray(4 * i, 4 * i + 4);
    const until = Math.min(this.clip.duration, (i + 1) * each);
    const from = Math.min(i * each, until);
    this.#motion.put(from, HERE, CORE);
    boxOf(CORE, box);
    grow(box, this.#motion.farthest(from, until, HERE, HERE, 0, 0) + TOLERANCE);
  }
}

const known = new WeakMap<Clip, Map<Rig, ClipBoxes>>();

function clipBoxesOf(clip: Clip, rig: Rig): ClipBoxes {
  let all = known.get(clip);
  if (!all) known.set(clip, (all = new Map<Rig, ClipBoxes>()));
  let boxes = all.get(rig);
  if (!boxes) all.set(rig, (boxes = new ClipBoxes(clip, rig)));
  return boxes;
}

/** The box in a cast that is not placed. */
const OWN = new Float64Array(4);

/**
 * Writes the box in which a shape stays while its clip plays on alone, until its next moment.
 *
 * @param of how many seconds that are
 * @returns false where that cannot be said: the box is as it was
 */
export function findPlayed(
  playback: Playback,
  rig: Rig,
  of: { readonly ahead: number },
  start: RootPlace,
  end: RootPlace,
  box: Float64Array,
): boolean {
  const { head, clip, settings, isRunning } = playback;
  if (settings.every > 0 || !isPlain(start) || !isPlain(end) || !(clip.duration > 0)) return false;
  for (let k = 2; k < start.length; k++) if (start[k] !== end[k]) return false;
  const way = isRunning && playback.state === 'running' ? head.speed * of.ahead : 0;
  OWN[0] = OWN[1] = Infinity;
  OWN[2] = OWN[3] = -Infinity;
  RANGE[0] = head.shown + Math.min(0, way);
  RANGE[1] = head.shown + Math.max(0, way);
  clipBoxesOf(clip, rig).include(OWN);
  // As the cast is placed: scaled, then rotated about its place.
  let cos = 1;
  let sin = 0;
  if (start[2] !== 0) {
    const angle = (start[2] % 360) * RADIANS;
    cos = cosine(angle);
    sin = sine(angle);
  }
  const x = ((OWN[0] + OWN[2]) / 2) * start[3];
  const y = ((OWN[1] + OWN[3]) / 2) * start[4];
  const halfX = ((OWN[2] - OWN[0]) / 2) * Math.abs(start[3]);
  const halfY = ((OWN[3] - OWN[1]) / 2) * Math.abs(start[4]);
  const acrossX = (halfX * Math.abs(cos) + halfY * Math.abs(sin)) * (1 + 1e-9) + TOLERANCE;
  const acrossY = (halfX * Math.abs(sin) + halfY * Math.abs(cos)) * (1 + 1e-9) + TOLERANCE;
  const middleX = x * cos - y * sin;
  const middleY = x * sin + y * cos;
  box[0] = Math.min(start[0], end[0]) + middleX - acrossX;
  box[1] = Math.min(start[1], end[1]) + middleY - acrossY;
  box[2] = Math.max(start[0], end[0]) + middleX + acrossX;
  box[3] = Math.max(start[1], end[1]) + middleY + acrossY;
  return true;
}

/** Whether a placement treats everything of a root alike: an uneven scale acts before the rotation of a root. */
function isPlain(place: RootPlace): boolean {
  const isWhole = place[5] === place[2] && place[6] === place[3] && place[7] === place[4];
  return isWhole && Math.abs(place[3]) === Math.abs(place[4]);
}
