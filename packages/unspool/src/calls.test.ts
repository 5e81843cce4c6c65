import { expect, test } from 'vitest';
import { expectClear, refusalOf, WRONG_VALUES, type Call } from '../test/wrong-values.js';
import { adviseShapes, HitWorld, shapeOf, shapesAt, sweep } from './hit/index.js';
import {
  checkReel,
  compileReel,
  Crowd,
  declarationOf,
  defineReel,
  flatTracks,
  parseReel,
  Player,
  prepareClip,
  ReelError,
  sheetRect,
  startRoutine,
  travelOf,
  UnspoolError,
} from './index.js';

/** Calls with what a program without types may pass by mistake. */
const reel = parseReel<unknown>({
  unspool: 1,
  roles: { arm: { shapes: { tip: { kind: 'circle', tag: 'hits' } } } },
  clips: { snap: { duration: 1, tracks: { 'arm.tip': [{ at: 0, value: { center: [0, 0], radius: 2 } }] } } },
});
const clip = reel.clip('snap');
const shape = { kind: 'circle', center: [0, 0], radius: 1 } as const;
const body = { shapes: { it: { shape, tag: 'hurt' } }, position: [0, 0] } as const;
const playing = () => {
  const player = new Player(reel);
  player.play('snap');
  player.enqueue('snap');
  return player;
};
const wrong: readonly unknown[] = [
  ...WRONG_VALUES,
  ...[reel, clip, shape, { shapes: null }, { shapes: { a: null } }, { shapes: { a: { shape } }, position: [0, 0] }],
  ...[{ shapes: body.shapes }, { ...body, position: [0] }, { ...body, position: ['0', 0] }],
];
const world = () => new HitWorld();
const used = (options: object) => {
  const one = new HitWorld(options).add('a', body).add('p', playing());
  one.tick(0.1);
};
const calls: Readonly<Record<string, Call>> = {
  Player: (value) => new Player(value),
  'Player, options': (value) => new Player(reel, value),
  play: (value) => new Player(reel).play(value),
  'play, options': (value) => new Player(reel).play('snap', value),
  enqueue: (value) => new Player(reel).enqueue('snap', value),
  fallback: (value) => new Player(reel).fallback('snap', value),
  layer: (value) => new Player(reel).layer('top', value),
  'player.stop': (value) => playing().stop(value),
  'player.finish': (value) => playing().finish(value),
  'player.place': (value) => playing().place(value),
  'layer.stop': (value) => playing().layers[0]!.stop(value),
  'playback.stop': (value) => playing().playback!.stop(value),
  'playback.finish': (value) => playing().playback!.finish(value),
  'playback.resume': (value) => playing().playback!.resume(value),
  'playback.seek': (value) => playing().playback!.seek(value),
  'playback.seek, options': (value) => playing().playback!.seek(0.5, value),
  'clip.sample': (value) => clip.sample(value),
  // A clip has the layout of its poses.
  'clip.sample, pose': (value) => value !== clip && clip.sample(0, value),
  'clip.sampleInside': (value) => value !== clip && clip.sampleInside(0, value),
  startRoutine: (value) => startRoutine(value, 'x'),
  travelOf: (value) => travelOf(value),
  Crowd: (value) => new Crowd(value),
  'crowd.add': (value) => new Crowd(reel).add('snap', value),
  'crowd.prepare': (value) => new Crowd(reel).prepare(value),
  prepareClip: (value) => prepareClip(value),
  compileReel: (value) => compileReel(value),
  declarationOf: (value) => declarationOf(value),
  defineReel: (value) => defineReel(value),
  flatTracks: (value) => flatTracks(value, 'snap'),
  sheetRect: (value) => sheetRect(value, 0),
  'checkReel, options': (value) => checkReel({}, value),
  'parseReel, options': (value) => parseReel({}, value),
  HitWorld: (value) => used(value),
  'HitWorld, pairs': (value) => used({ pairs: value }),
  'HitWorld, may': (value) => used({ may: value }),
  'HitWorld, onHit': (value) => used({ onHit: value }),
  'world.add': (value) => world().add('a', value).tick(0.1),
  'world.add, name': (value) => world().add(value, body).tick(0.1),
  'world.add, at': (value) => world().add('a', playing(), value).tick(0.1),
  sweep: (value) => sweep(value, shape, 0, 1),
  shapesAt: (value) => shapesAt(value, 0),
  'shapesAt, time': (value) => shapesAt(clip, value),
  shapeOf: (value) => shapeOf(value, 'arm.tip'),
  adviseShapes: (value) => adviseShapes(value),
};

