import { SaxesParser } from 'saxes';
import svgpath from 'svgpath';
import { refuse } from '../errors.js';
import type { Notes } from '../report.js';
import { firstLine } from '../text.js';
import { arcCurves, between } from './arc.js';
import type { Bezier, Point } from './bezier-path.js';

interface Found {
  readonly id: string | undefined;
  readonly d: string;
  /** From the outermost to its own. */
  readonly transforms: readonly string[];
}

/** Elements within elements that a drawing may have. */
const DEEPEST = 1000;

/**
 * The path of a drawing: that with an id, or the only one, with the transforms of the groups around it.
 *
 * @returns `d` of an absolute path
 */
export function findPath(text: string, id: string | undefined): string {
  if (!text.trimStart().startsWith('<')) return whole({ id: undefined, d: text, transforms: [] });
  const paths = readPaths(text);
  const named = paths.flatMap((path) => (path.id === undefined ? [] : [path.id]));
  const hint = named.length > 0 ? `use one of: ${named.slice(0, 10).join(', ')}` : 'give the path an id';
  if (paths.length === 0) refuse('svg', 'the drawing has no path', 'convert its shape to a path');
  if (id === undefined && paths.length > 1) refuse('svg', `the drawing has ${paths.length} paths`, hint);
  const path = id === undefined ? paths[0] : paths.find((one) => one.id === id);
  if (!path) refuse('svg', `the drawing has no path ${JSON.stringify(id)}`, hint);
  return whole(path);
}

function readPaths(text: string): Found[] {
  // Without entities of its own: it does not expand any that a document declares.
  const parser = new SaxesParser({ xmlns: false });
  const paths: Found[] = [];
  const transforms: string[] = [];
  const steps: boolean[] = [];
  let problem: string | undefined;
  parser.on('error', (error) => (problem ??= firstLine(error)));
  parser.on('opentag', ({ name, attributes }) => {
    const local = name.slice(name.indexOf(':') + 1);
    const transform = attributes['transform'];
    steps.push(transform !== undefined);
    if (transform !== undefined) transforms.push(transform);
    if (steps.length > DEEPEST) problem ??= `elements are nested deeper than ${DEEPEST}`;
    const { id, d } = attributes;
    if (local === 'path' && d !== undefined) paths.push({ id, d, transforms: [...transforms] });
  });
  parser.on('closetag', () => {
    if (steps.pop()) transforms.pop();
  });
  // In pieces, so that it ends at the first mistake.
  for (let at = 0; at < text.length && problem === undefined; at += 65536) parser.write(text.slice(at, at + 65536));
  if (problem === undefined) parser.close();
  if (problem !== undefined) refuse('svg', `the drawing is not valid XML: ${problem}`, 'save it again as plain SVG');
  return paths;
}

/** Characters of a path: more than any drawing that is travelled along. */
const LONGEST = 500_000;
/** Curves of a path, and those of them that are no lines: each of these is measured. */
const MOST_CURVES = 20_000;
const MOST_BENT = 500;

function whole({ d, transforms }: Found): string {
  if (d.length > LONGEST) refuse('svg', `the path has ${d.length} characters, the limit is ${LONGEST}`, 'simplify it');
  let path = svgpath(d);
  for (const transform of transforms.toReversed()) path = path.transform(transform);
  const { err } = path as unknown as { err: string };
  if (err) refuse('svg', `the path ${JSON.stringify(d.slice(0, 40))} is not valid: ${firstLine(new Error(err.replace(/^SvgPath: /, '')))}`, 'see the "d" attribute of SVG'); // prettier-ignore
  return path.abs().unshort().toString();
}

/** A curve of a path, and its share of the segment that it belongs to: an arc is several curves. */
export interface PathCurve {
  readonly curve: Bezier;
  readonly share: number;
}

/** The curves of a path, its first part only: from where it begins to where it moves without drawing. */
export function curvesOf(d: string, notes: Notes): PathCurve[] {
  const found: PathCurve[] = [];
  let start: Point | undefined;
  let isOver = false;
  let others = 0;
  let bent = 0;
  svgpath(d).iterate((segment, _, x, y) => {
    const [kind, ...n] = segment as unknown as [string, ...number[]];
    const from: Point = [x, y];
    if (kind === 'M') {
      if (found.length > 0) isOver = true;
      if (isOver) others++;
      else start = [n[0]!, n[1]!];
      return;
    }
    if (isOver || !start) return;
    const curves = segmentCurves(kind, from, n, start).filter(isDrawn);
    for (const curve of curves) found.push({ curve, share: 1 / curves.length });
    if ('CQA'.includes(kind)) bent += curves.length;
  });
  if (found.length > MOST_CURVES || bent > MOST_BENT)
    refuse('svg', `the path has ${found.length} segments, ${bent} of them curves; the limits are ${MOST_CURVES} and ${MOST_BENT}`, 'simplify it'); // prettier-ignore
  if (others > 0) notes.dropped('d', `${others} more parts of the path, which begin elsewhere`);
  const isSound = found.every(({ curve }) => curve.flat().every((n) => Number.isFinite(n)));
  if (found.length === 0 || !isSound) refuse('svg', 'the path draws nothing', 'use a path with a length');
  return found;
}

const isDrawn = (points: Bezier) => points.some(([x, y]) => x !== points[0][0] || y !== points[0][1]);

function segmentCurves(kind: string, from: Point, n: readonly number[], start: Point): Bezier[] {
  const line = (to: Point): Bezier[] => [[from, between(from, to, 1 / 3), between(from, to, 2 / 3), to]];
  const point = (i: number): Point => [n[i]!, n[i + 1]!];
  switch (kind) {
    case 'L':
      return line(point(0));
    case 'H':
      return line([n[0]!, from[1]]);
    case 'V':
      return line([from[0], n[0]!]);
    case 'C':
      return [[from, point(0), point(2), point(4)]];
    case 'Q':
      return [[from, between(from, point(0), 2 / 3), between(point(2), point(0), 2 / 3), point(2)]];
    case 'A':
      return arcCurves(from, n);
    default: // Z, which goes back to the start
      return line(start);
  }
}
