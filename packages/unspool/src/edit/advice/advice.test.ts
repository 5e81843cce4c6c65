import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { checkReel, trustReel, type ReelDocument } from '../../index.js';
import { advise, edit } from '../index.js';

const clip = (one: object, rest: object = {}) =>
  ({ unspool: 1, fps: 60, clips: { one }, ...rest }) as unknown as ReelDocument;
const track = (name: string, keys: unknown, more: object = {}) => clip({ tracks: { [name]: keys }, ...more });
const line = (from: unknown, to: unknown, end = '20f') => [{ at: 0, value: from }, { at: end, value: to }]; // prettier-ignore
const drawings = (last: string) => [
  { at: 0, value: 0 },
  { at: last, value: 1 },
];
const loop = { duration: '20f', loop: 'loop' };
const cue = (at: string | number, name = 'hit') => ({ at, name });
const sheets = { pool: { image: 'pool.png', columns: 4, rows: 1, cell: [8, 8] } };
const roles = (role: object) => ({ roles: { crab: role } });

/** A reel with a clip that ends at 20f, one that loops, and a routine of these rules. */
const routine = (...rules: object[]) =>
  ({
    unspool: 1,
    clips: {
      one: { ...track('crab.rotation', line(0, 9)).clips['one'], cues: [cue('8f'), cue('20f', 'over')], spans: { late: ['20f', '30f'] } },
      round: { ...track('crab.rotation', line(0, 0)).clips['one'], ...loop },
    },
    routines: { main: { inputs: { go: { kind: 'signal' }, wet: { kind: 'flag' } }, rules: [...rules, { name: 'end', if: { wet: true }, on: 'go', play: 'one', layer: 'other' }] } },
  }) as unknown as ReelDocument; // prettier-ignore
const withInput = (speed: object, conditions?: object) => {
  const doc = routine({ ...act, if: conditions });
  return { ...doc, routines: { main: { ...doc.routines!['main']!, inputs: { ...doc.routines!['main']!.inputs, speed } } } } as ReelDocument; // prettier-ignore
};
const idle = { name: 'idle', play: 'round' };
const act = { name: 'act', on: 'go', play: 'one' };

