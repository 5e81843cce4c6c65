import { openOffline } from '../../test/offline.js';
import fc from 'fast-check';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import crab from '../../../../examples/tidepool/reels/crab.reel.json' with { type: 'json' };
import { type ReelDocument } from 'unspool';
import { addClip } from './clip-actions.js';
import {
  selectKeys,
  selectAll,
  copySelection,
  selectedCount,
  finishTrial,
  goTo,
  goToEnd,
  goToKey,
  insertKey,
  isSelected,
  keyTrial,
  pasteKeys,
  selectedRange,
  removeSelection,
  selection,
  stepFrames,
  switchShape,
  toggled,
  toggleRecording,
  tryValues,
} from './actions.js';
import { moveSelection, markMoved } from './moves.js';
import { get, showClip, set } from './store.js';

beforeEach(() => openOffline(crab as unknown as ReelDocument, 'snap'));

interface PlainKey {
  readonly at: unknown;
  readonly value: unknown;
  readonly ease?: string;
}
const clip = () => get().doc!.clips[get().clip!]!;
const keysOf = (track: string) => clip().tracks![track] as unknown as readonly PlainKey[];
const times = (track: string) => keysOf(track).map(({ at }) => at);
const summary = () => get().status.message;
const F = 1 / 60;

describe('the playhead', () => {
  it('stays near the clip, and on frames unless told otherwise', () => {
    goTo(0.1234);
    expect(get().time).toBeCloseTo(7 * F, 12);
    goTo(0.1234, false);
    expect(get().time).toBe(0.1234);
    goTo(99);
    expect(get().time, 'three times the clip').toBe(1.5);
    goToEnd();
    expect(get().time).toBe(0.5);
    stepFrames(3);
    expect(get().time, 'steps stop at the end').toBe(0.5);
    stepFrames(-40);
    expect(get().time).toBe(0);
    stepFrames(3);
    expect(get().time).toBeCloseTo(3 * F, 12);
  });

  it('goes from key to key of the row, or of all rows, and reports when there is none', () => {
    set({ row: 'claw.tint' });
    goToKey(1);
    expect(get().time).toBeCloseTo(12 * F, 12);
    goToKey(1);
    goToKey(1);
    expect(get().time).toBeCloseTo(24 * F, 12);
    goToKey(1);
    expect(get().time).toBeCloseTo(24 * F, 12);
    expect(summary()).toBe('No later key of claw.tint.');
    set({ row: undefined });
    goToKey(1);
    expect(get().time).toBeCloseTo(30 * F, 12);
  });
});

describe('selected keys', () => {
  it('are in order, each once, however they were selected; selecting twice deselects', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.constantFrom('a', 'b'), fc.integer({ min: 0, max: 9 }))), (clicks) => {
        const chosen = clicks.reduce((was, [track, frame]) => toggled(was, track, frame * F), {});
        for (const track of ['a', 'b']) {
          for (let frame = 0; frame < 10; frame++) {
            const count = clicks.filter(([name, at]) => name === track && at === frame).length;
            expect(isSelected(chosen, track, frame * F)).toBe(count % 2 === 1);
          }
          const list = (chosen as Record<string, number[]>)[track];
          if (list) expect(list).toEqual([...new Set(list)].sort((one, two) => one - two));
        }
        expect(selectedCount(chosen)).toBe(Object.values(chosen as Record<string, number[]>).flat().length);
      }),
    );
  });

  it('are named by their times, or all of a track at once', () => {
    selectKeys({ 'claw.rotation': [12 * F] });
    expect(selection()).toEqual({ clip: 'snap', keys: { 'claw.rotation': [12 * F] } });
    selectAll();
    expect(Object.values(selection()!.keys!)).toEqual(Object.keys(clip().tracks!).map(() => 'all'));
    expect(selectedRange()).toEqual([0, 0.5]);
    selectKeys({});
    expect(selection()).toBeUndefined();
    expect(selectedRange()).toBeUndefined();
  });

  it('move, and stay selected', () => {
    selectKeys({ 'claw.rotation': [12 * F], 'crab.rotation': [12 * F] });
    moveSelection(2);
    expect([times('claw.rotation')[1], times('crab.rotation')[1]]).toEqual(['14f', '14f']);
    moveSelection(1, true);
    expect(times('claw.rotation')).toEqual([0, '15f', '16f', '31f']);
    removeSelection();
    expect(times('claw.rotation')).toEqual([0, '16f', '31f']);
    moveSelection(1);
    expect(summary()).toContain('Select keys first');
  });

  it('are copied with their easing, and pasted into another clip at the playhead', () => {
    pasteKeys();
    expect(summary()).toBe('Nothing to paste. Copy keys first.');
    expect(copySelection()).toBe(false);
    selectKeys({ 'claw.rotation': [12 * F, 15 * F] });
    expect(copySelection()).toBe(true);
    expect(addClip('again', '40f')).toBe(true);
    goTo(10 * F);
    pasteKeys();
    expect(keysOf('claw.rotation')).toMatchObject([
      { at: '10f', value: -48 },
      { at: '13f', value: 14 },
    ]);
    expect(selectedCount(get().selectedKeys)).toBe(2);
  });
});

