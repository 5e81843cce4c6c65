import { expect, it } from 'vitest';
import { trustReel, type ReelDocument } from '../../index.js';
import { advise, edit, type Operation } from '../index.js';

/** Edits at the start and at the end of a clip. */

it('inserts a key of a shape before its first, not at 0: it hits from there on, not before', () => {
  const box = { size: [4, 4] };
  const doc = {
    unspool: 1,
    roles: { claw: { shapes: { pincer: { kind: 'box' } } } },
    clips: { snap: { duration: '30f', tracks: { 'claw.pincer': [{ at: '20f', value: box }, { at: '25f', value: null }] } } },
  } as unknown as ReelDocument; // prettier-ignore
  const made = edit(doc, { do: 'put-key', clip: 'snap', track: 'claw.pincer', at: '10f', value: box });
  expect(made.ok && made.doc.clips['snap']!.tracks!['claw.pincer']).toEqual([
    { at: '10f', value: box },
    { at: '20f', value: box },
    { at: '25f', value: null },
  ]);
  expect(made.ok && trustReel(made.doc).clip('snap').activations).toMatchObject([{ at: 10 / 60, until: 25 / 60 }]);
});

it('refuses what would last for more than a day: by its duration, by a key, by a part', () => {
  const doc = {
    unspool: 1,
    clips: {
      snap: { tracks: { 'claw.rotation': [{ at: 0, value: 0 }, { at: '9f', value: 1 }] } },
      scene: { parts: [{ clip: 'snap', at: 0 }] },
      wave: { tracks: { 'fin.rotation': [{ at: 0, value: 0 }, { at: '9f', value: 1 }] } },
    },
  } as unknown as ReelDocument; // prettier-ignore
  const operations: Operation[] = [
    { do: 'change', what: 'clip', name: 'wave', to: { duration: 99999999999 } },
    { do: 'move-keys', clip: 'wave', keys: { 'fin.rotation': ['9f'] }, by: '90000s' },
    { do: 'scale-times', clip: 'wave', factor: 1e7 },
    { do: 'change', what: 'clip', name: 'snap', to: { duration: '86401s' } },
    { do: 'change', what: 'part', clip: 'scene', name: 'snap', at: 0, to: { at: '86400s' } },
  ];
  for (const operation of operations) expect(edit(doc, operation)).toMatchObject({ ok: false, code: 'reel/too-long' });
  expect(edit(doc, { do: 'change', what: 'clip', name: 'wave', to: { duration: 86_400 } }).ok).toBe(true);
});

it('snaps the end of a clip, its cues and spans with its keys, so that nothing is after the end', () => {
  const doc = {
    unspool: 1,
    clips: { snap: {
      duration: '37.5f',
      tracks: { 'claw.rotation': [{ at: 0, value: 0 }, { at: '37.5f', value: 1 }] },
      cues: [{ at: '18.75f', until: '20.2f', name: 'shut' }],
      spans: { close: ['3.4f', '37.5f'] },
    } },
  } as unknown as ReelDocument; // prettier-ignore
  const whole = edit(doc, { do: 'snap', clip: 'snap' });
  expect(whole.ok && whole.doc.clips['snap']).toMatchObject({
    duration: '38f',
    tracks: { 'claw.rotation': [{ at: 0 }, { at: '38f' }] },
    cues: [{ at: '19f', until: '20f' }],
    spans: { close: ['3f', '38f'] },
  });
  const part = edit(doc, { do: 'snap', clip: 'snap', tracks: ['*'] });
  expect(part.ok && part.doc.clips['snap']).toMatchObject({ duration: '38f', spans: { close: ['3.4f', '37.5f'] } });
  const down = edit(doc, { do: 'snap', clip: 'snap', grid: '100f' });
  expect(down.ok ? down.said : down.code).toBe('edit/time-taken');
  for (const made of [whole, part]) if (made.ok) expect(advise(made.doc)).toEqual([]);
});
