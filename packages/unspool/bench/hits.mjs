/** Frames of shapes that hit, and may at any moment, among targets that drift: sweeps counted in. */
import { parseReel, Player } from '../dist/index.js';
import { distance, HitWorld } from '../dist/hit/index.js';
import { interleave, ratios, spread } from './measure.mjs';
import { randomNumbers } from './work.mjs';

const DT = 1 / 60;
const SIZE = 4000;
const FRAMES = 40;

/** A claw on an arm that turns and stretches, and hits all the while. */
const reel = parseReel({
  unspool: 1,
  roles: {
    crab: { rest: { position: [0, 0] } },
    claw: { parent: 'crab', shapes: { pincer: { kind: 'box', tag: 'hits' } } },
  },
  clips: {
    swing: {
      duration: 1,
      loop: 'ping-pong',
      tracks: {
        'crab.position': [
          { at: 0, value: [0, 0], ease: 'ease-in-out' },
          { at: 1, value: [20, 0] },
        ],
        'claw.rotation': [
          { at: 0, value: -120, ease: 'cubic-bezier(0.7, 0, 0.3, 1)' },
          { at: 1, value: 120 },
        ],
        'claw.pincer': [
          { at: 0, value: { center: [30, 0], size: [40, 8] } },
          { at: 1, value: { size: [48, 6] } },
        ],
      },
    },
  },
});

export function pool(hitters, targets) {
  const random = randomNumbers(3);
  const world = new HitWorld();
  const players = Array.from({ length: hitters }, (_, i) => {
    const player = new Player(reel).place({ position: [random() * SIZE, random() * SIZE] });
    player.play('swing', { from: random() });
    world.add(`crab ${i}`, player);
    return player;
  });
  const bodies = Array.from({ length: targets }, (_, i) => {
    const [x, y, vx, vy] = [random() * SIZE, random() * SIZE, (random() - 0.5) * 600, (random() - 0.5) * 600];
    const shapes = { body: { shape: { kind: 'circle', center: [0, 0], radius: 6 }, tag: 'hurt' } };
    const body = { shapes, position: [x, y], vx, vy };
    world.add(`urchin ${i}`, body);
    return body;
  });
  const move = () => {
    for (const body of bodies) body.position = [body.position[0] + body.vx * DT, body.position[1] + body.vy * DT];
  };
  return { world, players, bodies, move };
}

/** One frame of ours. */
function ours(hitters, targets) {
  const { world, move } = pool(hitters, targets);
  return () => {
    move();
    return world.tick(DT).length;
  };
}

/** Two ways to find out that a target is far from a point: `Math.hypot` is slow in today's engines. */
const byLength = (a, b) => Math.hypot(a[0] - b[0], a[1] - b[1]) > 60;
const bySquares = (a, b) => (a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2 > 3600;

/** What is written by hand: at the end of each frame every pair, and nothing in between. */
function everyPair(hitters, targets, isFar) {
  const { world, players, bodies, move } = pool(hitters, targets);
  players.forEach((_, i) => world.remove(`crab ${i}`)); // ticked here
  const reported = new Set();
  return () => {
    move();
    let hits = 0;
    players.forEach((player, i) => {
      player.tick(DT);
      const { center, size, angle } = player.pose.get('claw.pincer');
      const turn = (player.pose.get('claw.rotation') * Math.PI) / 180;
      const [x, y] = player.pose.get('crab.position');
      const at = player.parts.stage.placed.position;
      const middle = [
        at[0] + x + center[0] * Math.cos(turn) - center[1] * Math.sin(turn),
        at[1] + y + center[0] * Math.sin(turn) + center[1] * Math.cos(turn),
      ];
      const box = { kind: 'box', center: middle, size, angle: angle + (turn * 180) / Math.PI };
      bodies.forEach((body, k) => {
        if (isFar(body.position, middle) || reported.has(i * targets + k)) return;
        const circle = { kind: 'circle', center: body.position, radius: 6 };
        if (distance(box, circle).distance > 0) return;
        reported.add(i * targets + k);
        hits++;
      });
    });
    return hits;
  };
}

export const SIZES = [
  [50, 250],
  [100, 500],
  [200, 1000],
  [400, 2000],
];

export function hitFrames() {
  const rows = SIZES.map(([hitters, targets]) => {
    const frames = {
      unspool: ours(hitters, targets),
      'every pair': everyPair(hitters, targets, byLength),
      'every pair, by squares': everyPair(hitters, targets, bySquares),
    };
    const hits = Object.fromEntries(Object.keys(frames).map((name) => [name, 0]));
    const counted = Object.entries(frames).map(([name, frame]) => [name, () => void (hits[name] += frame())]);
    const timings = interleave(Object.fromEntries(counted), 1e6, { rounds: FRAMES, warm: 10 });
    if (hits.unspool < hits['every pair']) throw new Error(`hits: ${JSON.stringify(hits)}`);
    return { name: `${hitters} × ${targets}`, timings, hits };
  });
  const lines = rows.map(({ name, timings, hits }) => {
    const [own, ...others] = Object.keys(timings);
    const cells = [
      ...[name, spread(timings[own]), hits[own]],
      ...others.map((who) => spread(timings[who])),
      hits[others[0]],
      ...others.map((who) => spread(ratios(timings, own, who))),
    ];
    return `| ${cells.join(' | ')} |`;
  });
  const text = [
    '| shapes × targets | unspool, ms per frame | hits | every pair at the ends of frames | by squared distances | hits | unspool / every pair | / by squares |',
    '| --- | ---: | ---: | ---: | ---: | ---: | ---: | ---: |',
    ...lines,
  ].join('\n');
  return { timings: Object.fromEntries(rows.map(({ name, timings }) => [name, timings])), text };
}
