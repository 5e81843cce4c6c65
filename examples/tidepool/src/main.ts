import { Application } from 'pixi.js';
import { link } from 'unspool/live';
import crabReel from '../reels/crab.reel.json';
import { Game } from './game.js';
import { Panel } from './panel.js';
import { linesOf, replay, type Recording } from './replay.js';
import { buildScene, cutSheet, HEIGHT, loadTextures, WIDTH } from './scene.js';

const FRAME = 1 / 60;
/** A frame longer than this was a pause of the page, not of the game. */
const LONGEST = 0.25;

const app = new Application();
// As sharp as the screen is; on one that is not drawn at all, tests ask for few pixels.
const resolution = Math.min(2, devicePixelRatio);
await app.init({ width: WIDTH, height: HEIGHT, background: '#2d6470', antialias: true, resolution });
document.getElementById('game')!.append(app.canvas);

const textures = await loadTextures();
const cells = cutSheet(textures.crab, crabReel.sheetOf('body')!);
const game = new Game(buildScene(app, textures, cells), cells);

// While the game is made, the workbench watches and leads them. A build has nothing of it.
for (const player of game.players) link(player);

const held = new Set<string>();
const wishes = () => ({
  x: Number(held.has('ArrowRight')) - Number(held.has('ArrowLeft')),
  y: Number(held.has('ArrowDown')) - Number(held.has('ArrowUp')),
  pace: held.has('Shift') ? 0.4 : 1,
});
const panel = new Panel(game, () => game.tick(FRAME, wishes()));

const presses: Readonly<Record<string, () => void>> = {
  ' ': () => game.want('attack'),
  x: () => game.want('hop'),
  h: () => game.want('hide'),
  g: () => game.moveGate(),
  v: () => game.want('win'),
  b: () => game.growShell(),
  o: () => game.toggleShapes(),
  e: () => panel.toggleRules(),
  t: () => panel.toggleSlow(),
  p: () => panel.togglePause(),
  '.': () => document.getElementById('step')!.click(),
};

addEventListener('keydown', (event) => {
  // A focused control keeps its own keys.
  if (event.target instanceof HTMLElement && event.target.closest('button, input')) return;
  if (event.key.startsWith('Arrow') || event.key === ' ') event.preventDefault();
  if (!event.repeat) presses[event.key.toLowerCase()]?.();
  held.add(event.key);
});
addEventListener('keyup', (event) => held.delete(event.key));
addEventListener('blur', () => held.clear());

app.ticker.add(({ deltaMS }) => {
  if (!panel.paused) game.tick(Math.min(LONGEST, deltaMS / 1000) * panel.rate, wishes());
  panel.refresh();
});
// With ?replay the page decides a recorded match, as the example `referee` does on a server.
if (new URLSearchParams(location.search).has('replay')) {
  const { default: recording } = await import('../match.json');
  const lines = linesOf(replay(recording as unknown as Recording, () => FRAME));
  document.body.append(Object.assign(document.createElement('pre'), { id: 'replay', textContent: lines.join('\n') }));
}
document.body.dataset['ready'] = 'true';
