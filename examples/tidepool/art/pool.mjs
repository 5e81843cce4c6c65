import { blob, group, random, shape, svg } from './shapes.mjs';

const INK = '#2b3a40';

/** The pool at low tide: water, sand, rocks at its rim, weed. */
export function pool(width, height) {
  const next = random(7);
  const stones = Array.from({ length: 46 }, (_, i) => {
    const along = i / 46;
    const side = Math.floor(along * 4);
    const share = (along * 4) % 1;
    const [x, y] = [
      [share * width, 6 + next() * 22],
      [width - 6 - next() * 24, share * height],
      [(1 - share) * width, height - 4 - next() * 16],
      [6 + next() * 22, (1 - share) * height],
    ][side];
    const size = 34 + next() * 40;
    const grey = 96 + Math.round(next() * 46);
    const path = blob(x, y, 9, () => size * (0.8 + next() * 0.35));
    return (
      shape('path', { d: path, fill: `rgb(${grey} ${grey + 4} ${grey - 6})`, stroke: INK, 'stroke-width': 2 }) +
      shape('path', {
        d: blob(x - size * 0.2, y - size * 0.25, 7, () => size * 0.3),
        fill: '#ffffff',
        'fill-opacity': 0.12,
      })
    );
  });
  const pebbles = Array.from({ length: 120 }, () =>
    shape('ellipse', {
      cx: next() * width,
      cy: next() * height,
      rx: 2 + next() * 5,
      ry: 1.5 + next() * 3,
      fill: `rgb(${150 + Math.round(next() * 60)} ${130 + Math.round(next() * 50)} ${100 + Math.round(next() * 40)})`,
      'fill-opacity': 0.55,
    }),
  );
  const weeds = Array.from({ length: 9 }, () => {
    const x = 70 + next() * (width - 140);
    const y = height - 40 - next() * 60;
    const blades = Array.from(
      { length: 4 },
      (_, k) => `M${x + k * 7} ${y} q${-12 + next() * 24} -26 ${-6 + next() * 12} -${44 + next() * 30}`,
    );
    return shape('path', {
      d: blades.join(''),
      fill: 'none',
      stroke: '#4c7a4f',
      'stroke-width': 5,
      'stroke-linecap': 'round',
      opacity: 0.8,
    });
  });
  const light = Array.from({ length: 26 }, () => {
    const x = next() * width;
    const y = next() * height;
    return shape('path', {
      d: `M${x} ${y} q20 -10 46 2 t50 -4`,
      fill: 'none',
      stroke: '#ffffff',
      'stroke-width': 2,
      opacity: 0.1,
    });
  });
  return svg(
    width,
    height,
    '<defs><radialGradient id="water" cx="50%" cy="46%" r="70%"><stop offset="0" stop-color="#6fb7b0"/><stop offset="0.7" stop-color="#3f8791"/><stop offset="1" stop-color="#28606f"/></radialGradient></defs>',
    shape('rect', { width, height, fill: '#c9b48a' }),
    shape('path', {
      d: blob(
        width / 2,
        height / 2,
        22,
        (i, angle) =>
          (Math.abs(Math.cos(angle)) * width * 0.53 + Math.abs(Math.sin(angle)) * height * 0.52) *
          (0.93 + next() * 0.1),
      ),
      fill: 'url(#water)',
    }),
    ...pebbles,
    ...light,
    ...weeds,
    ...stones,
  );
}

export const bell = svg(
  96,
  80,
  shape('path', {
    d: 'M6 58 C6 18 28 6 48 6 C68 6 90 18 90 58 C82 52 76 64 66 57 C58 64 38 64 30 57 C20 64 14 52 6 58Z',
    fill: '#cfe9ee',
    'fill-opacity': 0.62,
    stroke: '#eafafc',
    'stroke-width': 2,
  }),
  shape('path', {
    d: 'M18 42 C20 24 34 15 46 14',
    fill: 'none',
    stroke: '#ffffff',
    'stroke-width': 4,
    'stroke-linecap': 'round',
    opacity: 0.7,
  }),
);

export const lamp = svg(
  96,
  96,
  '<defs><radialGradient id="glow"><stop offset="0" stop-color="#fff"/><stop offset="0.35" stop-color="#fff" stop-opacity="0.75"/><stop offset="1" stop-color="#fff" stop-opacity="0"/></radialGradient></defs>',
  shape('circle', { cx: 48, cy: 48, r: 46, fill: 'url(#glow)' }),
);

export const tendrils = svg(
  80,
  84,
  ...[12, 26, 40, 54, 68].map((x, i) =>
    shape('path', {
      d: `M${x} 2 q${i % 2 ? 10 : -10} 20 0 38 t${i % 2 ? -6 : 6} 36`,
      fill: 'none',
      stroke: '#dff3f6',
      'stroke-width': 3,
      'stroke-linecap': 'round',
      opacity: 0.75,
    }),
  ),
);

export const ring = svg(
  128,
  128,
  shape('circle', { cx: 64, cy: 64, r: 56, fill: 'none', stroke: '#ffffff', 'stroke-width': 5 }),
  shape('circle', { cx: 64, cy: 64, r: 42, fill: 'none', stroke: '#ffffff', 'stroke-width': 2, opacity: 0.6 }),
);

