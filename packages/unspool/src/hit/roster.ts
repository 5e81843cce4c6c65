import { Aim } from './aim.js';
import type { BodyOwner } from './body-owner.js';
import { Near } from './near.js';
import type { OwnedShape } from './owner.js';
import { PlayerOwner } from './player-owner.js';

/** The shapes that a pair of tags is about. */
interface Pair {
  readonly hit: string;
  readonly aims: readonly Aim[];
  readonly targets: readonly OwnedShape[];
  readonly near: Near;
}

/** The shapes of a world in lists, until it has others. */
export interface Roster {
  readonly players: readonly PlayerOwner[];
  readonly places: ReadonlyMap<OwnedShape, number>;
  /** By player: `until` and `due`, side by side, as they are asked for at every moment. */
  readonly until: Float64Array;
  readonly due: Float64Array;
  readonly aims: readonly Aim[];
  /** By pair of tags. */
  readonly pairs: readonly Pair[];
}

/** @param tags the pairs: what hits, and what is hit */
export function rosterOf(
  owners: readonly (PlayerOwner | BodyOwner)[],
  tags: readonly (readonly [by: string, to: string])[],
): Roster {
  const shapes: readonly OwnedShape[] = owners.flatMap((owner): readonly OwnedShape[] => owner.shapes);
  const boxes = new Float64Array(4 * shapes.length);
  shapes.forEach((shape, place) => {
    const box = boxes.subarray(4 * place, 4 * place + 4);
    box.set(shape.box);
    shape.box = box;
  });
  const players = owners.filter((owner) => owner instanceof PlayerOwner);
  players.forEach((player, place) => (player.place = place));
  const pairs = tags.map(([hitting, hit], pair): Pair => {
    const aims = shapes.flatMap((shape, place) => (shape.tag === hitting ? [new Aim(shape, pair, place)] : []));
    const targets = shapes.filter(({ tag }) => tag === hit);
    return { hit, aims, targets, near: new Near(shapes, boxes, aims, targets) };
  });
  return {
    players,
    until: new Float64Array(players.length),
    due: new Float64Array(players.length),
    places: new Map(shapes.map((shape, place) => [shape, place])),
    aims: pairs.flatMap(({ aims }) => aims),
    pairs,
  };
}
