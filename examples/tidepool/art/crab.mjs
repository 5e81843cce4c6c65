import { group, shape } from './shapes.mjs';

/** Side of a cell of the crab's sheet, as it is drawn. */
export const CELL = 64;

const INK = '#3a2a2a';
const SHELL = '#b9825a';
const SHELL_LIGHT = '#d9a878';
const BODY = '#d5583f';

const leg = (x, y, reach, lift) =>
  shape('path', {
    d: `M${x} ${y} q${reach * 0.5} ${-6 - lift} ${reach} ${6 - lift * 0.6} l${reach * 0.2} 4`,
    fill: 'none',
    stroke: BODY,
    'stroke-width': 3.4,
    'stroke-linecap': 'round',
    'stroke-linejoin': 'round',
  });

const eye = (x, y, look) =>
  shape('path', {
    d: `M${x} ${y + 9} L${x + look} ${y}`,
    stroke: BODY,
    'stroke-width': 2.6,
    'stroke-linecap': 'round',
  }) +
  shape('circle', { cx: x + look, cy: y, r: 3.6, fill: '#fff6e6', stroke: INK, 'stroke-width': 1 }) +
  shape('circle', { cx: x + look * 1.5, cy: y + 0.4, r: 1.7, fill: INK });

/** The shell: a spiral that leans back. `down` pulls it over the crab. */
const shell = (x, y, lean) =>
  group(
    `translate(${x} ${y}) rotate(${lean})`,
    shape('path', {
      d: 'M-17 10 C-22 -10 -8 -24 6 -22 C20 -20 22 -4 17 10 C8 15 -8 15 -17 10Z',
      fill: SHELL,
      stroke: INK,
      'stroke-width': 1.6,
    }),
    shape('path', {
      d: 'M-12 7 C-14 -8 -4 -17 6 -15 C15 -13 15 -3 8 -1 C2 1 -1 -5 3 -8',
      fill: 'none',
      stroke: INK,
      'stroke-width': 1.4,
    }),
    shape('path', {
      d: 'M-14 2 C-14 -8 -8 -15 -1 -18',
      fill: 'none',
      stroke: SHELL_LIGHT,
      'stroke-width': 3,
      'stroke-linecap': 'round',
    }),
  );

/** One drawing of a step to the right. Legs go in two sets of three that take turns. */
function stepSide(phase) {
  const legs = [0, 1, 2].flatMap((i) => {
    const swing = Math.sin(phase + i * 2.1);
    const back = Math.sin(phase + Math.PI + i * 2.1);
    return [
      leg(34 + i * 4, 44, 12 + swing * 4, Math.max(0, swing) * 5),
      leg(28 - i * 4, 44, -12 + back * 4, Math.max(0, back) * 5),
    ];
  });
  const bob = Math.abs(Math.sin(phase)) * 1.4;
  return [
    ...legs,
    shape('ellipse', { cx: 35, cy: 43 - bob, rx: 15, ry: 8, fill: BODY, stroke: INK, 'stroke-width': 1.4 }),
    shell(27, 32 - bob, -8),
    eye(41, 27 - bob, 2.2),
    eye(47, 29 - bob, 2.2),
  ].join('');
}

/** One drawing of a step toward the viewer, or (seen from behind) away. */
function stepFront(phase, away) {
  const legs = [-1, 1].flatMap((side) =>
    [0, 1, 2].map((i) => {
      const swing = Math.sin(phase + i * 2.1 + (side > 0 ? Math.PI : 0));
      return leg(32 + side * 9, 42 + i * 2, side * (13 + i * 2), Math.max(0, swing) * 6);
    }),
  );
  const bob = Math.abs(Math.sin(phase)) * 1.4;
  const body = shape('ellipse', { cx: 32, cy: 45 - bob, rx: 13, ry: 8, fill: BODY, stroke: INK, 'stroke-width': 1.4 });
  const eyes = eye(28, 31 - bob, -1) + eye(36, 31 - bob, 1);
  const back = shell(32, (away ? 38 : 30) - bob, Math.sin(phase) * 4);
  return away
    ? [...legs, body, eyes, back].join('')
    : [...legs, back, body, eye(28, 37 - bob, -1), eye(36, 37 - bob, 1)].join('');
}

/** One drawing of going into the shell: 0 out, 1 in. */
function hiding(share) {
  const reach = 1 - share;
  const legs = [0, 1, 2].flatMap((i) => [
    leg(34 + i * 4, 45, 12 * reach + 0.01, 0),
    leg(28 - i * 4, 45, -12 * reach - 0.01, 0),
  ]);
  const out =
    share < 0.95
      ? [
          ...legs,
          shape('ellipse', {
            cx: 35 - share * 6,
            cy: 44,
            rx: 15 - share * 6,
            ry: 8,
            fill: BODY,
            stroke: INK,
            'stroke-width': 1.4,
          }),
        ]
      : [];
  const eyes = share < 0.7 ? [eye(41 - share * 8, 28 + share * 14, 2), eye(47 - share * 12, 30 + share * 14, 2)] : [];
  return [...out, ...eyes, shell(27 + share * 4, 33 + share * 6, -8 + share * 8)].join('');
}

const flipped = (drawing) => group(`translate(${CELL} 0) scale(-1 1)`, drawing);

/** The rows of the sheet: right, left, toward the viewer, away, hiding. Eight drawings each. */
export const crabRows = [
  (i) => stepSide((i / 8) * 2 * Math.PI),
  (i) => flipped(stepSide((i / 8) * 2 * Math.PI)),
  (i) => stepFront((i / 8) * 2 * Math.PI, false),
  (i) => stepFront((i / 8) * 2 * Math.PI, true),
  (i) => hiding(i / 7),
];

/** The big claw, open to the right; its joint is at (6, 16) of 44 × 32. */
export const claw = [
  shape('path', { d: 'M4 18 Q10 10 18 13 L20 20 Q12 24 4 18Z', fill: BODY, stroke: INK, 'stroke-width': 1.4 }),
  shape('path', {
    d: 'M16 14 C20 2 36 2 42 11 C34 8 26 11 24 17 Z',
    fill: '#e2694c',
    stroke: INK,
    'stroke-width': 1.5,
  }),
  shape('path', { d: 'M17 18 C22 30 36 29 41 19 C34 23 27 22 24 17 Z', fill: BODY, stroke: INK, 'stroke-width': 1.5 }),
  shape('path', {
    d: 'M21 9 Q27 5 34 7',
    fill: 'none',
    stroke: '#f5a285',
    'stroke-width': 2,
    'stroke-linecap': 'round',
  }),
].join('');
