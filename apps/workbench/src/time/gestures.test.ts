import { openOffline } from '../../test/offline.js';
import { beforeEach, describe, expect, it } from 'vitest';
import crab from '../../../../examples/tidepool/reels/crab.reel.json' with { type: 'json' };
import gate from '../../../../examples/tidepool/reels/gate.reel.json' with { type: 'json' };
import { type ReelDocument } from 'unspool';
import { selectKeys } from '../model/actions.js';
import { rowsOf, type TrackRow } from '../model/rows.js';
import { get, set } from '../model/store.js';
import { axisOf } from '../model/axis.js';
import { gripUnder, holdGrip } from './curve-grips.js';
import { curvesOf, gripsOf, type Drawn } from './curve.js';
import { ROW } from './draw-rows.js';
import { press, scrub, dragRange, type Gesture, type PointerContext } from './gestures.js';
import { CUES, marksOf, pressMark } from './marks.js';

/** A clip of 30 frames, 10 pixels each. */
const WIDTH = 328;
const axis = axisOf({ from: 0, until: 0.5 }, WIDTH);
const x = (frame: number) => axis.x(frame / 60);

type Held = 'alt' | 'shift' | 'ctrl' | undefined;
const event = (held?: Held) =>
  ({ altKey: held === 'alt', shiftKey: held === 'shift', ctrlKey: held === 'ctrl', metaKey: false }) as PointerEvent;

function drag(gesture: Gesture | undefined, to: readonly [number, number], held?: Held): void {
  gesture!.move(...to, event(held));
  gesture!.end();
}

interface PlainKey {
  readonly at: unknown;
  readonly value: unknown;
  readonly ease?: string;
  readonly in?: unknown;
  readonly out?: unknown;
}
const clip = () => get().doc!.clips[get().clip!]!;
const keysOf = (track: string) => clip().tracks![track] as unknown as readonly PlainKey[];
const times = (track: string) => keysOf(track).map(({ at }) => at);
const rows = () => rowsOf(get().doc!, get().reel!, get().clip!, get().openRoles);
const place = (): PointerContext => ({ rows: rows(), axis, scrolled: 0 });
const y = (name: string) => (rows().findIndex((row) => row.name === name) + 0.5) * ROW;

describe('dragging in the rows', () => {
  beforeEach(() => openOffline(crab as unknown as ReelDocument, 'snap'));

  it('move a key by whole frames, and with Alt what comes later', () => {
    drag(press(place(), x(12), y('claw.rotation'), event()), [x(10) + 3, y('claw.rotation')]);
    expect(times('claw.rotation')).toEqual([0, '10f', '15f', '30f']);
    expect(get().selectedKeys).toEqual({ 'claw.rotation': [expect.closeTo(10 / 60, 9)] });
    drag(press(place(), x(10), y('claw.rotation'), event()), [x(12), 0], 'alt');
    expect(times('claw.rotation')).toEqual([0, '12f', '17f', '32f']);
  });

  it('a small move is a click; a canceled or refused drag changes nothing', () => {
    const before = get().doc;
    drag(press(place(), x(12), y('claw.rotation'), event()), [x(12) + 3, y('claw.rotation')]);
    expect(get().doc).toBe(before);
    const cancelled = press(place(), x(12), y('claw.rotation'), event());
    cancelled.move(x(14), 0, event());
    expect(times('claw.rotation')[1]).toBe('14f');
    cancelled.cancel();
    expect(times('claw.rotation')[1]).toBe('12f');
    drag(press(place(), x(12), y('claw.rotation'), event()), [x(15), 0]);
    expect(times('claw.rotation')[1]).toBe('12f');
    expect(get().selectedKeys).toEqual({ 'claw.rotation': [0.2] });
    expect(get().status).toMatchObject({ isFault: true, message: expect.stringContaining('two keys') as unknown });
  });

  it('Shift or Ctrl adds a key to the selection, and removes it', () => {
    press(place(), x(12), y('claw.rotation'), event()).end();
    press(place(), x(15), y('claw.rotation'), event('shift')).end();
    press(place(), x(12), y('crab.rotation'), event('ctrl')).end();
    expect(get().selectedKeys).toEqual({ 'claw.rotation': [0.2, 0.25], 'crab.rotation': [0.2] });
    press(place(), x(12), y('claw.rotation'), event('shift')).end();
    expect(get().selectedKeys).toEqual({ 'claw.rotation': [0.25], 'crab.rotation': [0.2] });
  });

  it('an area is selected, added with Shift; a click on nothing moves the playhead', () => {
    drag(press(place(), x(11), y('claw.rotation') - 5, event()), [x(16), y('claw.scale') + 5]);
    expect(get().selectedKeys).toEqual({ 'claw.rotation': [0.2, 0.25], 'claw.scale': [0.2, 0.25] });
    drag(press(place(), x(29), y('crab.rotation') - 5, event('shift')), [x(31), y('crab.rotation') + 5]);
    expect(Object.keys(get().selectedKeys)).toEqual(expect.arrayContaining(['claw.rotation', 'crab.rotation']));
    press(place(), x(7) + 2, y('crab.rotation'), event()).end();
    expect(get().selectedKeys).toEqual({});
    expect(get().time).toBeCloseTo(7 / 60, 12);
  });

  it('draw keys apart about their other end', () => {
    selectKeys({ 'claw.rotation': [0.2, 0.25], 'claw.scale': [0.2, 0.25] });
    drag(dragRange(axis, x(15), 'until'), [x(18), 0]);
    expect([times('claw.rotation'), times('claw.scale')]).toEqual([
      [0, '12f', '18f', '30f'],
      [0, '12f', '18f', '30f'],
    ]);
    drag(dragRange(axis, x(12), 'from'), [x(6), 0]);
    expect(times('claw.rotation')).toEqual([0, '6f', '18f', '30f']);
    selectKeys({ 'claw.rotation': [0] });
    expect(dragRange(axis, x(0), 'until')).toBeUndefined();
  });

  it('scrub on frames, and between them with Alt', () => {
    scrub(axis).move(x(7) + 3, 0, event());
    expect(get().time).toBeCloseTo(7 / 60, 12);
    scrub(axis).move(x(7) + 3, 0, event('alt'));
    expect(get().time).toBeCloseTo(7.3 / 60, 12);
  });
});