test.each(Object.entries(calls))('%s takes what it is given, or says what is wrong with it', (_, call) =>
  expectClear(call, wrong, (error) => error instanceof ReelError || error instanceof UnspoolError),
);

test.each<[name: string, value: unknown, message: string]>([
  ['world.add', { shapes: body.shapes }, 'the body "a" has no position. Set it: { shapes, position: [x, y] }.'],
  [
    'world.add',
    { shapes: { it: { shape } }, position: [0, 0] },
    'the shape "it" of the body "a" expects a shape and a tag',
  ],
  ['world.add', 'crab', 'expected a player or a body as "a", found "crab". Pass a Player'],
  ['world.add, at', [0, 0], 'the place of "a" is not a function: [0,0]'],
  [
    'HitWorld, pairs',
    ['hits', 'hurt'],
    'pairs expects pairs of tags, found ["hits","hurt"]. Pass [[\'hits\', \'hurt\']].',
  ],
  ['HitWorld', { onhit: () => 1 }, 'unknown option "onhit" of HitWorld. Did you mean "onHit"?'],
  ['Crowd', undefined, 'expected a reel, found undefined. Parse the document first: new Crowd(parseReel(document)).'],
  ['shapesAt', 'snap', 'expected a clip, found "snap". Take it from its reel: reel.clip(name).'],
  ['player.stop', { fad: 0.2 }, 'unknown option "fad" of stop. Did you mean "fade"?'],
  ['playback.stop', { after: 'hodl' }, 'unknown after "hodl". Did you mean "hold"?'],
  ['playback.finish', { cue: false }, 'unknown option "cue" of finish. Did you mean "cues"?'],
  ['playback.seek, options', { cue: true }, 'unknown option "cue" of seek. Did you mean "cues"?'],
  ['playback.resume', { till: 0.5 }, 'unknown option "till" of resume.'],
  ['startRoutine', {}, 'expected a player, found {}. Pass what new Player(reel) returned.'],
])('%s(%j): %s', async (name, value, message) => {
  expect(String(((await refusalOf(calls[name]!, value)) as Error | undefined)?.message)).toContain(message);
});

test('options of stop are checked also where nothing plays', () => {
  const player = new Player(reel);
  for (const options of [{ fad: 1 }, { after: 'hodl' }, { fade: -1 }, { fade: 'x' }, null]) {
    expect(() => player.stop(options as never)).toThrow(/./);
    expect(() => player.layer('top').stop(options as never)).toThrow(/./);
  }
  expect(() => player.stop({ fade: '3f' })).not.toThrow();
});

test('what is refused has changed nothing', () => {
  const player = playing();
  const before = player.save();
  for (const options of [{ fad: 1 }, { after: 'hodl' }, { fade: -1 }, null]) {
    expect(() => player.stop(options as never)).toThrow(/./);
    expect(() => player.layers[0]!.stop(options as never)).toThrow(/./);
  }
  expect(player.save()).toEqual(before);
  const one = new HitWorld();
  expect(() => one.add('a', { shapes: body.shapes } as never)).toThrow(UnspoolError);
  expect(one.add('a', body).shapes).toHaveLength(1);
  const moving: { shapes: typeof body.shapes; position: readonly [number, number] } = { ...body };
  one.add('b', moving).tick(0.1);
  moving.position = undefined as never;
  expect(() => one.tick(0.1)).toThrow('the body "b" has no position');
});
