import { describe, expect, it } from 'vitest';
import { parseReel, type ReelDocument, type RuleDocument } from '../../index.js';
import { applied } from '../../../test/applied.js';
import { compareReels, edit, ruleMoments, type Operation } from '../index.js';

const clip = { duration: 1, cues: [{ at: 0.5, name: 'shut' }], spans: { recovery: [0.5, 1] } };
const pool = {
  unspool: 1,
  roles: { crab: {} },
  clips: { sway: clip, blink: clip, snap: { ...clip, cues: [{ at: 0.5, name: 'bang' }], spans: { late: [0.5, 1] } } },
  chains: { both: ['blink', 'sway'] },
  facings: { walk: { right: 'sway', left: { mirror: 'right' } } },
  routines: {
    crab: {
      inputs: { speed: { kind: 'number' }, way: { kind: 'vec2' }, attack: { kind: 'signal', keep: '8f' } },
      rules: [
        { name: '2', on: 'attack', during: { rule: 'snap', span: 'late' }, play: 'snap' },
        { name: 'snap', on: 'attack', play: 'snap', from: 'bang', free: 'late' },
        { name: '1', if: { speed: { above: 6 } }, face: 'walk', toward: 'way', rate: { input: 'speed', at: 60 } },
        { name: 'act', if: { speed: 3 }, play: 'both', free: 'shut' },
        { name: 'idle', play: [{ clip: 'sway', share: 5 }, 'blink'] },
      ],
    },
  },
} as unknown as ReelDocument;

function made(operation: Operation, doc = pool): ReelDocument {
  const next = applied(doc, operation);
  parseReel<unknown>(next);
  return next;
}
const rulesOf = ({ routines }: ReelDocument): readonly RuleDocument[] => routines!['crab']!.rules;
const ruleOf = (doc: ReelDocument, name: string) => rulesOf(doc).find((rule) => rule.name === name);
const namesOf = (doc: ReelDocument) => rulesOf(doc).map(({ name }) => name);
const inCrab = (what: 'rule' | 'input', name: string) => ({ what, routine: 'crab', name });

describe('a rename', () => {
  it('of a clip, chain or facing goes to what rules play', () => {
    const sway = made({ do: 'rename', what: 'clip', name: 'sway', to: 'rest' });
    expect(ruleOf(sway, 'idle')!.play).toEqual([{ clip: 'rest', share: 5 }, 'blink']);
    expect(ruleOf(made({ do: 'rename', what: 'clip', name: 'snap', to: 'nip' }), 'snap')!.play).toBe('nip');
    expect(ruleOf(made({ do: 'rename', what: 'chain', name: 'both', to: 'two' }), 'act')!.play).toBe('two');
    expect(ruleOf(made({ do: 'rename', what: 'facing', name: 'walk', to: 'run' }), '1')!.face).toBe('run');
  });

  it('of a cue or span goes to the rules that wait for it, unless another of their clips has it too', () => {
    const bang = made({ do: 'rename', what: 'cue', clip: 'snap', name: 'bang', to: 'boom' });
    expect(ruleOf(bang, 'snap')!.from).toBe('boom');
    const late = made({ do: 'rename', what: 'span', clip: 'snap', name: 'late', to: 'end' });
    expect([ruleOf(late, 'snap')!.free, ruleOf(late, '2')!.during]).toEqual(['end', { rule: 'snap', span: 'end' }]);
    const one = made({ do: 'rename', what: 'cue', clip: 'sway', name: 'shut', to: 'closed' });
    expect(ruleOf(one, 'act')!.free).toBe('shut');
    const both = made({ do: 'rename', what: 'cue', clip: 'blink', name: 'shut', to: 'closed' }, one);
    expect(ruleOf(both, 'act')!.free).toBe('closed');
  });

  it('of a cue goes to the rules that wait for it in a part, unless another of their clips has it too', () => {
    const rules = [
      { name: 'one', on: 'attack', play: 'whole', free: 'tick' },
      { name: 'two', on: 'attack', play: ['whole', 'sway'], free: 'shut' },
    ];
    const doc = {
      ...pool,
      clips: { ...pool.clips, inner: { ...clip, cues: [{ at: 0.5, name: 'tick' }, { at: 0.6, name: 'shut' }] }, whole: { parts: [{ clip: 'inner', at: 0 }] } },
      routines: { crab: { ...pool.routines!['crab'], rules } },
    } as unknown as ReelDocument; // prettier-ignore
    const tick = made({ do: 'rename', what: 'cue', clip: 'inner', name: 'tick', to: 'tock' }, doc);
    expect(ruleOf(tick, 'one')!.free).toBe('tock');
    const shut = made({ do: 'rename', what: 'cue', clip: 'inner', name: 'shut', to: 'closed' }, doc);
    expect(ruleOf(shut, 'two')!.free).toBe('shut');
    expect([...ruleMoments(doc, rules[1] as RuleDocument)]).toEqual([
      ['tick', 'cue'],
      ['shut', 'cue'],
      ['recovery', 'span'],
    ]);
  });

  it('of an input or a rule goes to the rules that read it', () => {
    const speed = made({ do: 'rename', ...inCrab('input', 'speed'), to: 'pace' });
    expect(ruleOf(speed, '1')).toMatchObject({ if: { pace: { above: 6 } }, rate: { input: 'pace', at: 60 } });
    expect(ruleOf(made({ do: 'rename', ...inCrab('input', 'way'), to: 'to' }), '1')!.toward).toBe('to');
    expect(ruleOf(made({ do: 'rename', ...inCrab('input', 'attack'), to: 'hit' }), 'snap')!.on).toBe('hit');
    const snap = made({ do: 'rename', ...inCrab('rule', 'snap'), to: 'nip' });
    expect(namesOf(snap)).toEqual(['2', 'nip', '1', 'act', 'idle']);
    expect(ruleOf(snap, '2')!.during!.rule).toBe('nip');
    expect(made({ do: 'rename', what: 'routine', name: 'crab', to: 'eel' }).routines).toHaveProperty('eel');
  });
});

