import type { Clip } from './clip.js';
import { HEAD_SIZE, type Curves, HEAD_TARGET } from './curves.js';
import type { Layout, Slot } from './layout.js';

export interface RemappedCurves {
  readonly curves: Curves;
  /** Per curve: the property that it animates, of the layout. */
  readonly slots: readonly Slot[];
}

/**
 * The curves of a clip, their targets moved to where another layout has their properties: those that it has, and of
 * them those that are wanted.
 */
export function remapCurves(clip: Clip, layout: Layout, isWanted: (slot: Slot) => boolean): RemappedCurves {
  const { curves } = clip;
  const slots: Slot[] = [];
  const heads: number[] = [];
  const scales: number[] = [];
  for (let c = 0; c < curves.count; c++) {
    const head = c * HEAD_SIZE;
    const at = curves.heads[head + HEAD_TARGET]!;
    const own = clip.layout.slots.find(({ offset, width }) => at >= offset && at < offset + width)!;
    const slot = layout.find(own.name);
    if (!slot || !isWanted(slot)) continue;
    slots.push(slot);
    heads.push(...curves.heads.subarray(head, head + HEAD_SIZE));
    heads[heads.length - HEAD_SIZE + HEAD_TARGET] = slot.offset + at - own.offset;
    scales.push(curves.scales[c]!);
  }
  const count = slots.length;
  return { slots, curves: { ...curves, count, heads: Int32Array.from(heads), scales: Float64Array.from(scales) } };
}
