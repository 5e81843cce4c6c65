import type { SnapOptions } from '../model/store.js';
import type { Point } from './outline.js';

/** What a role takes up in the world. */
export interface Extent {
  readonly left: number;
  readonly right: number;
  readonly top: number;
  readonly bottom: number;
}

/** A line that something has snapped to: of all places with this x, or this y. */
export interface Guide {
  readonly axis: 'x' | 'y';
  readonly at: number;
}

/** The smallest way from one of some places to one of some lines, if it is within reach. */
function nearest(places: readonly number[], lines: readonly number[], reach: number) {
  let best: { readonly by: number; readonly at: number } | undefined;
  for (const place of places)
    for (const at of lines) {
      const by = at - place;
      if (Math.abs(by) <= reach && (!best || Math.abs(by) < Math.abs(best.by))) best = { by, at };
    }
  return best;
}

const edges = (low: number, high: number): readonly number[] => [low, (low + high) / 2, high];

/**
 * How far a role goes that is dragged by `by`.
 *
 * @param origin where its position lies in the world, before the drag
 * @param own    what it takes up before the drag; `undefined` for a role without a picture
 * @param others what other roles take up
 * @param reach  how near to a line it must come, in world units
 */
export function snapped(
  by: Point,
  origin: Point,
  own: Extent | undefined,
  others: readonly Extent[],
  { grid, roles, pixels }: SnapOptions,
  reach: number,
): { readonly by: Point; readonly guides: readonly Guide[] } {
  const guides: Guide[] = [];
  const along = (axis: 'x' | 'y'): number => {
    const k = axis === 'x' ? 0 : 1;
    const [low, high] = axis === 'x' ? (['left', 'right'] as const) : (['top', 'bottom'] as const);
    const moved = origin[k] + by[k];
    const places = own ? [...edges(own[low] + by[k], own[high] + by[k]), moved] : [moved];
    const lines = roles ? others.flatMap((one) => edges(one[low], one[high])) : [];
    const toRole = nearest(places, lines, reach);
    const toGrid = grid > 0 ? nearest([moved], [Math.round(moved / grid) * grid], reach) : undefined;
    const best = toRole && toGrid && Math.abs(toGrid.by) < Math.abs(toRole.by) ? toGrid : (toRole ?? toGrid);
    if (best) guides.push({ axis, at: best.at });
    const next = by[k] + (best?.by ?? 0);
    return pixels && !best ? Math.round(origin[k] + next) - origin[k] : next;
  };
  return { by: [along('x'), along('y')], guides };
}