export const bubble = svg(
  32,
  32,
  shape('circle', {
    cx: 16,
    cy: 16,
    r: 13,
    fill: '#ffffff',
    'fill-opacity': 0.22,
    stroke: '#f4ffff',
    'stroke-width': 2,
  }),
  shape('path', {
    d: 'M9 13 Q11 8 16 8',
    fill: 'none',
    stroke: '#ffffff',
    'stroke-width': 3,
    'stroke-linecap': 'round',
  }),
);

/** The sluice gate's parts: the posts stand, the gate moves, the wheel turns, the lamp is tinted. */
export const posts = svg(
  120,
  150,
  ...[4, 98].map((x) =>
    shape('rect', { x, y: 18, width: 18, height: 128, rx: 3, fill: '#7b5a3c', stroke: INK, 'stroke-width': 2 }),
  ),
  shape('rect', { x: 0, y: 8, width: 120, height: 18, rx: 4, fill: '#8d6a48', stroke: INK, 'stroke-width': 2 }),
);

export const gate = svg(
  84,
  92,
  ...[0, 1, 2, 3].map((i) =>
    shape('rect', {
      x: 2,
      y: 2 + i * 22,
      width: 80,
      height: 20,
      rx: 3,
      fill: i % 2 ? '#9b774f' : '#8a6742',
      stroke: INK,
      'stroke-width': 2,
    }),
  ),
);

export const wheel = svg(
  48,
  48,
  shape('circle', { cx: 24, cy: 24, r: 19, fill: 'none', stroke: '#c9ced1', 'stroke-width': 6 }),
  ...[0, 60, 120].map((turn) =>
    group(`rotate(${turn} 24 24)`, shape('rect', { x: 22, y: 4, width: 4, height: 40, fill: '#c9ced1' })),
  ),
  shape('circle', { cx: 24, cy: 24, r: 6, fill: '#59666d' }),
  shape('circle', { cx: 24, cy: 6, r: 4, fill: '#b03a2e' }),
);

/** A pearl, lit from above left. */
export const pearl = svg(
  28,
  28,
  shape('circle', { cx: 14, cy: 14, r: 11.5, fill: '#f3ede2', stroke: INK, 'stroke-width': 1.5 }),
  shape('path', { d: 'M5 18 a11 11 0 0 0 18 0 a12 8 0 0 1 -18 0', fill: '#d8b9c4', 'fill-opacity': 0.7 }),
  shape('circle', { cx: 10.5, cy: 9.5, r: 3, fill: '#ffffff' }),
);

/** A glint with four rays. */
export const sparkle = svg(
  36,
  36,
  shape('path', {
    d: 'M18 1 Q19.5 16.5 35 18 Q19.5 19.5 18 35 Q16.5 19.5 1 18 Q16.5 16.5 18 1Z',
    fill: '#fff6cf',
    stroke: '#f2d479',
    'stroke-width': 1,
  }),
);

/** A barnacle from the side: a ribbed cone, open at its top, with a feather. */
export const barnacle = svg(
  64,
  72,
  shape('path', {
    d: 'M30 22 q-10 -12 -4 -20 M32 22 q0 -14 4 -20 M34 22 q8 -10 14 -14',
    fill: 'none',
    stroke: '#c9806a',
    'stroke-width': 2.5,
    'stroke-linecap': 'round',
  }),
  shape('path', {
    d: 'M4 70 Q10 40 20 22 L44 22 Q54 40 60 70Z',
    fill: '#d9d2c3',
    stroke: INK,
    'stroke-width': 2.5,
    'stroke-linejoin': 'round',
  }),
  shape('path', {
    d: 'M16 69 Q20 42 26 24 M32 69 L32 25 M48 69 Q44 42 38 24',
    fill: 'none',
    stroke: INK,
    'stroke-opacity': 0.4,
    'stroke-width': 2,
  }),
  shape('ellipse', { cx: 32, cy: 22, rx: 12, ry: 4.5, fill: '#3b4a50', stroke: INK, 'stroke-width': 2 }),
);

const spine = random(11);
/** An urchin from above: spines all round, and a dome with rows of dots. */
export const urchin = svg(
  48,
  48,
  ...Array.from({ length: 26 }, (_, i) => {
    const angle = (i / 26) * 2 * Math.PI;
    const long = 17 + spine() * 6;
    const [x, y] = [24 + Math.cos(angle) * long, 24 + Math.sin(angle) * long];
    return shape('path', {
      d: `M24 24L${x.toFixed(1)} ${y.toFixed(1)}`,
      stroke: '#3d2a4d',
      'stroke-width': 2,
      'stroke-linecap': 'round',
    });
  }),
  shape('circle', { cx: 24, cy: 24, r: 13.5, fill: '#5a3f73' }),
  shape('circle', { cx: 21.5, cy: 21, r: 9, fill: '#7a5a95', 'fill-opacity': 0.7 }),
  ...Array.from({ length: 15 }, (_, i) => {
    const angle = ((i % 5) / 5) * 2 * Math.PI + 0.3;
    const far = 3.5 + Math.floor(i / 5) * 3.6;
    return shape('circle', { cx: 24 + Math.cos(angle) * far, cy: 24 + Math.sin(angle) * far, r: 0.9, fill: '#d9c3ea' });
  }),
);
