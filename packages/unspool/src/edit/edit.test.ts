import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { formatReel, trustReel, type ReelDocument } from '../index.js';
import { copyKeys, edit, record, type Operation } from './index.js';

const read = (name: string) =>
  JSON.parse(
    readFileSync(new URL(`../../../../examples/tidepool/reels/${name}.reel.json`, import.meta.url), 'utf8'),
  ) as ReelDocument;
const crab = read('crab');
const scene = {
  unspool: 1,
  fps: 60,
  roles: { crab: {}, 'claw-left': { parent: 'crab', shapes: { tip: { kind: 'circle' } } }, 'claw-right': { shapes: { tip: { kind: 'circle' } } } },
  clips: {
    wave: {
      duration: '20f',
      loop: 'loop',
      tracks: {
        'claw-left.rotation': [{ at: '4f', value: 10, ease: 'hold' }, { at: '10f', value: 30 }],
        'claw-left.tip': [{ at: '2f', value: { center: [3, 1], radius: 2 } }, { at: '8f', value: { center: [5, 1] } }, { at: '9f', value: null }],
        'claw-right.position.x': [{ at: 0, value: 1, ease: 'quad-in' }, { at: '10f', value: 5 }],
        'claw-right.position.y': [{ at: 0, value: 2 }, { at: '10f', value: 4, ease: 'curve', out: ['2f', 1] }, { at: '20f', value: 6, in: ['-2f', -1] }],
        'crab.frame': [{ at: 0, frames: [3, 6], each: '2f' }],
      },
      cues: [{ at: '5f', until: '8f', name: 'high' }],
      spans: { up: ['4f', '10f'] },
    },
  },
} as unknown as ReelDocument; // prettier-ignore

/** What the lines of a reel were, and are: an edit as its author sees it in a diff. */
function diff(doc: ReelDocument, operation: Operation): string[] {
  const made = edit(doc, operation);
  if (!made.ok) return [`refused ${made.code}: ${made.said}`];
  const lines = (one: ReelDocument) => formatReel(one).split('\n').map((line) => line.trim().replace(/,$/, '')); // prettier-ignore
  const [was, is] = [lines(doc), lines(made.doc)];
  const gone = was.filter((line) => !is.includes(line)).map((line) => `- ${line}`);
  return [made.said, ...gone, ...is.filter((line) => !was.includes(line)).map((line) => `+ ${line}`)];
}

