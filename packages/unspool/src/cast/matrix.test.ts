import { expect, test } from 'vitest';
import { bytesEach } from '../../test/allocation.js';
import { Crowd, parseReel } from '../index.js';
import { matrixScene, RoleMatrices } from './matrix.js';

const reel = parseReel<unknown>({
  unspool: 1,
  roles: { body: { rest: { scale: [2, 2] } }, wing: { parent: 'body', rest: { position: [3, 0] } } },
  clips: {
    flap: {
      duration: 1,
      loop: 'loop',
      tracks: {
        'wing.rotation': [
          { at: 0, value: 0 },
          { at: 1, value: 90.5 },
        ],
        'body.position.y': [
          { at: 0, value: 0.5 },
          { at: 1, value: 4 },
        ],
      },
    },
  },
});

test('instances of a crowd have their matrices, under one of their own, without allocating', () => {
  const crowd = new Crowd(reel);
  const ids = Array.from({ length: 200 }, (_, i) => crowd.add('flap', { phase: i / 200 }));
  crowd.prepare();
  crowd.tick(0.25);
  const roles = new RoleMatrices(reel, 'flap');
  const out = new Float64Array(200 * roles.length);
  const base = new Float64Array(16);
  base.set([0, 1, 0, 0, -1, 0, 0, 0, 0, 0, 1, 0, 100, 200, 300, 1]);
  const write = () => {
    for (let i = 0; i < 200; i++) roles.write(crowd.values, crowd.offsetOf(ids[i]!), out, i * roles.length, base);
  };
  write();
  // The wing of instance 100 (three quarters through): scaled by 2, at (0, 3.125) + 2 × (3, 0), turned by a quarter.
  const wing = out.subarray(100 * 32 + 16, 100 * 32 + 32);
  const y = 0.5 + 0.75 * 3.5;
  expect([...wing.subarray(12)].map((n) => Math.round(n * 1e4) / 1e4)).toEqual([100 - y, 206, 300, 1].map((n) => Math.round(n * 1e4) / 1e4)); // prettier-ignore
  const angle = ((0.75 * 90.5 + 90) * Math.PI) / 180;
  expect(wing[0]).toBeCloseTo(2 * Math.cos(angle), 3);
  expect(wing[1]).toBeCloseTo(2 * Math.sin(angle), 3);
  for (let i = 0; i < 200; i++) write();
  expect(bytesEach(() => { for (let i = 0; i < 50; i++) write(); }, 50 * 200, 2)).toBeLessThan(2); // prettier-ignore
});

test('what is wrong is said: a document in place of a reel, a size, a role', () => {
  expect(() => matrixScene({ unspool: 1 } as never)).toThrow('expected a reel, found {"unspool":1}');
  expect(() => matrixScene(reel, { size: 5 as never })).toThrow('the size 5 is not 3 or 4');
  expect(() => matrixScene<string>(reel).offsetOf('wnig')).toThrow(/unknown role "wnig".*wing/);
  expect(() => new RoleMatrices(reel, 'flip')).toThrow(/flap/);
});
