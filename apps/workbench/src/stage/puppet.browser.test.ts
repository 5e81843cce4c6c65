import { Application } from 'pixi.js';
import { expect, test } from 'vitest';
import type { Pictures } from '../link/pictures.js';
import { Puppet } from './puppet.js';

test('what reveals show of a role is cut on the stage, with what hangs on it; handles and bounds stay', async () => {
  const application = new Application();
  await application.init({ width: 100, height: 100, background: '#000', autoStart: false, antialias: true });
  const shapes = { wipe: { kind: 'box', tag: 'reveal' }, hole: { kind: 'circle', tag: 'hide' } } as const;
  const doc = { unspool: 1, roles: { door: { shapes }, knob: { parent: 'door' } }, clips: {} } as const;
  const pictures = { has: () => false, load: () => Promise.resolve(undefined) } as unknown as Pictures;
  const puppet = new Puppet(doc, ['door', 'knob'], pictures, () => {});
  application.stage.addChild(puppet.container);
  const place = { 'door.position': [50, 50], 'knob.position': [0, -30] };
  /** How many pixels of each quarter are drawn. */
  const drawn = (values: Record<string, unknown>) => {
    puppet.show({ ...place, ...values });
    application.renderer.render(application.stage);
    const context = new OffscreenCanvas(100, 100).getContext('2d')!;
    context.drawImage(application.renderer.canvas, 0, 0);
    const { data } = context.getImageData(0, 0, 100, 100);
    const counts = { left: 0, right: 0, above: 0 };
    for (let i = 0; i < 100 * 100; i++) {
      if (data[i * 4]! + data[i * 4 + 1]! + data[i * 4 + 2]! < 30) continue;
      counts[i % 100 < 50 ? 'left' : 'right']++;
      if (i < 34 * 100) counts.above++;
    }
    return counts;
  };
  const whole = drawn({});
  expect([whole.left, whole.right, whole.above].every((count) => count > 300)).toBe(true);
  const right = drawn({ 'door.wipe': { center: [15, 0], size: [30, 32], angle: 0 } });
  expect([right.left, right.above]).toEqual([0, 0]);
  expect(right.right).toBeGreaterThan(300);
  const holed = drawn({ 'door.hole': { center: [-16, 0], radius: 12 } });
  expect(holed.right).toBe(whole.right);
  expect(holed.left).toBeLessThan(whole.left - 150);
  expect(drawn({ 'door.wipe': { center: [0, 0], size: [0, 0], angle: 0 } })).toEqual({ left: 0, right: 0, above: 0 });
  expect(puppet.boundsOf('door')?.width).toBeGreaterThan(30);
  expect(drawn({ 'door.wipe': null })).toEqual(whole);
  puppet.destroy();
  application.destroy();
});