describe('an operation, and what it does to the lines of a reel', () => {
  const wave = { clip: 'wave' } as const;
  it.each<[Operation, string[]]>([
    [
      { do: 'insert-key', ...wave, track: 'claw-right.position.x', at: '5f' },
      [
        'inserted a key at 5f of claw-right.position.x on its curve',
        '- { "at": 0, "value": 1, "ease": "quad-in" }',
        '+ { "at": 0, "value": 1, "ease": "cubic-bezier(0.333333333333333, 0, 0.666666666666667, 0.333333333333333)" }',
        '+ { "at": "5f", "value": 2, "ease": "cubic-bezier(0.333333333333333, 0.222222222222222, 0.666666666666667, 0.555555555555556)" }',
      ],
    ],
    [
      { do: 'insert-key', ...wave, track: 'crab.frame', at: '3f' },
      [
        'inserted a key at 3f of crab.frame on its curve and 1 more',
        '- { "at": 0, "frames": [3, 6], "each": "2f" }',
        '+ { "at": 0, "frames": [3, 4], "each": "2f" }',
        '+ { "at": "3f", "value": 4 }',
        '+ { "at": "4f", "frames": [5, 6], "each": "2f" }',
      ],
    ],
    [
      { do: 'put-key', ...wave, track: 'crab.frame', at: '2f', value: 9 },
      [
        'set crab.frame to 9 at 2f',
        '- { "at": 0, "frames": [3, 6], "each": "2f" }',
        '+ { "at": 0, "frames": [3, 3], "each": "2f" }',
        '+ { "at": "2f", "value": 9 }',
        '+ { "at": "4f", "frames": [5, 6], "each": "2f" }',
      ],
    ],
    [
      { do: 'set-keys', ...wave, tracks: ['claw-right.position.y'], from: '10f', until: '10f', ease: 'smooth' },
      [
        'set 1 key of claw-right.position.y to smooth',
        '- { "at": "10f", "value": 4, "ease": "curve", "out": ["2f", 1] }',
        '- { "at": "20f", "value": 6, "in": ["-2f", -1] }',
        '+ { "at": "10f", "value": 4, "ease": "smooth" }',
        '+ { "at": "20f", "value": 6 }',
      ],
    ],
    [
      { do: 'move-keys', ...wave, keys: { 'claw-left.rotation': ['4f'] }, by: '-50ms', ripple: 'track' },
      [
        'moved 1 key of claw-left.rotation by −50ms, and all later keys of the track',
        '- { "at": "4f", "value": 10, "ease": "hold" }',
        '- { "at": "10f", "value": 30 }',
        '+ { "at": "1f", "value": 10, "ease": "hold" }',
        '+ { "at": "7f", "value": 30 }',
      ],
    ],
    [
      { do: 'scale-times', ...wave, factor: 2 },
      expect.arrayContaining([
        'scaled the times of 11 keys of 5 tracks to 200 %',
        '+ "duration": "40f"',
        '+ { "at": 0, "frames": [3, 6], "each": "4f" }',
        '+ { "at": "20f", "value": 4, "ease": "curve", "out": ["4f", 1] }',
        '+ { "at": "10f", "until": "16f", "name": "high" }',
        '+ "up": ["8f", "20f"]',
      ]),
    ],
    [
      { do: 'snap', ...wave, tracks: ['claw-left.rotation'], grid: '3f' },
      [
        'snapped 2 keys of claw-left.rotation to 3f',
        '- { "at": "4f", "value": 10, "ease": "hold" }',
        '- { "at": "10f", "value": 30 }',
        '+ { "at": "3f", "value": 10, "ease": "hold" }',
        '+ { "at": "9f", "value": 30 }',
      ],
    ],
    [
      { do: 'trim', ...wave, from: '5f', until: '10f' },
      expect.arrayContaining([
        'trimmed wave to 5f – 10f',
        '+ "duration": "5f"',
        '+ { "at": 0, "value": 10, "ease": "hold" }',
        '+ { "at": "5f", "value": 30 }',
        '+ { "at": 0, "value": { "center": [4, 1], "radius": 2 } }',
        '+ { "at": "3f", "value": { "center": [5, 1] } }',
        '+ { "at": "4f", "value": null }',
        '+ { "at": 0, "until": "3f", "name": "high" }',
        '+ "up": [0, "5f"]',
      ]),
    ],
    [
      { do: 'reverse', ...wave },
      expect.arrayContaining([
        'reversed wave',
        '+ { "at": "10f", "value": 30, "ease": "steps(1, jump-start)" }',
        '+ { "at": "16f", "value": 10 }',
        '+ { "at": "11f", "value": { "center": [5, 1], "radius": 2 }, "ease": "hold" }',
        '+ { "at": "18f", "value": { "center": [3, 1], "radius": 2 } }',
        '+ { "at": 0, "value": 6, "ease": "curve", "out": ["2f", -1] }',
        '+ { "at": "14f", "frames": [5, 3], "each": "2f" }',
        '+ { "at": "12f", "until": "15f", "name": "high" }',
        '+ "up": ["10f", "16f"]',
      ]),
    ],
    [
      { do: 'mirror', ...wave },
      expect.arrayContaining([
        'mirrored wave',
        '+ "claw-right.rotation": [',
        '+ { "at": "2f", "value": { "center": [-3, 1], "radius": 2 } }',
        '+ "claw-left.position.x": [',
        '+ { "at": 0, "value": -1, "ease": "quad-in" }',
        '+ { "at": "4f", "value": -10, "ease": "hold" }',
      ]),
    ],
    [
      { do: 'stagger', ...wave, tracks: ['claw-left.rotation', 'claw-right.position.x'], by: '3f' },
      [
        'offset 2 tracks by +3f each',
        '- { "at": 0, "value": 1, "ease": "quad-in" }',
        '- { "at": "10f", "value": 5 }',
        '+ { "at": "3f", "value": 1, "ease": "quad-in" }',
        '+ { "at": "13f", "value": 5 }',
      ],
    ],
    [
      { do: 'add-values', ...wave, tracks: ['crab.frame', 'claw-left.rotation'], by: 2 },
      [
        'added 2 to 3 keys of 2 tracks',
        '- { "at": "4f", "value": 10, "ease": "hold" }',
        '- { "at": "10f", "value": 30 }',
        '- { "at": 0, "frames": [3, 6], "each": "2f" }',
        '+ { "at": "4f", "value": 12, "ease": "hold" }',
        '+ { "at": "10f", "value": 32 }',
        '+ { "at": 0, "frames": [5, 8], "each": "2f" }',
      ],
    ],
    [
      { do: 'scale-values', ...wave, tracks: ['claw-right.position.y'], factor: 0.5, about: 4 },
      [
        'scaled the values of 3 keys of claw-right.position.y by 0.5',
        '- { "at": 0, "value": 2 }',
        '- { "at": "10f", "value": 4, "ease": "curve", "out": ["2f", 1] }',
        '- { "at": "20f", "value": 6, "in": ["-2f", -1] }',
        '+ { "at": 0, "value": 3 }',
        '+ { "at": "10f", "value": 4, "ease": "curve", "out": ["2f", 0.5] }',
        '+ { "at": "20f", "value": 5, "in": ["-2f", -0.5] }',
      ],
    ],
    [
      { do: 'match-ends', ...wave, tracks: ['claw-left.rotation'], speed: true },
      [
        'matched the ends of 1 track of wave',
        '- { "at": "10f", "value": 30 }',
        '+ { "at": 0, "value": 10, "ease": "smooth" }',
        '+ { "at": "10f", "value": 30, "ease": "smooth" }',
        '+ { "at": "20f", "value": 10 }',
      ],
    ],
    [
      { do: 'change', what: 'track', clip: 'wave', name: 'claw-left.rotation', to: { turn: 'shortest' } },
      expect.arrayContaining(['changed turn of the track claw-left.rotation of wave', '+ "turn": "shortest"']),
    ],
    [
      { do: 'add', what: 'cue', clip: 'wave', name: 'top', at: '10f', value: { data: 1 } },
      ['added the cue top at 10f of wave', '+ { "at": "10f", "name": "top", "data": 1 }'],
    ],
  ])('%j', (operation, lines) => {
    expect(diff(scene, operation)).toEqual(lines);
  });

  it('a rename updates all references; a removal with withUses removes them', () => {
    const renamed = edit(crab, { do: 'rename', what: 'clip', name: 'snap', to: 'pinch' });
    const text = renamed.ok ? formatReel(renamed.doc) : '';
    expect(text.match(/"snap"/g)).toHaveLength(2); // the rule of that name, and the one that follows it
    expect(text.match(/"pinch"/g)).toHaveLength(5); // itself, two parts, a chain, what the rule plays
    const role = edit(crab, { do: 'rename', what: 'role', name: 'claw', to: 'big-claw' });
    expect(role.ok && formatReel(role.doc)).not.toMatch(/"claw[".]/);
    const refused = edit(crab, { do: 'remove', what: 'clip', name: 'hop' });
    expect(refused).toMatchObject({ ok: false, code: 'edit/in-use' });
    expect(refused.said).toContain(
      'the clip hop is used by a part of show-off, the chain victory, the rule hop of crab. Remove',
    );
    const gone = edit(crab, { do: 'remove', what: 'clip', name: 'hop', withUses: true });
    expect(gone.said).toBe('removed the clip hop and 3 uses of it');
    const shape = edit(crab, { do: 'remove', what: 'shape', role: 'claw', name: 'pincer', withUses: true });
    expect(shape.ok && formatReel(shape.doc)).not.toContain('pincer');
  });

  it('keys of a shape that leave something out stay what they are when those before them go', () => {
    const tip = (made: ReturnType<typeof edit>) => made.ok && made.doc.clips['wave']!.tracks!['claw-left.tip'];
    const gone = edit(scene, { do: 'remove-keys', clip: 'wave', keys: { 'claw-left.tip': ['2f'] } });
    expect(tip(gone)).toEqual([{ at: '8f', value: { center: [5, 1], radius: 2 } }, { at: '9f', value: null }]); // prettier-ignore
    const past = edit(scene, { do: 'move-keys', clip: 'wave', keys: { 'claw-left.tip': ['2f'] }, by: '6.5f' });
    expect(tip(past)).toMatchObject([{ value: { center: [5, 1], radius: 2 } }, { value: { radius: 2 } }, {}]);
    const trimmed = edit(scene, { do: 'trim', clip: 'wave', from: '8f', until: '20f' });
    expect(tip(trimmed)).toMatchObject([
      { at: 0, value: { center: [5, 1], radius: 2 } },
      { at: '1f', value: null },
    ]);
  });

  it('channels are split and joined without a visible change', () => {
    const joined = edit(scene, { do: 'join-channels', clip: 'wave', track: 'claw-right.position' });
    const split = edit(crab, { do: 'split-channels', clip: 'cheer', track: 'crab.position' });
    const pairs = [[scene, joined, 'wave', 'claw-right'], [crab, split, 'cheer', 'crab']] as const; // prettier-ignore
    for (const [before, after, clip, role] of pairs) {
      expect(after.said).toMatch(/joined 2 channels|split crab.position into/);
      const [was, is] = [before, after.ok ? after.doc : before].map((doc) => trustReel(doc).clip(clip));
      for (let i = 0; i < 100; i++) {
        const [a, b] = [was!, is!].map((one) => one.sample(i / 300).get(`${role}.position`) as number[]);
        a!.forEach((n, k) => expect(Math.abs(n - b![k]!)).toBeLessThan(1e-9));
      }
    }
    const again = split.ok && edit(split.doc, { do: 'join-channels', clip: 'cheer', track: 'crab.position' });
    expect(again && again.ok && formatReel(again.doc)).toBe(formatReel(crab));
  });

  it('keys are copied and pasted: to another time, clip, role, and frame rate', () => {
    const copied = copyKeys(crab, { clip: 'snap', tracks: ['claw.rotation'], from: '12f' });
    expect(copied.tracks['claw.rotation']).toHaveLength(3);
    const made = edit(crab, { do: 'paste', clip: 'hop', at: '2f', ...copied, roles: { claw: 'body' } });
    expect(made.said).toBe('pasted 3 keys at 2f of hop');
    expect(made.ok && Object.keys(made.doc.clips['hop']!.tracks!)).toContain('body.rotation');
    const slower = { ...scene, fps: 30 };
    const frames = copyKeys(scene, { clip: 'wave', tracks: ['crab.frame'] });
    const other = edit(slower, { do: 'paste', clip: 'wave', at: '10f', ...frames });
    expect(other.ok && JSON.stringify(other.doc)).toContain('{"at":"10f","frames":[3,6],"each":"1f"}');
    expect(() => copyKeys(crab, { clip: 'snap', at: ['13f'] })).toThrow('the selection has no keys of snap');
  });
});

