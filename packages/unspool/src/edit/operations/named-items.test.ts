import { describe, expect, it } from 'vitest';
import { formatReel, type ReelDocument } from '../../index.js';
import { applied } from '../../../test/applied.js';
import { edit, type Operation } from '../index.js';

/** A pool in which everything speaks of everything. */
const pool = {
  unspool: 1,
  fps: 30,
  roles: {
    rock: {},
    eel: { parent: 'rock', sheet: 'eels', shapes: { jaw: { kind: 'box', tag: 'hits' } } },
    eye: { parent: 'eel', rest: { position: [3, 1] } },
  },
  sheets: { eels: { image: 'eels.png', columns: 4, rows: 1, cell: [16, 16] } },
  clips: {
    bite: {
      duration: '10f',
      tracks: {
        'eel.frame': [{ at: 0, frames: [0, 3], each: '2f' }],
        'eel.jaw.size': [{ at: 0, value: [4, 2] }, { at: '5f', value: [9, 2] }],
        'eye.opacity': [{ at: 0, value: 1 }, { at: '10f', value: 0.5 }],
      },
      cues: [{ at: '2f', name: 'snap' }, { at: '5f', name: 'snap' }],
      spans: { wide: ['2f', '5f'] },
    },
    hunt: { parts: [{ clip: 'bite', at: 0, roles: { eye: 'eye' } }, { clip: 'bite', at: '20f', rate: 2 }] },
  },
  chains: { feast: ['hunt', { clip: 'bite', span: 'wide' }] },
  facings: { look: { right: 'bite', left: { mirror: 'right' }, up: 'hunt' }, turn: [{ toward: [1, 0], clip: 'bite' }] },
} as unknown as ReelDocument; // prettier-ignore

const made = (operation: Operation, doc = pool) => applied(doc, operation);

const refused = (operation: Operation) => {
  const one = edit(pool, operation);
  expect(one.ok).toBe(false);
  return one.said;
};

describe('a rename', () => {
  it('of a role goes to parents, tracks and the roles of parts', () => {
    const { roles, clips } = made({ do: 'rename', what: 'role', name: 'eye', to: 'lid' });
    expect(Object.keys(roles!)).toEqual(['rock', 'eel', 'lid']);
    expect(Object.keys(clips['bite']!.tracks!)).toContain('lid.opacity');
    expect(clips['hunt']!.parts![0]!.roles).toEqual({ lid: 'lid' });
    expect(made({ do: 'rename', what: 'role', name: 'eel', to: 'moray' }).roles!['eye']!.parent).toBe('moray');
  });

  it('of a clip goes to parts, chains and facings of both kinds', () => {
    const { clips, chains, facings } = made({ do: 'rename', what: 'clip', name: 'bite', to: 'nip' });
    expect(Object.keys(clips)).toEqual(['nip', 'hunt']);
    expect(clips['hunt']!.parts!.map(({ clip }) => clip)).toEqual(['nip', 'nip']);
    expect(chains).toEqual({ feast: ['hunt', { clip: 'nip', span: 'wide' }] });
    expect(facings).toMatchObject({ look: { right: 'nip', left: { mirror: 'right' } }, turn: [{ clip: 'nip' }] });
  });

  it('of a sheet, a shape and a span updates their uses', () => {
    expect(made({ do: 'rename', what: 'sheet', name: 'eels', to: 'fish' }).roles!['eel']!.sheet).toBe('fish');
    const shape = made({ do: 'rename', what: 'shape', role: 'eel', name: 'jaw', to: 'maw' });
    expect(Object.keys(shape.clips['bite']!.tracks!)).toContain('eel.maw.size');
    const span = made({ do: 'rename', what: 'span', clip: 'bite', name: 'wide', to: 'open' });
    expect(span.chains!['feast']![1]).toEqual({ clip: 'bite', span: 'open' });
  });

  it('of a cue or a track is of that one alone, and of a chain or facing of its name', () => {
    const cue = made({ do: 'rename', what: 'cue', clip: 'bite', name: 'snap', at: '5f', to: 'shut' });
    expect(cue.clips['bite']!.cues!.map(({ name }) => name)).toEqual(['snap', 'shut']);
    const track = made({ do: 'rename', what: 'track', clip: 'bite', name: 'eel.frame', to: 'eel.cell' });
    expect(Object.keys(track.clips['bite']!.tracks!)[0]).toBe('eel.cell');
    expect(Object.keys(made({ do: 'rename', what: 'chain', name: 'feast', to: 'meal' }).chains!)).toEqual(['meal']);
    expect(Object.keys(made({ do: 'rename', what: 'facing', name: 'look', to: 'gaze' }).facings!)).toEqual([
      'gaze',
      'turn',
    ]);
    const part = made({ do: 'rename', what: 'part', clip: 'hunt', name: 'bite', at: '20f', to: 'doze' }, made({ do: 'add', what: 'clip', name: 'doze', value: { duration: '3f' } })); // prettier-ignore
    expect(part.clips['hunt']!.parts![1]!.clip).toBe('doze');
  });

  it('in a reel without roles of its own follows its tracks', () => {
    const bare = {
      unspool: 1,
      clips: { bob: { tracks: { 'buoy.rotation': [{ at: 0, value: 1 }] } } },
    } as unknown as ReelDocument;
    expect(made({ do: 'rename', what: 'role', name: 'buoy', to: 'float' }, bare).clips['bob']!.tracks).toEqual({
      'float.rotation': [{ at: 0, value: 1 }],
    });
    const added = made({ do: 'add', what: 'role', name: 'rope' }, bare);
    expect(Object.keys(added.roles!)).toEqual(['buoy', 'rope']);
  });
});

