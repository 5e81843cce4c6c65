import { compileEasing } from '../easing/easing.js';
import type { ResolvedTrack } from '../reel/resolve-track.js';
import { MIX_COLORS, MIX_NUMBERS, type Curves } from './curves.js';
import type { Layout } from './layout.js';

/** Writes resolved tracks as the numbers that sampling reads. The layout has a slot for each of them. */
export function compileTracks(tracks: readonly ResolvedTrack[], layout: Layout): Curves {
  const keys = tracks.flatMap((track) => track.keys);
  const table: number[] = [];
  const codes = new Uint8Array(keys.length);
  const easings = new Int32Array(keys.length);
  /** Equal easings share their numbers. */
  const known = new Map<string, readonly [code: number, offset: number]>();
  keys.forEach(({ easing }, index) => {
    const text = JSON.stringify(easing);
    let compiled = known.get(text);
    if (!compiled) {
      const offset = table.length;
      compiled = [compileEasing(easing, table), offset];
      known.set(text, compiled);
    }
    [codes[index], easings[index]] = compiled as [number, number];
  });

  const per = (write: (track: ResolvedTrack) => number) => Int32Array.from(tracks, write);
  const widthOfTrack = ({ keys: [first] }: ResolvedTrack) => first!.value.length;
  let keyCount = 0;
  let valueCount = 0;
  return {
    count: tracks.length,
    first: per((track) => (keyCount += track.keys.length) - track.keys.length),
    end: ((sum) => per((track) => (sum += track.keys.length)))(0),
    width: per(widthOfTrack),
    target: per(({ role, property, channel }) => layout.slot(`${role}.${property}`).offset + Math.max(0, channel)),
    start: per((track) => {
      const start = valueCount;
      valueCount += track.keys.length * widthOfTrack(track);
      return start;
    }),
    mix: Uint8Array.from(tracks, ({ kind, channel }) => (kind === 'color' && channel < 0 ? MIX_COLORS : MIX_NUMBERS)),
    times: Float64Array.from(keys, (key) => key.at),
    codes,
    easings,
    values: Float64Array.from(keys.flatMap((key) => key.value)),
    table: Float64Array.from(table),
  };
}
