import { Player } from 'unspool';
import { link } from 'unspool/live';
import bodyImage from '../reels/body.png';
import clawImage from '../reels/claw.png';
import hermit from '../reels/hermit-crab.reel.json';

/** The objects that the clips animate, by the names of the roles in the reel. */
const body = { position: { x: 0, y: 0 }, rotation: 0, scale: { x: 1, y: 1 } };
const claw = { position: { x: 0, y: 0 }, rotation: 0, opacity: 1 };

const crab = new Player(hermit, { cast: { body, claw } });
crab.fallback('sway', { fade: '6f' });
// The workbench watches and leads it. A build has nothing of this.
link(crab, { name: 'crab' });

const snap = () => crab.play('snap', { fade: '2f' });
addEventListener('keydown', snap);
addEventListener('pointerdown', snap);

// A cue tells the game of a moment: here the claw is shut, and a real game would play its sound.
const said = document.querySelector('output')!;
crab.on('cue', (cue) => {
  if (cue.name === 'shut') said.textContent = `${cue.data.sound}!`;
});

const canvas = document.querySelector('canvas')!;
const context = canvas.getContext('2d')!;
const load = (source: string) => Object.assign(new Image(), { src: source });
const [shell, pincer] = [load(bodyImage), load(clawImage)];

/** How large the crab is drawn. */
const ZOOM = 3;

function draw(): void {
  const { clientWidth: width, clientHeight: height } = canvas;
  Object.assign(canvas, { width: width * devicePixelRatio, height: height * devicePixelRatio });
  context.scale(devicePixelRatio, devicePixelRatio);
  context.fillStyle = '#d9c493'; // sand
  context.fillRect(0, height / 2 + ZOOM * 34, width, height);
  context.translate(width / 2, height / 2);
  context.scale(ZOOM, ZOOM);
  context.translate(body.position.x, body.position.y);
  context.rotate((body.rotation * Math.PI) / 180);
  context.scale(body.scale.x, body.scale.y);
  context.drawImage(shell, -48, -44, 96, 88);
  // The claw moves with the body, and turns about its joint.
  context.translate(claw.position.x, claw.position.y);
  context.rotate((claw.rotation * Math.PI) / 180);
  context.globalAlpha = claw.opacity;
  context.drawImage(pincer, -3, -22, 56, 44);
}

let last = performance.now();
requestAnimationFrame(function frame(now) {
  crab.tick((now - last) / 1000);
  last = now;
  draw();
  requestAnimationFrame(frame);
});
