import { expect, test } from 'vitest';
import namedDocument from '../../test/named.reel.json' with { type: 'json' };
import { HitWorld } from '../hit/index.js';
import {
  compileReel,
  defineClip,
  defineReel,
  formatReel,
  loadReel,
  parseReel,
  Player,
  startRoutine,
} from '../index.js';

/** What must not compile is checked by the compiler: an error that is expected and does not come is an error. */
test('names from a JSON module: a misspelled one does not compile', () => {
  const reel = parseReel(namedDocument);
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

/** Compiles only when the two types are the same. */
const isType = <Expected>(value: Expected): Expected => value;
type Same<A, B> = (<T>() => T extends A ? 1 : 2) extends <T>() => T extends B ? 1 : 2 ? true : false;
const same = <A, B>(yes: Same<A, B>) => yes;

const SWING = defineClip('swing', { fps: 60, duration: '12f', loop: { mode: 'loop', count: 2 }, after: 'rest' })
  .track(
    'crab.position.x',
    [
      [0, 0, 'sine-in-out'],
      ['12f', 4],
    ],
    { space: 'offset' },
  )
  .track(
    'claw.rotation',
    [
      [0, 350],
      ['6f', 10],
    ],
    { turn: 'shortest' },
  )
  .track(
    'claw.tint',
    [
      [0, '#ffffff'],
      ['12f', '#ff0000'],
    ],
    { mix: 'oklab' },
  )
  .track('crab.frame', [{ at: 0, frames: [0, 3], each: '3f' }])
  .track('claw.pincer', [
    [0, null],
    ['4f', { center: [8, -2], size: [8, 4] }, { data: { damage: 2 } }],
    ['8f', null],
  ])
  .track('crab.weights.bulge', [
    [0, 0],
    ['12f', 1],
  ])
  .track('crab.mood', [[0, 'calm']])
  .track('crab.turn', [[0, { euler: [0, 90, 0], order: 'yxz' }]])
  .track(
    'crab.slide',
    [
      [0, 0, { ease: 'curve', out: [0.05, 1] }],
      ['12f', 1, { in: [-0.05, 0] }],
    ],
    { kind: 'number' },
  )
  .cue('4f', 'strike', { data: { sound: 'clack', volume: 0.5 } })
  .cue('6f', 'open', { until: '8f' })
  .span('closing', 0, '6f');
const BOTH = defineClip('both').part('swing', 0, { rate: 2, until: '6f' }).cue(0, 'begin');
const EVERYTHING = defineReel({
  name: 'crab',
  sheets: { crab: { image: 'crab.png', columns: 4, rows: 1, cell: [32, 32] } },
  roles: {
    crab: { sheet: 'crab', rest: { opacity: 0.5 } },
    claw: { parent: 'crab', shapes: { pincer: { kind: 'box', tag: 'hits', data: { damage: 1 } } } },
  },
  clips: [SWING, BOTH],
  chains: { twice: ['swing', { clip: 'both', fade: '2f' }] },
  facings: { swing: { right: 'swing', left: { mirror: 'right' } } },
});

test('all that a reel can have, in code: the document is valid, and its types follow from it', () => {
  const reel = parseReel(EVERYTHING);
  const player = new Player(reel);
  player.play('swing', { span: 'closing' });
  player.enqueue('twice');
  player.face('swing', [-1, 0], {});
  // @ts-expect-error no span is called "clsing"
  expect(() => player.play('swing', { span: 'clsing' })).toThrow('Did you mean "closing"?');
  // @ts-expect-error no chain is called "thrice"
  expect(() => player.enqueue('thrice')).toThrow('has no clip "thrice"');
  const data: unknown[] = [];
  player.on('cue', (cue) => {
    if (cue.name === 'strike') data.push(isType<number>(cue.data.volume));
    // @ts-expect-error the cue "begin" has no data
    if (cue.name === 'begin') data.push(cue.data.volume);
  });
  player.tick(0.1);
  expect(data).toEqual([0.5]);

  const pose = reel.clips.swing.sample(0.1);
  expect(isType<number>(pose.get('claw.rotation'))).toBe(10);
  expect(isType<[number, number, number, number]>(pose.get('claw.tint'))).toHaveLength(4);
  expect(isType<string>(pose.get('crab.mood'))).toBe('calm');
  expect(isType<number>(pose.get('crab.weights.bulge'))).toBeCloseTo(0.5);
  same<ReturnType<typeof pose.get<'crab.turn'>>, [x: number, y: number, z: number, w: number]>(true);
  const pincer = pose.get('claw.pincer');
  expect(pincer && isType<readonly [number, number]>(pincer.size)).toEqual([8, 4]);
  // @ts-expect-error no property is called "claw.rotatoin"
  expect(() => pose.get('claw.rotatoin')).toThrow('Did you mean "claw.rotation"?');
  // @ts-expect-error a rest value that no clip animates is a property too, of any kind
  expect(isType<number>(player.pose.get('crab.opacity'))).toBe(0.5);

  const world = new HitWorld<{ readonly damage: number }>({ onHit: ({ data: hit }) => isType<number>(hit!.damage) });
  world.add('crab', player);
  const other = new HitWorld<{ readonly name: string }>();
  // @ts-expect-error the data of this world's hits has a name and no damage
  expect(() => other.add('crab', player)).toThrow('already in another hit world');
});

test('in code: names that are used before they are there do not compile', () => {
  const draft = { roles: { crab: {}, claw: {} }, clips: [BOTH] } as const;
  // @ts-expect-error no clip is called "bth"
  expect(() => parseReel(defineReel({ ...draft, chains: { c: ['bth'] } }))).toThrow('Did you mean "both"?');
  // @ts-expect-error no clip is called "bth"
  expect(() => parseReel(defineReel({ ...draft, facings: { f: { left: 'bth' } } }))).toThrow('Did you mean "both"?');
  // @ts-expect-error no side is called "lfet"
  expect(() => parseReel(defineReel({ ...draft, facings: { f: { lfet: 'both' } } }))).toThrow('Did you mean "left"?');
  // @ts-expect-error no role is called "crib"
  expect(() => parseReel(defineReel({ ...draft, roles: { crab: {}, claw: { parent: 'crib' } } }))).toThrow('"crab"?');
  const clip = defineClip('a');
  // @ts-expect-error a track has no option "trun"
  const track = clip.track('b.c', [[0, 1]], { trun: 'literal' });
  expect(() => parseReel(defineReel({ clips: [track] }))).toThrow('unknown member "trun"');
});

test('one channel of a property, by its name', () => {
  const pose = parseReel({
    unspool: 1,
    roles: { a: { shapes: { s: { kind: 'circle' } } } },
    clips: { c: { tracks: { 'a.position': [{ at: 0, value: [3, 4] }], 'a.s': [{ at: 0, value: { radius: 2 } }] } } },
  })
    .clip('c')
    .sample(0);
  expect([pose.get('a.position.x'), pose.get('a.position.y'), pose.get('a.s.radius')]).toEqual([3, 4, 2]);
  expect(pose.get('a.s.center.y')).toBe(0);
  expect(pose.get('a.s.active')).toBe(true);
  expect(() => pose.get('a.position.w')).toThrow('unknown property "a.position.w"');
  expect(() => pose.get('')).toThrow('unknown property ""');
});

test('a text or an unknown value takes any name, and checks it when it runs', () => {
  const player = new Player(parseReel('{ "unspool": 1, "clips": { "snap": { "duration": 1 } } }'));
  expect(player.play('snap').clip.duration).toBe(1);
  expect(() => player.play('anything')).toThrow('has no clip "anything"');
});

test('a routine knows its inputs and rules', () => {
  const inputs = { speed: { kind: 'number' }, way: { kind: 'vec2' }, wet: { kind: 'flag' }, go: { kind: 'signal' } } as const; // prettier-ignore
  const still = defineClip('still').track('claw.rotation', [[0, 5], [1, 6]]); // prettier-ignore
  const rules = [{ name: 'act', on: 'go', play: 'still' }, { name: 'idle', play: 'still' }] as const; // prettier-ignore
  const player = new Player(parseReel(defineReel({ clips: [still], routines: { crab: { inputs, rules } } })));
  // @ts-expect-error no routine is called "carb"
  expect(() => startRoutine(player, 'carb')).toThrow('Did you mean "crab"?');
  const act = startRoutine(player, 'crab');
  act.set({ speed: 4, way: [1, 0], wet: true });
  const way: readonly [number, number] = act.get('way');
  expect([way, act.get('wet'), act.get('speed')]).toEqual([[1, 0], true, 4]);
  // @ts-expect-error no input is called "sped"; nothing is set
  expect(() => act.set({ speed: 9, sped: 1 })).toThrow('Did you mean "speed"?');
  expect(act.get('speed')).toBe(4);
  // @ts-expect-error a flag is no number
  expect(() => act.set('wet', 1)).toThrow('1 is not a value of the input "wet". Use true or false.');
  // @ts-expect-error a signal has no value
  expect(() => act.set('go', true)).toThrow('Use signal("go")');
  // @ts-expect-error an input with a value is no signal
  expect(() => act.signal('speed')).toThrow('unknown signal "speed"');
  for (const bad of [NaN, Infinity, null, '4']) expect(() => act.set('speed', bad as never)).toThrow('finite number');
  expect(() => act.set(null as never)).toThrow('Pass an object');
  expect(() => act.rule('arm')).toThrow('no rule plays on the layer "arm"');
  act.signal('go');
  player.tick(0);
  // @ts-expect-error no rule is called "atc"
  void (act.rule() === 'atc');
  expect(act.rule() === 'act').toBe(true);
  player.on('rule', ({ name }) => {
    // @ts-expect-error no rule is called "atc"
    void (name === 'atc');
  });
  expect(startRoutine(player, 'crab')).toBe(act);
  act.stop();
  expect([act.isRunning, startRoutine(player, 'crab') === act]).toEqual([false, false]);
  // A reel that was compiled ahead has the same names.
  const loaded = startRoutine(new Player(loadReel(compileReel(player.reel))), 'crab');
  // @ts-expect-error no input is called "sped"
  expect(() => loaded.set({ sped: 1 })).toThrow('Did you mean "speed"?');
});