/** By rule: a reel that it is about, one that only just is not, and what is said. */
const CASES: readonly (readonly [code: string, found: ReelDocument, near: ReelDocument, message: string])[] = [
  [
    'late-start',
    track('crab.rotation', [{ at: '3f', value: 5 }, { at: '9f', value: 8 }]),
    track('crab.rotation', [{ at: 0, value: 5 }, { at: '9f', value: 8 }]),
    'the first key of crab.rotation is at 3f, so it shows 5 from the start',
  ],
  ['dead-end', track('crab.frame', drawings('9f'), { duration: '20f' }), track('crab.frame', drawings('18f'), { duration: '20f' }), 'one does not change from 18f'],
  ['late-start', track('crab.opacity', [{ at: '3f', value: 0.5 }, { at: '9f', value: 1 }]), track('crab.opacity', [{ at: '3f', value: 1 }, { at: '9f', value: 0 }]), 'the first key of crab.opacity is at 3f'],
  ['late-start', track('crab.rotation', [{ at: '3f', value: 5 }, { at: '9f', value: 8 }]), { ...track('crab.rotation', [{ at: '3f', value: 5 }, { at: '9f', value: 8 }]), ...roles({ rest: { rotation: 5 } }) }, 'the first key of crab.rotation is at 3f'],
  ['dead-end', track('crab.rotation', line(0, 9, '18f'), { duration: '20f' }), track('crab.rotation', line(0, 9, '19f'), { duration: '20f' }), 'one does not change from 18f to its end at 20f'],
  ['loop-jump', track('crab.rotation', line(0, 90), loop), track('crab.rotation', line(0, 360), loop), 'it ends at 90 and starts at 0'],
  ['loop-jump', track('crab.opacity', line(0.2, 1), loop), track('crab.opacity', line(0, 0), loop), 'it ends at 1 and starts at 0.2'],
  [
    'loop-kink',
    track('crab.glow', [{ at: 0, value: 0, ease: 'smooth' }, { at: '10f', value: 9, ease: 'quad-in' }, { at: '20f', value: 0 }], loop),
    track('crab.glow', [{ at: 0, value: 0, ease: 'sine-in-out' }, { at: '10f', value: 9, ease: 'sine-in-out' }, { at: '20f', value: 0 }], loop),
    'changes abruptly where one loops: from -108 to',
  ],
  [
    'repeated-frame',
    track('crab.frame', [{ at: 0, frames: [0, 3], each: '5f' }, { at: '20f', value: 0 }], { duration: '25f', loop: 'loop' }),
    track('crab.frame', [{ at: 0, frames: [0, 3], each: '5f' }, { at: '20f', value: 0 }], loop),
    'one ends on cell 0 from 20f and starts on it again',
  ],
  ['opacity-scale', track('crab.opacity', line(0, 128)), track('crab.opacity', line(0, 1)), 'the opacity 128 is shown as 1'],
  ['long-way', track('crab.rotation', line(350, 10)), track('crab.rotation', line(350, 370)), 'turns -340° from the start to 20f; the shorter turn is 20°'],
  ['off-grid', track('crab.rotation', line(0, 1, '0.166s')), track('crab.rotation', line(0, 1, '0.16s')), 'is 0.04 of a frame off frame 10'],
  ['cue-never', clip({ ...loop, loop: { mode: 'loop', count: 0.5 }, cues: [cue('12f')] }), clip({ ...loop, loop: { mode: 'loop', count: 0.75 }, cues: [cue('12f')] }), 'the cue "hit" at 12f never fires: one ends at 10f'],
  ['cue-twice', clip({ duration: '20f', cues: [cue('5f'), cue('5f')] }), clip({ duration: '20f', cues: [cue('5f'), cue('5f', 'other')] }), 'the cue "hit" fires twice at 5f'],
  ['cue-twice', clip({ ...loop, cues: [cue(0), cue('20f')] }), clip({ duration: '20f', cues: [cue(0), cue('20f')] }), 'the start of the loop, which are the same moment'],
  ['unused', { ...track('crab.frame', line(0, 1)), sheets, ...roles({}) } as unknown as ReelDocument, { ...track('crab.frame', line(0, 1)), sheets, ...roles({ sheet: 'pool' }) } as unknown as ReelDocument, 'no role uses the sheet "pool"'],
  ['unused', { ...track('crab.frame', line(0, 1)), roles: { crab: {}, eye: {} } }, { ...track('crab.frame', line(0, 1)), roles: { crab: { parent: 'eye' }, eye: {} } }, 'no clip animates the role "eye"'],
  ['rule-never', routine(idle, act), routine(act, idle), 'the rule "act" never plays: "idle" above it always applies'],
  ['rule-never', routine(act, { ...act, name: 'two' }), routine({ ...act, if: { wet: true } }, { ...act, name: 'two' }), '"act" above it takes every "go"'],
  ['rule-endless', routine({ ...act, play: 'round' }), routine({ ...act, play: 'round', loop: 'once' }), '"round" loops forever'],
  ['rule-endless', { ...routine({ ...act, play: 'both' }), chains: { both: ['one', 'round'] } }, { ...routine({ ...act, play: 'both' }), chains: { both: ['one', { clip: 'round', loop: 'once' }] } }, '"round" loops forever'],
  ['free-late', routine({ ...act, free: 'over' }), routine({ ...act, free: 'hit' }), '"over" begins at 20f, when "one" has ended'],
  ['free-late', routine({ ...act, free: 'hit', until: '8f' }), routine({ ...act, free: 'hit', until: '9f' }), '"hit" begins at 8f'],
  ['unused', withInput({ kind: 'signal' }), withInput({ kind: 'number' }, { speed: { above: 1 } }), 'no rule waits for the signal "speed"'],
  ['unused', withInput({ kind: 'number' }), withInput({ kind: 'number' }, { speed: 1 }), 'no rule reads the input "speed"'],
  ['case-only', clip({ duration: '9f', cues: [cue(0, 'shut'), cue('3f', 'Shut')] }), clip({ duration: '9f', cues: [cue(0, 'shut'), cue('3f', 'shuts')] }), 'the cue "Shut" differs from "shut" only in case'],
]; // prettier-ignore

const codes = (doc: ReelDocument) => advise(doc).map(({ code }) => code);

