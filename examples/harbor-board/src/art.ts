/** The pictures of the board, drawn from numbers: each is the path of an SVG about its middle, 100 units wide. */
const turn = (count: number, radius: (i: number) => number, from = -90) =>
  Array.from({ length: count }, (_, i) => {
    const angle = ((from + (360 / count) * i) * Math.PI) / 180;
    return `${(radius(i) * Math.cos(angle)).toFixed(1)} ${(radius(i) * Math.sin(angle)).toFixed(1)}`;
  });
const line = (points: readonly string[]) => `M${points.join('L')}Z`;

/** Diamonds with a hole, in rows that become narrower. */
function meshes(): string {
  const diamond = (x: number, y: number, r: number) => line([`${x - r} ${y}`, `${x} ${y - r}`, `${x + r} ${y}`, `${x} ${y + r}`]); // prettier-ignore
  return [4, 3, 2, 1]
    .flatMap((count, row) =>
      Array.from({ length: count }, (_, i) => [20 * i - 10 * (count - 1), -19 + 15 * row] as const),
    ) // prettier-ignore
    .map(([x, y]) => diamond(x, y, 11) + diamond(x, y, 7))
    .join('');
}

/** Two rounds and a point. */
export const HEART = 'M0 38C-52 2-34-40-8-30-3-28 0-24 0-20 0-24 3-28 8-30 34-40 52 2 0 38Z';

export const TOOL_ART = {
  /** A net: meshes that hang from a line. */
  net: `M-42-36H42V-30H-42Z${meshes()}`,
  /** A bell with its clapper. */
  bell: 'M-30 22C-20 14-22-6-16-20-10-32 10-32 16-20 22-6 20 14 30 22ZM-8 28A8 8 0 0 0 8 28ZM-4-30V-40H4V-30Z',
  /** A lamp and its rays. */
  lamp: `${line(turn(16, (i) => (i % 2 === 0 ? 40 : 24)))}${line(turn(12, () => 14))}`,
  /** A hook on a rope. */
  tow: 'M-4-40H4V0C20 2 30 12 22 28 14 42-18 42-24 20L-14 16C-10 30 8 30 12 22 16 12 4 8-4 8Z',
} as const;
export type Tool = keyof typeof TOOL_ART;

/** An SVG of a path that is hidden from screen readers: what it says is beside it. */
export function picture(path: string): SVGSVGElement {
  const make = (name: string) => document.createElementNS('http://www.w3.org/2000/svg', name);
  const svg = make('svg') as SVGSVGElement;
  const shape = make('path');
  svg.setAttribute('viewBox', '-50 -50 100 100');
  svg.setAttribute('aria-hidden', 'true');
  shape.setAttribute('d', path);
  shape.setAttribute('fill-rule', 'evenodd');
  svg.append(shape);
  return svg;
}
