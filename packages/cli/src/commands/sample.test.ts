import { describe, expect, test } from 'vitest';
import { ndjson, unspool } from '../../test/command.js';

describe('sample', () => {
  const snap = (...args: string[]) => unspool(['sample', 'crab.reel.json', 'snap', ...args]).stdout;

  test('json and ndjson have the values by kind', () => {
    const [first, second] = JSON.parse(snap('--at', '12f,150ms', '--format', 'json')) as [unknown, unknown];
    expect(first).toEqual({
      time: 0.2,
      values: {
        ...{ 'claw.rotation': -48, 'claw.scale': [1.15, 1.15], 'claw.tint': [1, 1, 1, 1], 'crab.rotation': -6 },
        'claw.pincer': { center: [22, 0], size: [32, 24], angle: 0 },
      },
    });
    expect(second).toMatchObject({
      time: 0.15,
      values: { 'claw.rotation': expect.closeTo(-45, 9) as number, 'claw.pincer': null },
    });
    expect(ndjson(snap('--every', '3f', '--format', 'ndjson')).map(({ time }) => time)).toEqual(
      Array.from({ length: 11 }, (_, i) => (3 * i) / 60),
    );
  });

  test('csv has a column for each number of a shape, empty while that is off', () => {
    expect(snap('--at', '0,0.2', '--tracks', 'claw.pincer', '--format', 'csv').split('\r\n')).toEqual([
      'time,claw.pincer.center.x,claw.pincer.center.y,claw.pincer.size.x,claw.pincer.size.y,claw.pincer.angle',
      '0,,,,,',
      '0.2,22,0,32,24,0',
      '',
    ]);
  });

  test('csv is RFC 4180, a column for each channel', () => {
    expect(snap('--at', '0,0.5', '--tracks', 'claw.s*', '--format', 'csv')).toBe(
      'time,claw.scale.x,claw.scale.y\r\n0,1,1\r\n0.5,1,1\r\n',
    );
  });

  test('a table is aligned, with frames and seconds', () => {
    expect(snap('--every', '15f', '--tracks', '*.rotation').split('\n')).toEqual([
      ...['frame  seconds  claw.rotation  crab.rotation', '─────  ───────  ─────────────  ─────────────'],
      ...['   0f        0              0              0', '  15f     0.25             14              5'],
      ...['  30f      0.5              0              0', ''],
    ]);
  });
});