describe('advice', () => {
  it.each(CASES)('%s is given where it fits, and not where it only nearly does', (code, found, near, message) => {
    for (const doc of [found, near]) expect(checkReel(doc).filter(({ severity }) => severity === 'error')).toEqual([]);
    const advice = advise(found).find((one) => one.code === `advice/${code}`);
    expect(advice?.message).toContain(message);
    expect(codes(near)).not.toContain(`advice/${code}`);
  });

  it.each(CASES.map(([code, found]) => [code, found] as const))('what mends %s mends it', (code, found) => {
    const advice = advise(found).find((one) => one.code === `advice/${code}`)!;
    if (!advice.fix) return;
    const mended = edit(found, { do: 'group', operations: advice.fix });
    expect(mended.ok, mended.said).toBe(true);
    if (!mended.ok) return;
    expect(codes(mended.doc)).not.toContain(advice.code);
    if (!advice.safe) return;
    const [was, is] = [trustReel(found).clip('one'), trustReel(mended.doc).clip('one')];
    for (let i = 0; i <= 200; i++) expect([...is.sample(i / 200).values]).toEqual([...was.sample(i / 200).values]);
  });

  it.each<readonly [code: string, found: ReelDocument, near: ReelDocument]>([
    ['reel/key-after-end', track('crab.rotation', line(0, 9), { duration: '19f' }), track('crab.rotation', line(0, 9), { duration: '20f' })],
    ['reel/cue-after-end', clip({ duration: '9f', cues: [cue('10f')] }), clip({ duration: '9f', cues: [cue('9f')] })],
    [
      'reel/frame-outside',
      { ...track('crab.frame', line(0, 8)), sheets, ...roles({ sheet: 'pool' }) } as unknown as ReelDocument,
      { ...track('crab.frame', line(0, 3)), sheets, ...roles({ sheet: 'pool' }) } as unknown as ReelDocument,
    ],
    [
      'reel/chain-endless',
      { ...clip({ duration: '9f', loop: 'loop' }), chains: { on: ['one', 'one'] } },
      { ...clip({ duration: '9f', loop: { mode: 'loop', count: 2 } }), chains: { on: ['one', 'one'] } },
    ],
  ])('%s is a warning of the check itself', (code, found, near) => {
    expect(checkReel(found).map((one) => one.code)).toContain(code);
    expect(checkReel(near).map((one) => one.code)).not.toContain(code);
  }); // prettier-ignore

  it('of an opacity of another scale only the keys of that scale are divided', () => {
    const found = track('crab.opacity', [
      { at: 0, value: 1 },
      { at: '9f', value: 128 },
      { at: '20f', value: 1 },
    ]);
    const [advice] = advise(found);
    const fixed = edit(found, { do: 'group', operations: advice!.fix! });
    const values =
      fixed.ok &&
      trustReel(fixed.doc)
        .clip('one')
        .tracks[0]!.keys.map(({ value }) => value[0]);
    expect(values).toEqual([1, 128 / 255, 1]);
  });

  it('no fix takes the last drawing of a walk away', () => {
    const walk = Array.from({ length: 10 }, (_, i) => ({ at: `${6 * i}f`, value: i }));
    expect(codes(track('crab.frame', walk, { duration: '60f', loop: 'loop' }))).toEqual([]);
    const found = track('crab.frame', walk, { duration: '90f', loop: 'loop' });
    const fixed = edit(found, { do: 'group', operations: advise(found)[0]!.fix! });
    expect(
      fixed.ok &&
        trustReel(fixed.doc)
          .clip('one')
          .sample(57 / 60)
          .get('crab.frame'),
    ).toBe(9);
  });

  it('reports names that a game never uses, when its sources are known', () => {
    const doc = clip({ duration: '9f', cues: [cue(0), cue('3f', 'step')], spans: { up: [0, '3f'] } });
    const reported = advise(doc, { gameIdentifiers: (name) => name === 'one' || name === 'step' }).map(
      ({ message }) => message,
    );
    expect(reported).toEqual(['the game never uses the cue "hit" of one', 'the game never plays the span "up" of one']);
    expect(advise(doc)).toEqual([]);
  });

  it('is omitted where an author has accepted it; it has its place', () => {
    const [code, doc] = CASES[0]!;
    const text = JSON.stringify(doc, null, 2);
    expect(advise(doc, { text, source: 'a.reel.json' })[0]).toMatchObject({
      line: 7,
      column: 9,
      source: 'a.reel.json',
    });
    const accepted = { ...doc.clips['one'], 'x-accept': { [`advice/${code}`]: 'it waits' } };
    expect(advise({ ...doc, clips: { one: accepted } })).toEqual([]);
    expect(advise({ ...doc, 'x-accept': { 'advice/other': 'no' } } as ReelDocument)).toHaveLength(1);
  });

  it('has nothing left to say of the demo reels', () => {
    const folder = new URL('../../../../../examples/tidepool/reels/', import.meta.url);
    for (const name of readdirSync(folder).filter((one) => one.endsWith('.reel.json'))) {
      const doc = JSON.parse(readFileSync(new URL(name, folder), 'utf8')) as ReelDocument;
      expect(advise(doc, { source: name }).map(({ message }) => message)).toEqual([]);
    }
  });
});
