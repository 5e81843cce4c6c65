import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { isShape, parseReel, trustReel, type Reel, type ReelDocument } from 'unspool';
import { edit } from 'unspool/edit';
import { describe, expect, it } from 'vitest';
import { isMoment, keysOf, writeAt } from './keys.js';
import { valuesAt, valuesWith } from './pose.js';
import { rolesOf, rowsOf, type TrackRow } from './rows.js';
import { numbersOf, partsOfValue, typedOf, withNumber } from './values.js';

const REELS = fileURLToPath(new URL('../../../../examples/tidepool/reels/', import.meta.url));
const read = (name: string) => parseReel<unknown>(readFileSync(`${REELS}${name}.reel.json`, 'utf8'));
const crab = read('crab');
const NONE: ReadonlySet<string> = new Set();

const tracksOf = (rows: ReturnType<typeof rowsOf>) => rows.filter((row): row is TrackRow => row.is === 'track');

describe('keys as they are drawn', () => {
  const { snap, 'scuttle-right': scuttle } = crab.document.clips;

  it('have times in seconds, easings in full, and say whether anything happens until the next', () => {
    expect(keysOf(snap!.tracks!['claw.tint']!, 60)).toMatchObject([
      { at: 0, written: 0, value: '#ffffff', ease: 'hold', stays: true },
      { at: 0.2, written: '12f', ease: 'linear', stays: false },
      { at: 0.25, ease: 'ease-out', stays: false },
      { at: 0.4, ease: 'linear', stays: false },
    ]);
  });

  it('of a row of frames are one, as long as all of them', () => {
    expect(keysOf(scuttle!.tracks!['body.frame']!, 60)).toMatchObject([
      { at: 0, until: 0.4, frames: [0, 7], value: 0 },
    ]);
  });

  it('are read once for each track, and again for another frame rate', () => {
    const track = snap!.tracks!['claw.scale']!;
    expect(keysOf(track, 60)).toBe(keysOf(track, 60));
    expect(keysOf(track, 30)[1]!.at).toBe(0.4);
    const made = edit(crab.document, { do: 'move-keys', clip: 'snap', keys: { 'claw.rotation': ['12f'] }, by: '1f' });
    if (!made.ok) throw new Error(made.said);
    expect(keysOf(made.doc.clips['snap']!.tracks!['claw.scale']!, 60)).toBe(keysOf(track, 60));
  });

  it.each([
    [0.2, '12f'],
    [0, 0],
    [12.5 / 60, '12.5f'],
    [1 / 3 / 60, 0.005555556],
  ])('%d s is written as %j', (seconds, written) => expect(writeAt(seconds, 60, { duration: '30f' })).toEqual(written));

  it('of a clip in seconds stay in seconds', () => {
    expect(writeAt(0.2, 60, { duration: 0.5 })).toBe(0.2);
    expect(isMoment(0.2, 0.2 + 1e-10)).toBe(true);
    expect(isMoment(0.2, 0.2001)).toBe(false);
  });
});

describe('rows', () => {
  it('are the roles with what a clip animates of them; of those that are open with all that there is', () => {
    const closed = rowsOf(crab.document, crab, 'snap', NONE);
    expect(closed.map(({ name }) => name)).toEqual([
      'snap',
      'crab',
      'crab.rotation',
      'body',
      'claw',
      'claw.rotation',
      'claw.scale',
      'claw.tint',
      'claw.pincer',
    ]);
    const open = tracksOf(rowsOf(crab.document, crab, 'snap', new Set(['claw', 'body'])));
    const names = open.map(({ name }) => name);
    expect(names).toEqual(
      expect.arrayContaining(['claw.position', 'claw.opacity', 'claw.visible', 'body.frame', 'body.tint']),
    );
    // What is keyed for the first time stays where it was.
    const keyed = edit(crab.document, { do: 'put-key', clip: 'snap', track: 'claw.position', at: '6f', value: [1, 2] });
    if (!keyed.ok) throw new Error(keyed.said);
    const after = rowsOf(keyed.doc, trustReel(keyed.doc) as Reel, 'snap', new Set(['claw', 'body']));
    expect(tracksOf(after).map(({ name }) => name)).toEqual(names);
  });

  it('are the same objects where nothing has changed', () => {
    const before = tracksOf(rowsOf(crab.document, crab, 'snap', NONE));
    const made = edit(crab.document, { do: 'move-keys', clip: 'snap', keys: { 'claw.rotation': ['12f'] }, by: '1f' });
    if (!made.ok) throw new Error(made.said);
    const after = tracksOf(rowsOf(made.doc, trustReel(made.doc) as Reel, 'snap', NONE));
    after.forEach((row, i) => expect(row === before[i], row.name).toBe(row.name !== 'claw.rotation'));
  });

  it('of channels have their number, and of offsets say so', () => {
    const gate = read('gate');
    const row = tracksOf(rowsOf(gate.document, gate, 'gate', NONE)).find(({ name }) => name === 'gate.position.y');
    expect(row).toMatchObject({ property: 'gate.position', channel: 1, kind: 'vec2', isOffset: false });
    const hop = tracksOf(rowsOf(crab.document, crab, 'hop', NONE));
    expect(hop.map(({ isOffset }) => isOffset)).toEqual([true, true]);
  });

  it.each(readdirSync(REELS).filter((name) => name.endsWith('.reel.json')))('have a value at any time: %s', (file) => {
    const reel = read(file.replace('.reel.json', ''));
    const { document } = reel;
    const open = new Set(rolesOf(document, reel));
    for (const name of Object.keys(document.clips)) {
      const clip = reel.clip(name);
      for (const share of [0, 0.3, 1]) {
        const values = valuesAt(reel, clip, clip.duration * share);
        for (const row of tracksOf(rowsOf(document, reel, name, open))) {
          const ofShape = isShape(row.kind);
          if (!ofShape && row.kind !== 'integer') expect(values[row.property], `${name} ${row.name}`).toBeDefined();
        }
      }
    }
  });
});