describe('a removal', () => {
  it('of what rules use is refused, or takes them along where they would apply without meaning', () => {
    for (const thing of [
      { what: 'clip', name: 'snap' },
      { what: 'facing', name: 'walk' },
      { what: 'chain', name: 'both' },
      inCrab('input', 'attack'),
      inCrab('rule', 'snap'),
    ] as const) {
      const one = edit(pool, { do: 'remove', ...thing });
      expect(one).toMatchObject({ ok: false, code: 'edit/in-use' });
      expect(one.said).toContain('the rule');
    }
    const left = (operation: object) => namesOf(made({ do: 'remove', withUses: true, ...operation } as Operation));
    expect(left({ what: 'clip', name: 'snap' })).toEqual(['1', 'act', 'idle']);
    expect(left({ what: 'facing', name: 'walk' })).toEqual(['2', 'snap', 'act', 'idle']);
    expect(left(inCrab('input', 'attack'))).toEqual(['1', 'act', 'idle']);
    expect(left(inCrab('rule', 'snap'))).toEqual(['1', 'act', 'idle']);
    expect(left(inCrab('input', 'speed'))).toEqual(['2', 'snap', 'idle']);
    expect(left({ what: 'span', clip: 'snap', name: 'late' })).toEqual(['snap', '1', 'act', 'idle']);
    const idle = made({ do: 'remove', withUses: true, what: 'clip', name: 'blink' });
    expect(ruleOf(idle, 'idle')!.play).toEqual([{ clip: 'sway', share: 5 }]);
  });

  it('of a cue that a rule waits for is refused', () => {
    const one = edit(pool, { do: 'remove', what: 'cue', clip: 'snap', name: 'bang' });
    expect(one).toMatchObject({ ok: false });
    expect(one.said).toContain('no cue or span "bang"');
  });
});

describe('rules', () => {
  it('are added, changed and put in another order; names that are numbers keep their places', () => {
    const value = { on: 'attack', play: 'blink' };
    expect(namesOf(made({ do: 'add', ...inCrab('rule', '0'), value, before: 'act' }))).toEqual(['2', 'snap', '1', '0', 'act', 'idle']); // prettier-ignore
    expect(namesOf(made({ do: 'add', ...inCrab('rule', 'x'), value })).at(-1)).toBe('x');
    expect(namesOf(made({ do: 'reorder', ...inCrab('rule', 'idle'), before: '2' }))).toEqual(['idle', '2', 'snap', '1', 'act']); // prettier-ignore
    expect(namesOf(made({ do: 'reorder', ...inCrab('rule', '2') })).at(-1)).toBe('2');
    const to = { free: null, fade: '3f' };
    expect(ruleOf(made({ do: 'change', ...inCrab('rule', 'snap'), to }), 'snap')).toEqual({
      ...{ name: 'snap', on: 'attack', play: 'snap', from: 'bang', fade: '3f' },
    });
    const input = made({ do: 'add', ...inCrab('input', 'deep'), value: { kind: 'flag' } });
    expect(Object.keys(input.routines!['crab']!.inputs!)).toEqual(['speed', 'way', 'attack', 'deep']);
  });

  it('that do not fit are refused with what to do', () => {
    const said = (operation: object) => edit(pool, operation as Operation).said;
    expect(said({ do: 'add', ...inCrab('rule', 'snap'), value: {} })).toContain('already exists');
    expect(said({ do: 'add', ...inCrab('rule', 'x'), value: {} })).toContain('plays nothing');
    expect(said({ do: 'add', ...inCrab('rule', 'x'), value: { name: 'y', play: 'sway' } })).toContain(
      'unknown member "name"',
    );
    expect(said({ do: 'remove', ...inCrab('rule', 'snpa') })).toContain('Did you mean "snap"?');
    expect(said({ do: 'reorder', what: 'rule', routine: 'carb', name: 'snap' })).toContain('Did you mean "crab"?');
    expect(said({ do: 'change', ...inCrab('rule', 'snap'), to: { free: 'never' } })).toContain(
      'no cue or span "never"',
    );
  });

  it('are compared by name', () => {
    const next = made({ do: 'change', ...inCrab('rule', 'snap'), to: { fade: '3f' } });
    const moved = made({ do: 'reorder', ...inCrab('rule', 'idle'), before: 'snap' }, next);
    const lines = compareReels(pool, made({ do: 'remove', ...inCrab('rule', '1') }, moved)).map(({ summary }) => summary); // prettier-ignore
    expect(lines).toEqual([
      'routine crab: rule snap: fade: none → 3f',
      'routine crab: removed rule 1',
      'routine crab: new order of rules: 2, idle, snap, act',
    ]);
  });
});