describe('dragging cues and spans', () => {
  // Its span begins where the interval ends, and would be taken there.
  const { spans: _, ...snap } = crab.clips.snap;
  const doc = { ...crab, clips: { ...crab.clips, snap }, routines: {} };
  beforeEach(() => openOffline(doc as unknown as ReelDocument, 'snap'));

  it('are taken whole, or by an end', () => {
    expect(marksOf().map(({ mark: { name }, from, until }) => [name, from, until])).toEqual([
      ['danger', 0.2, 16 / 60],
      ['shut', 0.25, undefined],
    ]);
    drag(pressMark(axis, x(15) + 2, 10), [x(18) + 2, 10]);
    expect(clip().cues).toContainEqual({ at: '18f', name: 'shut', data: { sound: 'click', strength: 0.8 } });
    drag(pressMark(axis, x(16), 10), [x(20), 10]);
    drag(pressMark(axis, x(12), 10), [x(9), 10]);
    expect(clip().cues).toContainEqual({ at: '9f', until: '20f', name: 'danger' });
    drag(pressMark(axis, x(13), 10), [x(11), 10]);
    expect(clip().cues).toContainEqual({ at: '7f', until: '18f', name: 'danger' });
  });

  it('are deselected by a press beside them, or in the line of parts', () => {
    expect(pressMark(axis, x(15), 10)).toBeDefined();
    expect(get().selectedMark).toMatchObject({ name: 'shut' });
    expect(pressMark(axis, x(15), CUES + 4)).toBeUndefined();
    expect(get().selectedMark).toBeUndefined();
    expect(pressMark(axis, x(2), 10)).toBeUndefined();
  });
});

describe('dragging in curves', () => {
  /** 0 at height 100, a unit each pixel upward. */
  const drawn = (name: string, channel = 0): Drawn => {
    const row = rows().find((one): one is TrackRow => one.name === name)!;
    const curve = curvesOf([row])[channel]!;
    return { axis, y: (value) => 100 - value, value: (at) => 100 - at, grips: gripsOf(curve, get()) };
  };

  it('are dragged in value by a key, of which only that number changes', async () => {
    await openOffline(crab as unknown as ReelDocument, 'snap');
    const on = drawn('claw.scale', 1);
    const grip = gripUnder(on, x(12) + 2, 99)!;
    expect(grip).toMatchObject({ form: 'key', value: 1.15 });
    drag(holdGrip(on, grip, x(12), 98.85, false), [x(12), 78.85], 'alt');
    expect(keysOf('claw.scale')[1]!.value).toEqual([1.15, 21.15]);
    expect(gripUnder(on, x(12), 50)).toBeUndefined();
  });

  it('have two handles when a key with a bezier is selected', async () => {
    await openOffline(crab as unknown as ReelDocument, 'snap');
    expect(drawn('claw.rotation').grips.map(({ form }) => form)).toEqual(['key', 'key', 'key', 'key']);
    selectKeys({ 'claw.rotation': [0.2] });
    const on = drawn('claw.rotation');
    const out = on.grips.find(({ form }) => form === 'out')!;
    // 0.7 of the way from 12 to 15, at the value of the first.
    expect([out.at, out.value]).toEqual([expect.closeTo(14.1 / 60, 9), -48]);
    drag(holdGrip(on, out, x(14.1), 148, false), [x(12.6), 148 - 31]);
    expect(keysOf('claw.rotation')[1]!.ease).toBe('cubic-bezier(0.2, 0.5, 0.9, 0.4)');
  });

  it('have handles in time and value where the key says `curve`', async () => {
    await openOffline(gate as unknown as ReelDocument, 'gate');
    set({ selectedKeys: { 'gate.position.y': [0] } });
    const on = { ...drawn('gate.position.y'), axis: axisOf({ from: 0, until: 3 }, WIDTH) };
    const [out, into] = ['out', 'in'].map((form) => on.grips.find((grip) => grip.form === form)!);
    expect([out!.at, out!.value, into!.at, into!.value]).toEqual([0.6, 0, expect.closeTo(1, 9), -60]);
    const to = on.axis.x(0.5);
    drag(holdGrip(on, out!, on.axis.x(0.6), 100, false), [to, 90]);
    expect(keysOf('gate.position.y')[0]!.out).toEqual(['15f', 10]);
    drag(holdGrip(on, into!, on.axis.x(1), 160, false), [on.axis.x(0.9), 150]);
    expect(keysOf('gate.position.y')[1]!.in).toEqual(['-9f', 6]);
  });

  it('that lie over each other differ in color or in line', () => {
    const row = (i: number) =>
      ({ is: 'track', role: 'a', name: `a.n${i}`, property: `a.n${i}`, channel: -1, kind: 'number' }) as TrackRow;
    const curves = curvesOf(Array.from({ length: 20 }, (_, i) => row(i)));
    expect(new Set(curves.map(({ dash }, i) => `${i % 4} ${dash.join()}`)).size).toBe(20);
  });
});
