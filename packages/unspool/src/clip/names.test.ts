import { expect, test } from 'vitest';
import crabDocument from '../../../../examples/tidepool/reels/crab.reel.json' with { type: 'json' };
import { defineClip, defineReel, formatReel, parseReel, Player } from '../index.js';

/** What must not compile is checked by the compiler: an error that is expected and does not come is an error. */
test('names from a JSON module: a misspelled one does not compile', () => {
  const reel = parseReel(crabDocument);
  const player = new Player(reel);
  expect(player.play('snap').clip).toBe(reel.clips.snap);
  player.on('cue', (cue) => {
    // @ts-expect-error no cue is called "shtu"
    void (cue.name === 'shtu');
    void (cue.name === 'shut');
    // @ts-expect-error no clip is called "snpa"
    void (cue.clip === 'snpa');
  });
  // @ts-expect-error no clip is called "snpa"
  expect(() => player.play('snpa')).toThrow('Did you mean "snap"?');
  // @ts-expect-error no clip is called "snpa"
  expect(() => reel.clip('snpa')).toThrow();
  // @ts-expect-error no role is called "clow"
  expect(() => new Player(reel, { cast: { clow: {} } })).toThrow('Did you mean "claw"?');
  expect(new Player(reel, { cast: { claw: {} } }).reel.roles).toContain('claw');
});

test('names from code: the same', () => {
  const snap = defineClip('snap', { fps: 60 })
    .track('claw.rotation', [
      [0, 0, 'quad-out'],
      ['6f', -40],
    ])
    .cue('9f', 'shut')
    .cue('2f', 'danger', { until: '6f' })
    .span('closing', 0, '6f');
  const document = defineReel({ name: 'crab', roles: { claw: {} }, clips: [snap] });
  const player = new Player(parseReel(document));
  player.play('snap');
  // @ts-expect-error no clip is called "snpa"
  expect(() => player.play('snpa')).toThrow();
  player.on('cue-start', ({ name }) => {
    // @ts-expect-error no cue is called "shtu"
    void (name === 'shtu');
    void (name === 'danger');
  });
  const astray = defineClip('snap').track('clow.rotation', [[0, 0]]);
  // @ts-expect-error no role is called "clow"
  expect(() => parseReel(defineReel({ roles: { claw: {} }, clips: [astray] }))).toThrow('Did you mean "claw"?');
  // @ts-expect-error "9 frames" is no time
  expect(() => parseReel(defineReel({ clips: [defineClip('a').cue('9 frames', 'b')] }))).toThrow('invalid time');
  expect(() => defineReel({ clips: [snap, snap] })).toThrow('two clips have the name "snap"');

  const text = formatReel(document);
  expect(text).toContain('{ "at": "6f", "value": -40 }');
  expect(parseReel(text).clip('snap').spans).toEqual({ closing: [0, 0.1] });
});

test('a text or an unknown value takes any name, and checks it when it runs', () => {
  const player = new Player(parseReel('{ "unspool": 1, "clips": { "snap": { "duration": 1 } } }'));
  expect(player.play('snap').clip.duration).toBe(1);
  expect(() => player.play('anything')).toThrow('has no clip "anything"');
});