describe('a key at the playhead', () => {
  it('is on the curve; an existing one is selected', () => {
    insertKey('claw.rotation', 6 * F);
    expect(times('claw.rotation')).toEqual([0, '6f', '12f', '15f', '30f']);
    insertKey('claw.rotation', 12 * F);
    expect(summary()).toContain('claw.rotation already has a key here');
    expect(get().selectedKeys).toEqual({ 'claw.rotation': [12 * F] });
    insertKey(undefined);
    expect(summary()).toContain('Select a track first');
  });

  it('of a property without a track has what is shown', () => {
    insertKey('claw.position', 6 * F);
    expect(keysOf('claw.position')).toMatchObject([{ at: expect.anything() as unknown, value: [17, 4] }]);
  });

  it('of a shape is there or not there, as it was last', () => {
    goTo(20 * F);
    switchShape('claw.pincer', true);
    goTo(25 * F);
    switchShape('claw.pincer', false);
    const pincer = keysOf('claw.pincer');
    expect(pincer.slice(-2).map(({ at }) => at)).toEqual(['20f', '25f']);
    expect(pincer.at(-1)!.value).toBeNull();
    expect(pincer.at(-2)!.value).toMatchObject({ size: expect.anything() as unknown });
  });
});

describe('a browser that stores nothing more', () => {
  it('loses no work: steps are shown and wait, with the advice to leave the page open', () => {
    const full = vi.spyOn(sessionStorage, 'setItem').mockImplementation(() => {
      throw new DOMException('full', 'QuotaExceededError');
    });
    selectKeys({ 'claw.rotation': [12 * F] });
    moveSelection(1);
    expect(times('claw.rotation')[1]).toBe('13f');
    expect(get().status).toMatchObject({
      isFault: true,
      message: expect.stringContaining('Leave the page open') as unknown,
    });
    full.mockRestore();
    moveSelection(1);
    expect(times('claw.rotation')[1]).toBe('14f');
    expect(JSON.parse(sessionStorage.getItem(`unspool-unanswered-${get().reelName}`)!)).toHaveLength(2);
  });
});

describe('unkeyed values', () => {
  it('are keyed only on request, and at once while recording', () => {
    goTo(6 * F);
    tryValues({ 'claw.position': [20, 4] });
    finishTrial();
    expect(clip().tracks!['claw.position']).toBeUndefined();
    expect(summary()).toContain('Not keyed yet');
    keyTrial();
    expect(keysOf('claw.position')).toMatchObject([
      { at: 0, value: [17, 4] },
      { at: '6f', value: [20, 4] },
    ]);
    expect(get()).toMatchObject({ trial: {}, row: 'claw.position', role: 'claw' });
    toggleRecording();
    tryValues({ 'crab.rotation': 9 });
    finishTrial();
    expect(keysOf('crab.rotation')).toContainEqual(expect.objectContaining({ at: '6f', value: 9 }));
    toggleRecording();
  });

  it('that is as it was makes no key', () => {
    goTo(12 * F);
    tryValues({ 'claw.rotation': -48 });
    keyTrial();
    expect(summary()).toBe('Nothing to key: no value has changed.');
    expect(times('claw.rotation')).toEqual([0, '12f', '15f', '30f']);
  });
});

describe('cues, spans and parts', () => {
  it('move as a whole or by an end, never before 0', () => {
    const danger = { what: 'cue', name: 'danger', at: 12 * F } as const;
    expect(markMoved(danger, 2 * F)).toMatchObject({ to: { at: '14f', until: '18f' } });
    expect(markMoved(danger, 2 * F, 'until')).toMatchObject({ to: { until: '18f' } });
    expect(markMoved(danger, -2 * F, 'from')).toMatchObject({ to: { at: '10f' } });
    expect(markMoved({ what: 'cue', name: 'shut', at: 15 * F }, -1)).toMatchObject({ to: { at: 0 } });
    expect(markMoved({ what: 'cue', name: 'nobody', at: 0 }, 1)).toBeUndefined();
    showClip('show-off');
    const [part] = clip().parts!;
    expect(markMoved({ what: 'part', name: part!.clip, at: 0 }, F)).toMatchObject({ what: 'part', to: { at: '1f' } });
  });

  it('that are moved by keyboard stay selected; removed ones are deselected', () => {
    set({ selectedMark: { what: 'cue', name: 'shut', at: 15 * F } });
    moveSelection(3);
    expect(get().selectedMark).toMatchObject({ at: expect.closeTo(18 * F, 9) as unknown });
    expect(clip().cues!.find(({ name }) => name === 'shut')).toMatchObject({ at: '18f', data: { sound: 'click' } });
    removeSelection();
    expect(clip().cues!.map(({ name }) => name)).toEqual(['danger']);
    expect(get().selectedMark).toBeUndefined();
  });
});
