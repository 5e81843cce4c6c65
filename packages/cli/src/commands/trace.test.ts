import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from 'vitest';
import { ndjson, scratchFolder, unspool } from '../../test/command.js';

const scratch = scratchFolder();

describe('trace', () => {
  const modes = ['once', 'loop', 'ping-pong'];
  const cases = modes.flatMap((mode) => ['1', '-0.7'].map((rate) => [mode, rate] as const));

  test.each(cases)('%s, rate %s: the same however time is cut', (loop, rate) => {
    const trace = (...args: string[]) =>
      unspool(['trace', 'crab.reel.json', 'snap', '--loop', loop, '--rate', rate, '--for', '5s', ...args]).stdout;
    const first = trace('--jitter', '1');
    expect(ndjson(first).length).toBeGreaterThan(3);
    expect(trace('--jitter', '2')).toBe(first);
    expect(trace('--step', '1ms')).toBe(first);
  });

  test('prints every event', () => {
    expect(ndjson(unspool(['trace', 'crab.reel.json', 'snap']).stdout)).toEqual([
      { time: 0.2, event: 'cue-start', clip: 'snap', name: 'danger', iteration: 0 },
      { time: 0.25, event: 'cue', clip: 'snap', name: 'shut', data: { sound: 'click', strength: 0.8 }, iteration: 0 },
      { time: 0.266666667, event: 'cue-end', clip: 'snap', name: 'danger', iteration: 0 },
      { time: 0.5, event: 'end', clip: 'snap', iteration: 0 },
    ]);
  });

  test('of a chain, each link from where the one before ended', () => {
    const reported = ndjson(unspool(['trace', 'crab.reel.json', 'victory']).stdout) as {
      time: number;
      event: string;
      clip: string;
    }[];
    expect(
      reported.filter(({ event }) => event === 'end').map(({ time, clip }) => [Number(time.toFixed(9)), clip]),
    ).toEqual([
      [0.4, 'hop'],
      [1.2, 'cheer'],
      [1.7, 'snap'],
    ]);
  });

  test.each([
    ['crab', 'fight', { time: 0.8, event: 'read', values: { 'body.frame': 22 } }],
    ['gauge', 'air', { time: 1.5, event: 'read', values: { 'bar.scale': [0.6, 1], 'lost.scale': [0.84375, 1] } }],
    ['gate', 'gate', { time: 3, event: 'cue', name: 'closing' }],
  ])('of a script for the %s: %s.json, the same whatever the frames', (reel, name, one) => {
    const trace = (...args: string[]) =>
      unspool(['trace', `${reel}.reel.json`, '--script', `../scripts/${name}.json`, ...args]).stdout;
    const reported = trace();
    expect(ndjson(reported)).toContainEqual(
      expect.objectContaining({
        ...one,
        ...('values' in one && { values: expect.objectContaining(one.values as object) as unknown }),
      }),
    );
    for (const args of [
      ['--jitter', '1'],
      ['--jitter', '2'],
      ['--step', '1ms'],
      ['--step', '1s'],
    ])
      expect(trace(...args)).toBe(reported);
  });

  test.each([
    ['[]', 'has no "steps"'],
    ['{"steps":[{"at":0,"paly":"snap"}]}', '/steps/0: has no command. Did you mean "play"?'],
    [
      '{"steps":[{"at":0,"play":"snpa"}]}',
      '/steps/0/play: the reel "hermit crab" has no clip "snpa". Did you mean "snap"?',
    ],
    ['{"steps":[{"at":1,"play":"snap"},{"at":0,"play":"snap"}]}', '/steps/1/at: is earlier than the previous step'],
    ['{"steps":[{"at":"soon","play":"snap"}]}', '/steps/0/at: invalid time "soon"'],
    ['{"steps":[{"at":0,"pause":"base"}]}', '/steps/0/pause: nothing has been played on this layer'],
    ['{"steps":[],"fro":1}', '/fro: is not a known member. Did you mean "for"?'],
    ['{"steps":[', 'is not valid JSON'],
  ])('a script %s is refused with its place', (script, message) => {
    const file = join(scratch, 'script.json');
    writeFileSync(file, script);
    const { exit, stderr } = unspool(['trace', 'crab.reel.json', '--script', file]);
    expect([exit, stderr.split('\n').length]).toEqual([2, 2]);
    expect(stderr).toContain(message);
  });
});
