import fc from 'fast-check';
import type { ReelDocument } from '../src/index.js';
import type { Operation } from '../src/edit/index.js';

/** Random operations that mostly fit a reel: its own names and times, and now and then others. */
export function randomOperation(document: ReelDocument): fc.Arbitrary<Operation> {
  const clips = Object.keys(document.clips);
  const clip = fc.constantFrom(...clips);
  const role = fc.constantFrom(...Object.keys(document.roles ?? {}));
  const name = fc.constantFrom('fresh', 'other-one', ...clips, ...Object.keys(document.roles ?? {}));
  const time = fc.oneof(
    fc.integer({ min: 0, max: 70 }).map((n) => `${n}f` as const),
    fc.integer({ min: 0, max: 70 }).map((n) => `${n * 16}ms` as const),
    fc.integer({ min: 0, max: 64 }).map((n) => n / 64),
    fc.double({ min: 0, max: 1, noNaN: true }),
  );
  const by = fc.oneof(
    time,
    fc.integer({ min: -20, max: 20 }).map((n) => `${n}f` as const),
  );
  const number = fc.oneof(
    fc.integer({ min: -50, max: 50 }),
    fc.double({ min: -50, max: 50, noNaN: true }).map((n) => n + 0),
  );
  const value = fc.oneof(
    number,
    fc.tuple(number, number),
    fc.constantFrom('#e07a5f', true, 'calm', null, [0, 0, 1, 1]),
  );
  const ease = fc.constantFrom(
    'hold',
    'smooth',
    'quad-out',
    'ease-in',
    'spring(0.3)',
    'linear',
    'steps(3)',
    'curve',
    'nonsense',
  );
  const onTrack = clip.chain((one) => {
    const tracks = Object.keys(document.clips[one]!.tracks ?? {});
    return fc.record({ clip: fc.constant(one), track: fc.constantFrom('odd.one', ...tracks) });
  });
  const selection = onTrack.chain(({ clip: one, track }) =>
    fc.oneof(
      fc.record(
        { clip: fc.constant(one), tracks: fc.constant([track]), from: time },
        { requiredKeys: ['clip', 'tracks'] },
      ),
      fc.record({ clip: fc.constant(one), tracks: fc.constant(['*']), until: time }),
      fc.record({ clip: fc.constant(one), from: time, cues: fc.boolean() }, { requiredKeys: ['clip'] }),
      fc.constant({ clip: one, keys: { [track]: 'all' as const } }),
      fc.constant({ clip: one }),
    ),
  );
  const ripple = fc.constantFrom('track', 'role', 'clip');
  const onClipOrTrack = onTrack.chain(({ clip: one, track }) =>
    fc.constantFrom<object>({ clip: one }, { clip: one, tracks: [track] }),
  );
  const doing = (
    verb: string,
    rest: fc.Arbitrary<object>,
    more: Record<string, fc.Arbitrary<unknown>> = {},
    optional: string[] = [],
  ) =>
    fc
      .tuple(rest, fc.record(more, { requiredKeys: Object.keys(more).filter((key) => !optional.includes(key)) }))
      .map(([a, b]) => ({ do: verb, ...a, ...b }));
  const ruleName = fc.constantFrom('hurt', 'again', 'hop', 'walk', 'all', 'idle', 'none');
  const inputName = fc.constantFrom('speed', 'way', 'wet', 'jump', 'none');
  const inRoutine = fc.oneof(
    doing('add', ruleName.map((name) => ({ what: 'rule', routine: 'what-to-do', name: `${name}-2` })), { value: fc.record({ play: clip, on: inputName }, { requiredKeys: ['play'] }), before: ruleName }, ['before']), // prettier-ignore
    doing('change', ruleName.map((name) => ({ what: 'rule', routine: 'what-to-do', name })), { to: fc.record({ play: clip, free: name, layer: fc.constantFrom('over', null), if: fc.constant(null) }, { requiredKeys: [] }) }), // prettier-ignore
    doing('reorder', ruleName.map((name) => ({ what: 'rule', routine: 'what-to-do', name })), { before: ruleName }, ['before']), // prettier-ignore
    fc.constant({ do: 'add', what: 'input', routine: 'what-to-do', name: 'depth', value: { kind: 'number' } }),
    fc.constant({ do: 'add', what: 'routine', name: 'two', value: { rules: [{ name: 'a', play: clips[0] }] } }),
  );
  const factor = fc.constantFrom(0.5, 2, 1.5, 1 / 3, -1, 1);
  const cue = fc.record({ what: fc.constant('cue'), clip, name, at: time });
  const thing = fc.oneof(
    fc.record({ what: fc.constantFrom('role', 'clip'), name }),
    fc.constantFrom({ what: 'chain', name: 'all-of-them' }, { what: 'facing', name: 'where-to' }),
    onTrack.map(({ clip: one, track }) => ({ what: 'track', clip: one, name: track })),
    fc.record({ what: fc.constant('span'), clip, name: fc.constant('the-middle-of-it') }),
    fc.constant({ what: 'routine', name: 'what-to-do' }),
    ruleName.map((one) => ({ what: 'rule', routine: 'what-to-do', name: one })),
    inputName.map((one) => ({ what: 'input', routine: 'what-to-do', name: one })),
    ...clips.flatMap((one) =>
      (document.clips[one]!.cues ?? []).map((message) => fc.constant({ what: 'cue', clip: one, name: message.name })),
    ),
  );
  const single = fc.oneof(
    inRoutine,
    doing('add', fc.oneof(cue, fc.record({ what: fc.constantFrom('role', 'clip'), name }))),
    doing(
      'add',
      onTrack.map((one) => ({ what: 'track', clip: one.clip, name: one.track })),
      { value: fc.tuple(fc.record({ at: time, value })) },
    ),
    fc.oneof(
      clip.map((one) => ({ do: 'add', what: 'chain', name: 'in-a-row', value: [one, { clip: one, fade: '2f' }] })),
      clip.map((one) => ({ do: 'add', what: 'facing', name: 'to-all', value: { up: one, down: { mirror: 'up' } } })),
      fc
        .record({ clip, at: time })
        .map(({ clip: one, at }) => ({ do: 'add', what: 'part', clip: one, name: clips[0], at, value: { rate: 2 } })),
      fc
        .record({ clip, from: time, until: time })
        .map((one) => ({ do: 'add', what: 'span', clip: one.clip, name: 'new-one', value: [one.from, one.until] })),
      role.map((one) => ({ do: 'add', what: 'shape', role: one, name: 'tip', value: { kind: 'circle', tag: 'hits' } })),
      fc.constant({
        do: 'add',
        what: 'sheet',
        name: 'pool',
        value: { image: 'pool.png', columns: 4, rows: 2, cell: [16, 16] },
      }),
      fc.constant({ do: 'change', what: 'chain', name: 'all-of-them', to: [clips[0]] }),
      fc.constant({ do: 'change', what: 'facing', name: 'where-to', to: { right: clips.at(-1) } }),
      clip.map((one) => ({ do: 'change', what: 'span', clip: one, name: 'the-middle-of-it', to: ['1f', '2f'] })),
    ),
    doing(
      'paste',
      onTrack.map(({ clip: one, track }) => ({
        clip: one,
        tracks: {
          [track]: [
            { at: 0, value: 1 },
            { at: '4f', value: 2, ease: 'hold' },
          ],
        },
      })),
      { at: time },
    ),
    doing('put-key', onTrack, { at: time, value, first: value, ease }, ['first', 'ease']),
    doing('remove', thing, { withUses: fc.boolean() }),
    doing('rename', thing, { to: name }),
    doing('change', fc.record({ what: fc.constant('clip'), name: clip }), {
      to: fc.record(
        { loop: fc.constantFrom('loop', 'once', null, 'never'), duration: fc.oneof(time, fc.constant(null)) },
        { requiredKeys: [] },
      ),
    }),
    doing('change', fc.record({ what: fc.constant('role'), name: role }), {
      to: fc.record({ rest: fc.record({ opacity: value }) }),
    }),
    doing('reorder', thing, { before: name }, ['before']),
    doing('copy-clip', fc.record({ clip, to: name })),
    doing('insert-key', onTrack, { at: time, value, ease, tolerance: fc.constant(0.1) }, [
      'value',
      'ease',
      'tolerance',
    ]),
    doing('remove-keys', selection),
    doing('set-keys', selection, { value, ease }, ['value', 'ease']),
    doing('move-keys', selection, { by, ripple }, ['ripple']),
    doing('scale-times', selection, { factor, about: time, ripple }, ['about', 'ripple']),
    doing('insert-time', onClipOrTrack, { at: time, by: time }),
    doing('remove-time', onClipOrTrack, { from: time, until: time }),
    doing('fit', fc.record({ clip, duration: time })),
    doing('snap', selection, { grid: fc.constantFrom('1f', '2f', 0.05) }),
    doing(
      'trim',
      fc.record({ clip, from: time, until: time, tolerance: fc.constant(0.1) }, { requiredKeys: ['clip'] }),
    ),
    doing('extend', fc.record({ clip, until: fc.constantFrom('80f', 2, '5f') })),
    doing('reverse', fc.record({ clip })),
    doing(
      'stagger',
      onTrack.map((one) => ({ clip: one.clip, tracks: ['*'] })),
      { by },
    ),
    doing('simplify-keys', selection, { tolerance: fc.constantFrom(0.001, 0.5, 10, 0) }),
    doing('add-values', selection, { by: fc.oneof(number, fc.tuple(number, number)) }),
    doing('scale-values', selection, { factor, about: number }, ['about']),
    doing('mirror', fc.record({ clip, axis: fc.constantFrom('x', 'y') })),
    doing('split-channels', onTrack),
    doing(
      'join-channels',
      onTrack.map(({ clip: one, track }) => ({ clip: one, track: track.split('.').slice(0, 2).join('.') })),
    ),
    doing('match-ends', fc.record({ clip, speed: fc.boolean() })),
  ) as fc.Arbitrary<Operation>;
  const channels = onTrack.map(({ clip: one, track }): Operation => ({
    do: 'group',
    operations: [
      { do: 'split-channels', clip: one, track },
      { do: 'join-channels', clip: one, track },
      { do: 'copy-clip', clip: one, to: 'fresh' },
    ],
  }));
  const group = fc
    .array(single, { minLength: 2, maxLength: 3 })
    .map((operations): Operation => ({ do: 'group', operations }));
  return fc.oneof({ weight: 9, arbitrary: single }, group, channels);
}
