import { expect, test } from 'vitest';
import { expectClear, refusalOf, WRONG_VALUES, type Call } from '../../test/wrong-values.js';
import { canvasScene } from '../cast/canvas.js';
import { domCast } from '../cast/dom.js';
import { matrixScene, RoleMatrices } from '../cast/matrix.js';
import { objects3dCast } from '../cast/objects3d.js';
import { pixiCast } from '../cast/pixi.js';
import { parseReel, Player, UnspoolError } from '../index.js';
import { adopt, hotReel, link } from '../live/index.js';
import { runScript } from '../script/index.js';
import {
  advise,
  capture,
  compareReels,
  copyKeys,
  edit,
  History,
  LiveSamples,
  longestSteps,
  mergeReels,
  patchBetween,
  record,
} from './index.js';

/** Calls of the other entry points than `unspool` and `unspool/hit`: see calls.test.ts of the package. */
const doc = {
  unspool: 1,
  roles: { arm: {} },
  clips: { snap: { duration: 1, tracks: { 'arm.rotation': [{ at: 0, value: 0 }] } } },
} as const;
const fit = { do: 'fit', clip: 'snap', duration: 2 } as const;
const reel = () => parseReel<unknown>(doc);
const at = { clip: 'snap', at: 0.5, shown: {}, values: { 'arm.rotation': 3 } };
const calls: Readonly<Record<string, Call>> = {
  edit: (value) => edit(value, fit),
  'edit, operation': (value) => edit(doc, value),
  History: (value) => new History(value),
  'History, options': (value) => new History(doc, value),
  'History, journal': (value) => new History(doc, { journal: value }),
  'History, limit': (value) => new History(doc, { limit: value }),
  'history.apply': (value) => new History(doc).apply(value),
  'history.apply, options': (value) => new History(doc).apply(fit, value),
  'history.undo': (value) => new History(doc).undo(value),
  'history.redo': (value) => new History(doc).redo(value),
  'History.recover': (value) => History.recover(value),
  advise: (value) => advise(value),
  'advise, options': (value) => advise(doc, value),
  'advise, text': (value) => advise(doc, { text: value }),
  'advise, gameIdentifiers': (value) => advise(doc, { gameIdentifiers: value }),
  capture: (value) => capture(value, { tolerance: 1 }),
  'capture, options': (value) => capture([], value),
  'capture, fps': (value) => capture([], { tolerance: 1, fps: value }),
  compareReels: (value) => compareReels(value, doc),
  'compareReels, other': (value) => compareReels(doc, value),
  copyKeys: (value) => copyKeys(value, { clip: 'snap' }),
  'copyKeys, selection': (value) => copyKeys(doc, value),
  'copyKeys, tracks': (value) => copyKeys(doc, { clip: 'snap', tracks: value }),
  'copyKeys, at': (value) => copyKeys(doc, { clip: 'snap', at: value }),
  LiveSamples: (value) => new LiveSamples(value),
  'LiveSamples, options': (value) => new LiveSamples(() => ({}), value),
  longestSteps: (value) => longestSteps(value, () => false),
  mergeReels: (value) => mergeReels(doc, value, doc),
  'mergeReels, options': (value) => mergeReels(doc, doc, doc, value),
  'mergeReels, prefer': (value) => mergeReels(doc, doc, doc, { prefer: value }),
  patchBetween: (value) => patchBetween(value, doc, 'changed'),
  record: (value) => record(value, at),
  'record, recording': (value) => record(doc, value),
  'record, shown': (value) => record(doc, { ...at, shown: value }),
  'record, values': (value) => record(doc, { ...at, values: value }),
  adopt: (value) => adopt(value, reel()),
  'adopt, reel': (value) => adopt(new Player(reel()), value),
  hotReel: (value) => hotReel(value, reel(), () => undefined),
  'hotReel, reel': (value) => hotReel({}, value, () => undefined),
  'hotReel, read': (value) => hotReel({}, reel(), value),
  'hotReel, next': (value) => hotReel({}, reel(), () => undefined)(value),
  link: (value) => link(value),
  'link, options': (value) => link(new Player(reel()), value),
  runScript: (value) => runScript(value, { for: 1, steps: [] }),
  'runScript, script': (value) => runScript(reel(), value),
  'runScript, options': (value) => runScript(reel(), { for: 1, steps: [] }, value),
  pixiCast: (value) => pixiCast(value),
  domCast: (value) => domCast(value),
  'domCast, origin': (value) => domCast({ origin: value }),
  objects3dCast: (value) => objects3dCast(value),
  canvasScene: (value) => canvasScene(value),
  'canvasScene, options': (value) => canvasScene(reel(), value),
  matrixScene: (value) => matrixScene(value),
  'matrixScene, options': (value) => matrixScene(reel(), value),
  RoleMatrices: (value) => new RoleMatrices(value),
  'RoleMatrices, options': (value) => new RoleMatrices(reel(), 'snap', value),
};

test.each(Object.entries(calls))('%s takes what it is given, or says what is wrong with it', (_, call) =>
  expectClear(call, [...WRONG_VALUES, reel()], (error) => error instanceof UnspoolError),
);

test.each<[name: string, value: unknown, message: string]>([
  ['History, options', { jurnal: () => 1 }, 'unknown option "jurnal" of History. Did you mean "journal"?'],
  ['history.apply, options', { marks: 'x' }, 'unknown option "marks" of apply. Did you mean "mark"?'],
  ['History, limit', 0, 'the limit 0 is not a number above 0'],
  ['mergeReels, prefer', 'their', 'prefer is "their". Use "ours" or "theirs".'],
  ['copyKeys, tracks', 'arm.rotation', '"tracks": expected a list, found "arm.rotation"'],
  ['longestSteps', Infinity, 'the count Infinity of places is not a whole number'],
  ['adopt', {}, 'expected a player, found {}. Pass what new Player(reel) returned.'],
  ['hotReel', null, 'hotReel expects an object and a function, found null and a function'],
  ['runScript, options', { frame: '2f' }, 'unknown option "frame" of runScript. Did you mean "frames"?'],
  ['pixiCast', { frame: {} }, 'unknown option "frame" of pixiCast. Did you mean "frames"?'],
  ['domCast, origin', 0.5, 'the origin 0.5 is not [x, y]. Use two numbers'],
  ['matrixScene, options', { sizes: 3 }, 'unknown option "sizes" of matrixScene. Did you mean "size"?'],
])('%s(%j): %s', async (name, value, message) => {
  expect(String(((await refusalOf(calls[name]!, value)) as Error | undefined)?.message)).toContain(message);
});
