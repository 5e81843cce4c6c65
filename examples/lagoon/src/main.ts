import { Gulls, GULL_NUMBERS } from './gulls.js';
import { Pace } from './pace.js';
import { Renderer, viewOf, type Drawn } from './renderer.js';
import { bell, buoy, gullBody, hull, lantern, sail, shore, water, wing } from './shapes.js';
import { ring } from './sound.js';
import { Story } from './story.js';

/** The lagoon in a page: it draws what the story and the gulls say, and hears keys. */
const byId = <E extends HTMLElement>(id: string) => document.getElementById(id) as E;
const canvas = byId<HTMLCanvasElement>('view');
const query = new URLSearchParams(location.search);
const story = new Story();
const gulls = new Gulls(Math.min(20_000, Math.max(0, Number(query.get('gulls') ?? 5000) || 0)));
const renderer = new Renderer(canvas);
const pace = new Pace(gulls.count, query.has('steady'));
story.onRing = ring;

const { scene } = story;
const UNIT = Float32Array.from({ length: 16 }, (_, i) => Number(i % 5 === 0));
const one = (mesh: Drawn['mesh'], role: keyof typeof scene.parts): Drawn => ({ mesh, matrices: scene.matrices, offset: scene.offsetOf(role), stride: 16, count: 1 }); // prettier-ignore
const flock = (mesh: Drawn['mesh'], role: number): Drawn => ({ mesh, matrices: gulls.matrices, offset: role * 16, stride: GULL_NUMBERS, count: gulls.count }); // prettier-ignore
const still = (mesh: Drawn['mesh'], isWater = false): Drawn => ({ mesh, matrices: UNIT, offset: 0, stride: 16, count: 1, isWater }); // prettier-ignore
const [drum, lamp] = [one(buoy(), 'buoy'), one(lantern(), 'lantern')];
const flocks = [flock(gullBody(), 0), flock(wing(-1), 1), flock(wing(1), 2)];
const all: readonly Drawn[] = [still(shore()), still(water(), true), one(hull(), 'boat'), one(sail(), 'sail'), lamp, drum, one(bell(), 'bell'), ...flocks]; // prettier-ignore

let isPaused = false;
let rate = 1;
const view = new Float32Array(16);
const extra = <T>(role: keyof typeof scene.parts) => scene.parts[role] as unknown as T;

function resize(): void {
  const scale = pace.scale * Math.min(2, devicePixelRatio || 1);
  const [width, height] = [Math.round(canvas.clientWidth * scale), Math.round(canvas.clientHeight * scale)];
  if (canvas.width !== width) canvas.width = width;
  if (canvas.height !== height) canvas.height = height;
}

function draw(): void {
  resize();
  viewOf(story.camera, canvas.width / Math.max(1, canvas.height), view);
  drum.bulged = extra<{ weights: { bulge: number } }>('buoy').weights?.bulge ?? 0;
  lamp.glow = extra<{ glow: number }>('lantern').glow ?? 0;
  for (const each of flocks) each.count = pace.count;
  renderer.draw(view, extra<{ phase: number }>('water').phase ?? 0, all);
}

function show(): void {
  const { line, shownText } = story;
  byId('speaker').textContent = line?.speaker ?? '';
  byId('words').textContent = shownText;
  byId('line').hidden = line === undefined;
  byId('skip').toggleAttribute('disabled', story.isOver);
  byId('pause').setAttribute('aria-pressed', String(isPaused));
  byId('slow').setAttribute('aria-pressed', String(rate < 1));
  byId('state').textContent = `${story.isMoored ? 'moored' : 'under way'} · rings: ${story.rings}`;
  byId('lowered').textContent = pace.message;
  // Screen readers hear a line once and whole, not letter by letter.
  const said = line ? `${line.speaker}: ${line.text}` : '';
  if (byId('said').textContent !== said) byId('said').textContent = said;
}

const doing: Readonly<Record<string, () => void>> = {
  skip: () => story.skip(),
  again: () => story.start(),
  pause: () => void (isPaused = !isPaused),
  slow: () => void (rate = rate < 1 ? 1 : 0.25),
};
const KEYS: Readonly<Record<string, string>> = { Enter: 'skip', r: 'again', ' ': 'pause', t: 'slow' };
for (const [name, act] of Object.entries(doing)) byId(name).onclick = act;
addEventListener('keydown', (event) => {
  const name = KEYS[event.key];
  if (!name || event.ctrlKey || event.metaKey || event.target instanceof HTMLButtonElement) return;
  event.preventDefault();
  doing[name]!();
});

/** Milliseconds of script of the last frames, for whoever measures. */
const costs: number[] = [];
Object.assign(window, { story, gulls, pace, costs });

let before = performance.now();
function frame(now: number): void {
  const dt = Math.min(0.1, Math.max(0, (now - before) / 1000));
  pace.frame(now - before);
  before = now;
  const begun = performance.now();
  if (!isPaused) {
    story.tick(dt * rate);
    gulls.count = pace.count;
    gulls.tick(dt * rate);
  }
  costs.push(performance.now() - begun);
  if (costs.length > 600) costs.shift();
  draw();
  show();
  requestAnimationFrame(frame);
}
requestAnimationFrame(frame);
document.body.dataset['ready'] = '';