describe('a removal', () => {
  it.each<[Operation, string]>([
    [{ do: 'remove', what: 'role', name: 'eye' }, 'the role eye is used by the track eye.opacity of bite, a part of hunt'],
    [{ do: 'remove', what: 'role', name: 'rock' }, 'the parent of the role eel'],
    [{ do: 'remove', what: 'sheet', name: 'eels' }, 'used by the role eel'],
    [{ do: 'remove', what: 'clip', name: 'bite' }, 'a part of hunt, a part of hunt, the chain feast and 2 more'],
    [{ do: 'remove', what: 'shape', role: 'eel', name: 'jaw' }, 'the track eel.jaw.size of bite'],
    [{ do: 'remove', what: 'span', clip: 'bite', name: 'wide' }, 'used by the chain feast'],
    [{ do: 'remove', what: 'cue', clip: 'bite', name: 'snap', at: '9f' }, 'Use one of: snap at 2f, snap at 5f'],
    [{ do: 'remove', what: 'shape', role: 'eal', name: 'jaw' }, 'Did you mean "eel"?'],
    [{ do: 'remove', what: 'part', clip: 'hunt', name: 'nip' }, 'Use one of: bite at 0, bite at 20f'],
  ])('%j is refused, saying by whom it is used', (operation, summary) => {
    expect(refused(operation)).toContain(summary);
  }); // prettier-ignore

  it('with its uses leaves nothing that speaks of it', () => {
    const eye = made({ do: 'remove', what: 'role', name: 'eye', withUses: true });
    expect(formatReel(eye)).not.toContain('eye');
    const rock = made({ do: 'remove', what: 'role', name: 'rock', withUses: true });
    expect(rock.roles!['eel']).not.toHaveProperty('parent');
    expect(made({ do: 'remove', what: 'sheet', name: 'eels', withUses: true }).roles!['eel']).not.toHaveProperty(
      'sheet',
    );
    const bite = made({ do: 'remove', what: 'clip', name: 'bite', withUses: true });
    expect(bite).toMatchObject({ chains: { feast: ['hunt'] }, facings: { look: { up: 'hunt' }, turn: [] } });
    expect(bite.clips['hunt']!.parts).toEqual([]);
    const wide = made({ do: 'remove', what: 'span', clip: 'bite', name: 'wide', withUses: true });
    expect(wide.chains!['feast']![1]).toEqual({ clip: 'bite' });
  });

  it('in lists affects only the named item', () => {
    const cue = made({ do: 'remove', what: 'cue', clip: 'bite', name: 'snap' });
    expect(cue.clips['bite']!.cues).toEqual([{ at: '5f', name: 'snap' }]);
    expect(
      made({ do: 'remove', what: 'part', clip: 'hunt', name: 'bite', at: '20f' }).clips['hunt']!.parts,
    ).toHaveLength(1);
  });
});

describe('adding and changing', () => {
  it('adds things in order of time, or before another', () => {
    const cue = made({ do: 'add', what: 'cue', clip: 'bite', name: 'mid', at: '3f' });
    expect(cue.clips['bite']!.cues!.map(({ name }) => name)).toEqual(['snap', 'mid', 'snap']);
    const role = made({ do: 'add', what: 'role', name: 'fin', value: { parent: 'eel' }, before: 'eye' });
    expect(Object.keys(role.roles!)).toEqual(['rock', 'eel', 'fin', 'eye']);
    const part = made({ do: 'add', what: 'part', clip: 'hunt', name: 'bite', at: '12f', value: { until: '14f' } });
    expect(part.clips['hunt']!.parts![1]).toEqual({ clip: 'bite', at: '12f', until: '14f' });
  });

  it('sets members and takes out those that are null; options make a list of keys an object, and back', () => {
    const role = made({ do: 'change', what: 'role', name: 'eye', to: { parent: null, about: 'the left one' } });
    expect(role.roles!['eye']).toEqual({ rest: { position: [3, 1] }, about: 'the left one' });
    const name = { what: 'track', clip: 'bite', name: 'eye.opacity' } as const;
    const offset = made({ do: 'change', ...name, to: { space: 'offset' } });
    expect(offset.clips['bite']!.tracks!['eye.opacity']).toMatchObject({ space: 'offset', keys: [{}, {}] });
    const plain = made({ do: 'change', ...name, to: { space: null } }, offset);
    expect(Array.isArray(plain.clips['bite']!.tracks!['eye.opacity'])).toBe(true);
    expect(made({ do: 'change', what: 'chain', name: 'feast', to: ['hunt'] }).chains).toEqual({ feast: ['hunt'] });
  });

  it.each<[Operation, string]>([
    [{ do: 'add', what: 'chain', name: 'more', value: ['nip'] }, 'unknown clip "nip"'],
    [{ do: 'add', what: 'sheet', name: 'kelp' }, 'has no "value"'],
    [{ do: 'add', what: 'cue', clip: 'bite', name: 'x' }, 'has no time'],
    [{ do: 'add', what: 'track', clip: 'bite', name: 'crab.rotation', value: [{ at: 0, value: 1 }] }, 'unknown role "crab"'],
    [{ do: 'change', what: 'role', name: 'eye', to: 'left' }, 'Pass the members to change'],
    [{ do: 'change', what: 'role', name: 'eye', to: { parnet: 'eel' } }, 'Did you mean "parent"'],
    [{ do: 'copy-clip', clip: 'bite', to: 'hunt' }, 'clip "hunt" already exists'],
    [{ do: 'add', what: 'part', clip: 'bite', name: 'hunt', at: 0 }, 'form a cycle'],
  ])('%j is refused', (operation, summary) => {
    expect(refused(operation)).toContain(summary);
  }); // prettier-ignore
});