describe('a refusal tells the reason and what to do', () => {
  it.each<[object, string, string]>([
    [{ do: 'mvoe-keys' }, 'edit/operation', 'Did you mean "move-keys"'],
    [{ do: 'move-keys', clip: 'wave', by: '2x' }, 'edit/operation', '"by": invalid time "2x"'],
    [{ do: 'move-keys', clip: 'wvae', by: 1 }, 'edit/unknown-clip', 'Did you mean "wave"?'],
    [{ do: 'move-keys', clip: 'wave', tracks: ['crab.frme'], by: 1 }, 'edit/unknown-track', 'Did you mean "crab.frame"?'],
    [{ do: 'move-keys', clip: 'wave', keys: { 'claw-left.rotation': ['5f'] }, by: 1 }, 'edit/unknown-key', 'has keys at 4f, 10f'],
    [{ do: 'move-keys', clip: 'wave', keys: { 'claw-left.rotation': ['4f'] }, by: '6f' }, 'edit/time-taken', 'two keys of claw-left.rotation would be at 10f'],
    [{ do: 'move-keys', clip: 'wave', tracks: ['claw-left.rotation'], by: '-5f' }, 'edit/before-start', 'Move it by at most 4f'],
    [{ do: 'scale-times', clip: 'wave', factor: -1 }, 'edit/factor', 'or "reverse"'],
    [{ do: 'insert-key', clip: 'wave', track: 'claw-left.rotation', at: '4f' }, 'edit/time-taken', 'Set that key'],
    [{ do: 'insert-key', clip: 'wave', track: 'claw-left.tip', at: '15f' }, 'edit/outside-shape', 'not active at 15f, after its last key'],
    [{ do: 'set-keys', clip: 'wave', tracks: ['claw-left.rotation'], ease: 'quad-uot' }, 'reel/unknown-easing', 'quad-out'],
    [{ do: 'set-keys', clip: 'wave', tracks: ['crab.frame'], value: 2 }, 'edit/row', 'a row of frames at 0.'],
    [{ do: 'put-key', clip: 'wave', track: 'claw-left.rotation', at: 0, value: 'up' }, 'reel/value', 'Use an angle in degrees'],
    [{ do: 'add', what: 'role', name: 'crab' }, 'edit/name-taken', 'Use another name'],
    [{ do: 'add', what: 'clip', name: 'no good' }, 'edit/operation', 'invalid name "no good"'],
    [{ do: 'extend', clip: 'wave', until: '10f' }, 'edit/duration', 'trim'],
    [{ do: 'trim', clip: 'wave', from: '10f', until: '5f' }, 'edit/stretch', 'two times inside the clip'],
    [{ do: 'group', operations: [] }, 'edit/operation', 'Pass a list'],
    [{ do: 'patch', said: '', changes: [{ path: '/clips/wave', member: 'duration', was: '5f', now: '6f' }] }, 'edit/stale', 'not "5f"'],
    [{ do: 'fit', clip: 'wave', duration: '20f' }, 'edit/no-change', 'nothing would change'],
    [{ do: 'change', what: 'clip', name: 'wave', to: { loop: 'never' } }, 'reel/choice', 'ping-pong'],
    [{ do: 'add', what: 'cue', clip: 'wave', name: 'x', at: 0, value: { data: NaN } }, 'edit/operation', 'not finite'],
  ])('%j', (operation, code, message) => {
    const made = edit(scene, operation as Operation);
    expect(made).toMatchObject({ ok: false, code });
    expect(made.said).toContain(message);
  }); // prettier-ignore

  it('a reel with errors is not edited', () => {
    const broken = { ...scene, clips: { ...scene.clips, odd: { tracks: { 'nobody.rotation': [] } } } };
    expect(edit(broken, { do: 'reverse', clip: 'wave' })).toMatchObject({ ok: false, code: /^reel\// });
  });
});

describe('recording', () => {
  const shown = {
    'claw-left.rotation': 10,
    'claw-right.position': [1, 2],
    'crab.opacity': 1,
    'crab.tint': [1, 1, 1, 1],
  };
  const at = { clip: 'wave', at: '2f', shown } as const;

  it('keys what changed, at the playhead, in the tracks that are there; new ones begin at 0', () => {
    const operation = record(scene, {
      ...at,
      values: { ...shown, 'claw-left.rotation': 12, 'claw-right.position': [1, 3], 'crab.tint': [1, 0, 0, 1] },
    })!;
    expect(diff(scene, operation)).toEqual([
      'recorded claw-left.rotation, claw-right.position.y, crab.tint',
      '+ { "at": 0, "value": 10 }',
      '+ { "at": "2f", "value": 12 }',
      '+ { "at": "2f", "value": 3 }',
      '+ "crab.tint": [',
      '+ { "at": 0, "value": "#ffffff" }',
      '+ { "at": "2f", "value": "#ff0000" }',
    ]);
  });

  it('records nothing without a change, and adds changes to offsets', () => {
    expect(record(scene, { ...at, values: shown })).toBeNull();
    const hop = record(crab, { clip: 'hop', at: '10f', shown: { 'crab.position': [114, 74] }, values: { 'crab.position': [120, 74] } })!; // prettier-ignore
    expect(diff(crab, hop)).toContain('+ { "at": "10f", "value": [20, -26], "ease": "smooth" }');
  });

  it('refuses invalid values', () => {
    expect(() => record(scene, { ...at, values: { 'crab.opacity': 'full' } })).toThrow(
      '"full" is not a valid value of crab.opacity',
    );
    expect(() => record(scene, { ...at, clip: 'wvae', values: {} })).toThrow('Did you mean "wave"');
  });
});