describe('the pose that is shown', () => {
  it('is the clip’s, over rest values, over what is usual', () => {
    const values = valuesAt(crab, crab.clip('snap'), 0.2);
    expect(values['claw.rotation']).toBe(-48);
    expect(values['claw.position']).toEqual([17, 4]);
    expect(values['claw.opacity']).toBe(1);
    expect(values['crab.visible']).toBe(true);
    expect(values['claw.pincer']).toMatchObject({ center: [22, 0], size: [32, 24] });
    expect(valuesAt(crab, crab.clip('snap'), 0)['claw.pincer']).toBeNull();
    expect(valuesAt(crab, undefined, 0)['claw.rotation']).toBe(0);
  });

  it('is that of a running game where it has one that fits, but for the clip that is edited', () => {
    const own = valuesAt(crab, crab.clip('snap'), 0.2);
    const pincer = { center: [1, 2], size: [3, 4], angle: 5 };
    const shown = (values: object, mine: 'sway' | 'snap' = 'sway') =>
      valuesWith(crab, own, values as typeof own, crab.clip(mine));
    expect(shown({ 'claw.pincer': pincer, 'claw.opacity': 0.5 })).toEqual({ ...own, 'claw.pincer': pincer, 'claw.opacity': 0.5 }); // prettier-ignore
    expect(shown({ 'claw.pincer': null })['claw.pincer']).toBeNull();
    // What is edited is not the game's.
    expect(shown({ 'claw.rotation': 9 }, 'snap')).toEqual(own);
    // Nothing of another kind, and nothing that the reel does not have.
    for (const [name, value] of [
      ['claw.opacity', '1'],
      ['claw.opacity', null],
      ['claw.position', [1]],
      ['claw.position', 4],
      ['claw.pincer', { center: [1, 2] }],
      ['claw.pincer', { center: 1, size: [3, 4], angle: 5 }],
      ['crab.visible', 1],
      ['nobody.rotation', 3],
      ['__proto__', {}],
    ] as const)
      expect(shown({ [name]: value })).toEqual(own);
  });

  it('of a reel without roles has those that its tracks speak of', () => {
    const doc = {
      unspool: 1,
      clips: { a: { tracks: { 'lamp.opacity': [{ at: 0, value: 0.5 }] } } },
    } as unknown as ReelDocument;
    const reel = trustReel(doc) as Reel;
    expect(rolesOf(doc, reel)).toEqual(['lamp']);
    expect(valuesAt(reel, reel.clip('a'), 0)).toMatchObject({ 'lamp.opacity': 0.5, 'lamp.scale': [1, 1] });
  });
});

describe('the numbers of a value', () => {
  it.each([
    [7, [7]],
    [
      [1, 2],
      [1, 2],
    ],
    [{ center: [1, 2], size: [3, 4], angle: 5 }, [1, 2, 3, 4, 5]],
    [{ from: [1, 2], to: [3, 4], radius: 5 }, [1, 2, 3, 4, 5]],
    [true, []],
    [null, []],
    ['open', []],
  ])('%j has %j', (value, numbers) => expect(numbersOf(value as never)).toEqual(numbers));

  it('are changed one by one, and the rest is kept', () => {
    expect(withNumber(7, 0, 8)).toBe(8);
    expect(withNumber([1, 2], 1, 8)).toEqual([1, 8]);
    const box = { center: [1, 2], size: [3, 4], angle: 5 } as never;
    expect(withNumber(box, 3, 8)).toEqual({ center: [1, 2], size: [3, 8], angle: 5 });
    expect(withNumber(box, 4, 8)).toEqual({ center: [1, 2], size: [3, 4], angle: 8 });
  });

  it.each([
    [7, 'number', [['', '']]],
    [2, 'vec2', [['', '']]],
    [[1, 2, 3], 'vec3', [['', 'x', 'y', 'z']]],
    [{ center: [1, 2], radius: 5 }, 'circle', [['center', 'x', 'y'], ['radius', '']]], // prettier-ignore
    [{ size: [3, 4] }, 'box', [['size', 'x', 'y']]],
    [{ euler: [1, 2, 3], order: 'zyx' }, 'quat', [['euler', 'x', 'y', 'z']]],
  ] as const)('%j is shown as the parts of a %s', (value, kind, parts) => {
    const shown = partsOfValue(value as never, kind);
    expect(shown.map(({ caption, names }) => [caption, ...names])).toEqual(parts);
    expect(shown.map(({ first }) => first)).toEqual(parts.map((_, i) => parts.slice(0, i).flatMap((part) => part.slice(1)).length)); // prettier-ignore
  });

  it('of a quaternion are three turns, of which another quaternion is made', () => {
    const [turns, keep] = typedOf([0, 0, Math.SQRT1_2, Math.SQRT1_2], 'quat');
    expect(turns).toEqual([0, 0, 90].map((n) => expect.closeTo(n, 9) as number));
    expect(keep([0, 0, 180])).toEqual([0, 0, 1, 0]);
    const written = { euler: [0, 0, 90] } as never;
    expect(typedOf(written, 'quat')[0]).toBe(written);
  });
});
