import type { Clip } from '../clip/clip.js';
import type { Playback } from '../play/drive/playback.js';
import { rootPlace, type RootPlace } from '../play/pose/place-root.js';
import { Core } from '../shape/core.js';
import { cosine, sine } from '../easing/sine.js';
import { boxOf, grow, includePoint } from './boxes.js';
import { ClipNumbers, RigMotion } from './moving-shape.js';
import type { Rig } from './rig.js';
import { TOLERANCE } from './sweep.js';

/** A clip is cut into so many stretches. */
const STRETCHES = 48;
/** Seconds that a playhead may be shown off the time that its speed gives. */
const OFF = 1e-6;
const HERE = rootPlace(0, 0, 0, 1, 1);
const RADIANS = Math.PI / 180;
const CORE = new Core();

/**
 * The boxes that a shape of a clip stays in, stretch by stretch, while the clip plays alone in a cast that is not placed:
 * worked out once for all who play it, when somebody first comes there.
 */
class ClipBoxes {
  readonly #motion: RigMotion;
  readonly #boxes = new Float64Array(4 * STRETCHES).fill(NaN);

  constructor(
    readonly clip: Clip,
    rig: Rig,
  ) {
    this.#motion = new RigMotion(rig, new ClipNumbers(clip, rig));
  }

  /** Extends a box by all the stretches between two times inside the clip. */
  include(from: number, until: number, box: Float64Array): void {
    const each = this.clip.duration / STRETCHES;
    const first = Math.max(0, Math.floor((from - OFF) / each));
    const last = Math.min(STRETCHES - 1, Math.floor((until + OFF) / each));
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
  if (!all) known.set(clip, (all = new Map()));
  let boxes = all.get(rig);
  if (!boxes) all.set(rig, (boxes = new ClipBoxes(clip, rig)));
  return boxes;
}

/** The box in a cast that is not placed. */
const OWN = new Float64Array(4);

/**
 * Extends a box by where a shape may be while its clip plays on alone, until its next moment.
 *
 * @param ahead seconds until then
 * @returns false where that cannot be said: the box is as it was
 */
export function includePlayed(
  playback: Playback,
  rig: Rig,
  ahead: number,
  start: RootPlace,
  end: RootPlace,
  box: Float64Array,
): boolean {
  const { head, clip, settings, isRunning } = playback;
  if (settings.every > 0 || !isPlain(start) || !isPlain(end) || !(clip.duration > 0)) return false;
  for (let k = 2; k < start.length; k++) if (start[k] !== end[k]) return false;
  const way = isRunning && playback.state === 'running' ? head.speed * ahead : 0;
  OWN[0] = OWN[1] = Infinity;
  OWN[2] = OWN[3] = -Infinity;
  clipBoxesOf(clip, rig).include(head.shown + Math.min(0, way), head.shown + Math.max(0, way), OWN);
  // As the cast is placed: scaled, then rotated about its place.
  const angle = (start[2] % 360) * RADIANS;
  const [cos, sin] = [Math.abs(cosine(angle)), Math.abs(sine(angle))];
  const halfX = ((OWN[2]! - OWN[0]!) / 2) * Math.abs(start[3]);
  const halfY = ((OWN[3]! - OWN[1]!) / 2) * Math.abs(start[4]);
  const [x, y] = [((OWN[0]! + OWN[2]!) / 2) * start[3], ((OWN[1]! + OWN[3]!) / 2) * start[4]];
  const middleX = x * cosine(angle) - y * sine(angle);
  const middleY = x * sine(angle) + y * cosine(angle);
  const acrossX = (halfX * cos + halfY * sin) * (1 + 1e-9) + TOLERANCE;
  const acrossY = (halfX * sin + halfY * cos) * (1 + 1e-9) + TOLERANCE;
  includePoint(box, start[0] + middleX - acrossX, start[1] + middleY - acrossY, 0);
  includePoint(box, start[0] + middleX + acrossX, start[1] + middleY + acrossY, 0);
  includePoint(box, end[0] + middleX - acrossX, end[1] + middleY - acrossY, 0);
  includePoint(box, end[0] + middleX + acrossX, end[1] + middleY + acrossY, 0);
  return true;
}

/** Whether a placement treats everything of a root alike. */
function isPlain(place: RootPlace): boolean {
  return place[5] === place[2] && place[6] === place[3] && place[7] === place[4];
}
