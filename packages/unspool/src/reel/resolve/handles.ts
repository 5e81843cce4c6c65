import { parseTime } from '../../time/units.js';
import { isNumber } from '../../value/number.js';
import type { FramesDocument, KeyDocument, KeyList } from '../document/document.js';
import type { DocumentPath, Report } from '../diagnostics/diagnostic-messages.js';
import type { Handle, ResolvedKey } from './track.js';

type PoseKey = Exclude<KeyDocument, FramesDocument>;

/** Reads a key's handles: one pair, or a list of one pair for each channel. */
export function readHandles(
  key: PoseKey,
  width: number,
  property: string,
  fps: number,
  path: DocumentPath,
  report: Report,
): { readonly in?: readonly Handle[]; readonly out?: readonly Handle[] } {
  const handles: { in?: readonly Handle[]; out?: readonly Handle[] } = {};
  for (const side of ['in', 'out'] as const) {
    const value = key[side];
    if (value === undefined) continue;
    const one = readHandle(value, fps);
    // Like one number of `scale`, one handle applies to all channels.
    const shared = one && (width === 1 || property === 'scale') ? Array.from({ length: width }, () => one) : undefined;
    const listed = Array.isArray(value) && !one ? value.map((pair) => readHandle(pair, fps)) : [];
    if (shared) handles[side] = shared;
    else if (listed.length === width && listed.every((pair) => pair !== undefined)) handles[side] = listed;
    else report('reel/handle', [...path, side], { value, width });
  }
  return handles;
}

function readHandle(value: unknown, fps: number): Handle | undefined {
  if (!Array.isArray(value) || value.length !== 2) return undefined;
  const dt = parseTime(value[0], fps);
  const dv: unknown = value[1];
  return dt !== undefined && isNumber(dv) ? [dt, dv] : undefined;
}

/** Whether a key begins a segment that handles shape. */
export function isCurve(key: KeyDocument | undefined): boolean {
  return !!key && 'ease' in key && /^\s*curve\s*$/i.test(key.ease ?? '');
}

/** Handles that no `curve` uses do nothing. */
export function checkHandles(keys: KeyList, pathOf: (index: number) => DocumentPath, report: Report): void {
  keys.forEach((key, index) => {
    if ('frames' in key || (key.in === undefined && key.out === undefined)) return;
    const unused = (side: 'in' | 'out') => report('reel/handle-unused', [...pathOf(index), side], { side }, 'warning');
    if (key.out !== undefined && !(isCurve(key) && index < keys.length - 1)) unused('out');
    if (key.in !== undefined && !isCurve(keys[index - 1])) unused('in');
  });
}

/** Warns of handles that point the wrong way or past the other key, where time would run backwards. They are shortened. */
export function checkFolds(
  keys: readonly ResolvedKey[],
  pathOf: (index: number, ...members: string[]) => DocumentPath,
  report: Report,
): void {
  keys.forEach((key, i) => {
    const next = keys[i + 1];
    if (key.easing.kind !== 'curve' || !next) return;
    const length = next.at - key.at;
    const check = (side: 'in' | 'out', index: number, handles: readonly Handle[] | undefined, sign: number) => {
      // Handles are written by hand and by programs: an overshoot beyond the key by rounding alone is not reported.
      const folded = handles?.find(([dt]) => sign * dt < 0 || sign * dt > length * (1 + 1e-9));
      if (folded) report('reel/handle-folds', pathOf(index, side), { side, dt: folded[0], length }, 'warning');
    };
    check('out', i, key.out, 1);
    check('in', i + 1, next.in, -1);
  });
}
