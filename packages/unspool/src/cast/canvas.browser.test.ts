import { expect, test } from 'vitest';
import { parseReel, Player } from '../index.js';
import { canvasScene } from './canvas.js';

const line = (from: unknown, to: unknown) => [
  { at: 0, value: from },
  { at: 1, value: to },
];

/** A sheet of two cells: red, then white. */
function sheet(): OffscreenCanvas {
  const canvas = new OffscreenCanvas(20, 10);
  const context = canvas.getContext('2d')!;
  context.fillStyle = '#f00';
  context.fillRect(0, 0, 10, 10);
  context.fillStyle = '#fff';
  context.fillRect(10, 0, 10, 10);
  return canvas;
}

test('cells, tint, opacity, size, order and what parents hide', () => {
  const reel = parseReel<unknown>({
    unspool: 1,
    roles: {
      rock: { sheet: 'tiles', rest: { position: [20, 20] } },
      shell: { sheet: 'tiles', parent: 'rock', rest: { position: [10, 0], frame: 1 } },
    },
    sheets: { tiles: { image: 'tiles.png', columns: 2, rows: 1, cell: [10, 10] } },
    clips: {
      show: {
        duration: 1,
        tracks: {
          'rock.size': line([10, 10], [20, 20]),
          'rock.order': [{ at: 0, value: 1 }],
          'shell.tint': line('#ffffff', '#00ff0080'),
          'rock.visible': [{ at: 0, value: true }, { at: 2, value: false }],
        },
      },
    },
  }); // prettier-ignore
  const picture = sheet();
  const scene = canvasScene<string>(reel, { pictures: { rock: picture, shell: picture } });
  const player = new Player(reel, { cast: scene.cast });
  const context = new OffscreenCanvas(40, 40).getContext('2d', { willReadFrequently: true })!;
  const at = (x: number, y: number) => [...context.getImageData(x, y, 1, 1).data];
  const frame = (dt: number) => {
    player.tick(dt);
    context.fillStyle = '#000';
    context.fillRect(0, 0, 40, 40);
    scene.draw(context);
  };
  player.play('show', { from: 1 });
  frame(0);
  // The rock is 20 × 20 about (20, 20) and in front of the shell, of which half is beside it.
  expect(at(12, 20)).toEqual([255, 0, 0, 255]);
  expect(at(28, 20)).toEqual([255, 0, 0, 255]);
  expect(at(33, 20)).toEqual([0, 128, 0, 255]);
  expect(at(37, 20)).toEqual([0, 0, 0, 255]);
  scene.parts['rock']!.visible = false;
  frame(0);
  expect(at(33, 20)).toEqual([0, 0, 0, 255]);
});
