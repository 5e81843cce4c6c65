import { defineClip, defineReel, parseReel, Player } from 'unspool';
import { domCast } from 'unspool/cast/dom';

const sway = defineClip('sway', { duration: 2, loop: 'ping-pong' })
  .track('lamp.position', [
    [0, [-6, 0], 'sine-in-out'],
    [2, [6, 4]],
  ])
  .track('lamp.rotation', [
    [0, -20, 'sine-in-out'],
    [2, 20],
  ])
  .track('lamp.opacity', [
    [0, 0.5, 'quad-in-out'],
    [2, 1],
  ]);
const reel = parseReel(defineReel({ roles: { lamp: {} }, clips: [sway] }));

/** `?many=200`: so many lamps sway, to see what a frame of them costs. */
export function manyLamps(count: number): { tick(dt: number): void }[] {
  const place = document.getElementById('many')!;
  place.hidden = count === 0;
  const adapter = domCast();
  return Array.from({ length: count }, (_, i) => {
    const lamp = place.appendChild(Object.assign(document.createElement('span'), { className: 'lamp' }));
    const player = new Player(reel, { name: `lamp ${i}`, cast: { lamp }, adapter });
    player.play('sway', { from: ((i * 37) % 100) / 50 });
    return player;
  });
}
