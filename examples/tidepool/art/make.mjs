/** Draws the art of the example: SVG by the scripts beside this one, as PNG into public/. Run it after changing them. */
import { mkdirSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { Resvg } from '@resvg/resvg-js';
import { CELL, claw, crabRows } from './crab.mjs';
import * as pool from './pool.mjs';
import { group, svg } from './shapes.mjs';

const out = fileURLToPath(new URL('../public/', import.meta.url));

/** Drawn at twice the size, so that it stays sharp when the game is enlarged. The reels count these pixels. */
const SCALE = 2;

const crabCells = crabRows.flatMap((draw, row) =>
  Array.from({ length: 8 }, (_, i) => group(`translate(${i * CELL} ${row * CELL})`, draw(i))),
);

const pictures = {
  crab: svg(8 * CELL, crabRows.length * CELL, ...crabCells),
  claw: svg(44, 32, claw),
  pool: pool.pool(960, 600),
  bell: pool.bell,
  lamp: pool.lamp,
  tendrils: pool.tendrils,
  ring: pool.ring,
  bubble: pool.bubble,
  posts: pool.posts,
  gate: pool.gate,
  wheel: pool.wheel,
  pearl: pool.pearl,
  sparkle: pool.sparkle,
  barnacle: pool.barnacle,
  urchin: pool.urchin,
};

mkdirSync(out, { recursive: true });
for (const [name, picture] of Object.entries(pictures)) {
  const scale = name === 'pool' ? 1 : SCALE;
  const png = new Resvg(picture, { fitTo: { mode: 'zoom', value: scale } }).render().asPng();
  writeFileSync(`${out}${name}.png`, png);
  console.log(`${name}.png: ${Math.round(png.length / 1024)} kB`);
}
