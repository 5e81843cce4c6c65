import { Hull } from './hull.js';
import { manyLamps } from './many.js';
import { Menu } from './menu.js';
import { Messages } from './messages.js';
import { ToolButton } from './tools.js';

/** The board of a harbor as web elements. Players animate them; everything else is ordinary HTML. */
const calm = matchMedia('(prefers-reduced-motion: reduce)');
const isCalm = () => calm.matches;
const byId = (id: string) => document.getElementById(id)!;

const messages = new Messages(isCalm);
const hull = new Hull(isCalm);
const menu = new Menu(isCalm);
const tools = (['net', 'bell', 'lamp', 'tow'] as const).map((tool) => {
  return new ToolButton(tool, isCalm, (message) => messages.say(message));
});
for (const { element } of tools) {
  const item = document.createElement('li');
  item.append(element);
  byId('tools').append(item);
}
for (const button of document.querySelectorAll<HTMLElement>('[data-order]'))
  button.onclick = () => {
    messages.say(button.dataset['order']!);
    menu.close();
  };
calm.addEventListener('change', () => hull.beat());
addEventListener('keydown', ({ key, ctrlKey, metaKey, altKey }) => {
  if (ctrlKey || metaKey || altKey) return;
  if (key === 'Escape') menu.close();
  if (key === 'm' || key === 'M') byId('menu').click();
  tools[Number(key) - 1]?.use();
});

const lamps = manyLamps(Number(new URLSearchParams(location.search).get('many') ?? 0));
const players = [hull.player, hull.heart, menu.player, messages.player, ...tools.map(({ player }) => player), ...lamps];

/** Milliseconds of script of the last frames, for whoever measures. */
const costs: number[] = [];
Object.assign(window, { costs, board: { hull, menu, messages, tools } });

let before = performance.now();
const frame = (now: number) => {
  const dt = Math.min(0.1, Math.max(0, (now - before) / 1000));
  before = now;
  const begun = performance.now();
  for (const player of players) player.tick(dt);
  costs.push(performance.now() - begun);
  if (costs.length > 600) costs.shift();
  requestAnimationFrame(frame);
};
requestAnimationFrame(frame);
document.body.dataset['ready'] = '';
