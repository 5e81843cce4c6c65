import type { ReelNames } from '../../clip/names.js';
import type { FacingSide } from '../../reel/document/sequences.js';
import { UnspoolError } from '../../errors/error.js';
import { show } from '../../errors/show.js';
import type { Layer } from './layer.js';
import type { Playback } from './playback.js';
import type { PlayOptions } from '../time/settings.js';

/** Degrees by which another side must be nearer before it is turned to: on a diagonal nothing flickers. */
export const MARGIN = 10;

/**
 * The side that a direction picks.
 *
 * @param direction any length but 0
 * @param current   the side of now, which is kept while no other is nearer by `margin` degrees
 */
export function pickSide(
  sides: readonly FacingSide[],
  [x, y]: readonly [x: number, y: number],
  current: FacingSide | undefined,
  margin: number,
): FacingSide {
  const length = Math.hypot(x, y);
  const angle = ({ toward }: FacingSide) =>
    (Math.acos(Math.max(-1, Math.min(1, (toward[0] * x + toward[1] * y) / length))) * 180) / Math.PI;
  let best = sides[0]!;
  for (const side of sides) if (angle(side) < angle(best)) best = side;
  return current && sides.includes(current) && angle(current) - angle(best) <= margin ? current : best;
}

/** Options of `player.face(name, direction, options)`. */
export interface FaceOptions<N extends ReelNames = ReelNames> extends PlayOptions<N> {
  /** Hysteresis in degrees, 0 to 180: another side must be closer by this much to take over. Default: 10. */
  readonly margin?: number;
}

/** The direction that a player faces, and what plays for it. */
export class Faces<N extends ReelNames = ReelNames> {
  /** The last direction that was one. */
  direction: readonly [x: number, y: number] | undefined;
  /** By layer: the facing that was played there last, its side, and the playback. */
  readonly playing = new Map<string, { facing: string; side: FacingSide; playback: Playback<N> | undefined }>();

  /**
   * Plays the side of a facing for a direction, unless it already plays; a step that has started continues on the other
   * side.
   *
   * @param again whether it begins from the start, even where it plays
   * @returns the playback, and whether it is to be mirrored
   */
  face(
    layer: Layer<N>,
    facing: string,
    sides: readonly FacingSide[],
    direction: readonly [x: number, y: number],
    { margin = MARGIN, layer: named, ...options }: FaceOptions<N>,
    again = false,
  ): { readonly playback: Playback<N>; readonly flip: boolean } {
    const [x, y] = Array.isArray(direction) ? direction : [NaN, NaN];
    if (!Number.isFinite(x) || !Number.isFinite(y))
      throw new UnspoolError(
        'play/direction',
        `${show(direction)} is not a direction`,
        'use [x, y], two finite numbers',
      );
    if (!(margin >= 0 && margin <= 180))
      throw new UnspoolError('play/direction', `the margin ${show(margin)} is not from 0 to 180`, 'use degrees');
    // A length of 0 has no direction: the last one stays.
    if (x !== 0 || y !== 0) this.direction = [x, y];
    const known = this.playing.get(layer.name);
    const plays = known?.playback?.active && layer.playback === known.playback ? known.playback : undefined;
    const now = !again && known?.facing === facing && plays ? { side: known.side, playback: plays } : undefined;
    // Another facing continues in the last direction.
    const kept = now?.side ?? sides.find(({ toward }) => toward.join() === known?.side.toward.join());
    const side = this.direction ? pickSide(sides, this.direction, kept, margin) : (kept ?? sides[0]!);
    if (now?.side === side) {
      if (options.rate !== undefined) now.playback.rate = options.rate;
      return { playback: now.playback, flip: side.flip };
    }
    const playback = layer.play(side.clip, options, now?.playback);
    this.playing.set(layer.name, { facing, side, playback });
    return { playback, flip: side.flip };
  }
}
