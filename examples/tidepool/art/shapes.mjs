/** Small helpers to write SVG by hand. Everything here is drawn by this project's own scripts. */
export const attributes = (given) =>
  Object.entries(given)
    .map(([name, value]) => ` ${name}="${typeof value === 'number' ? Number(value.toFixed(2)) : value}"`)
    .join('');

export const shape = (name, given, ...children) => `<${name}${attributes(given)}>${children.join('')}</${name}>`;

export const group = (transform, ...children) => shape('g', { transform }, ...children);

export const svg = (width, height, ...children) =>
  shape('svg', { xmlns: 'http://www.w3.org/2000/svg', width, height, viewBox: `0 0 ${width} ${height}` }, ...children);

/** A ring of points about a center, joined by a smooth closed path. `radius` gives each point's distance. */
export function blob(cx, cy, count, radius) {
  const points = Array.from({ length: count }, (_, i) => {
    const angle = (i / count) * 2 * Math.PI;
    return [cx + Math.cos(angle) * radius(i, angle), cy + Math.sin(angle) * radius(i, angle)];
  });
  const middle = ([ax, ay], [bx, by]) => [(ax + bx) / 2, (ay + by) / 2];
  const first = middle(points.at(-1), points[0]);
  const arcs = points.map(
    (point, i) => `Q${[...point, ...middle(point, points[(i + 1) % count])].map((n) => n.toFixed(1))}`,
  );
  return `M${first.map((n) => n.toFixed(1))}${arcs.join('')}Z`;
}

/** The same random numbers on every machine. */
export function random(seed) {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
}
