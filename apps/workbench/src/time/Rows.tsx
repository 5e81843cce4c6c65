import { ChevronDown, ChevronRight, ListMinus, ListPlus } from 'lucide-react';
import { memo, useLayoutEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { apply, selectKeys, goTo, insertKey, shown, toggled } from '../model/actions.js';
import { keyAt } from '../model/keys.js';
import { foldAll, foldRole } from '../model/fold.js';
import { rolesOf, rowsOf, type Row, type TrackRow } from '../model/rows.js';
import { get, set, shownClip, useStore } from '../model/store.js';
import { axisOf, moved, zoomed } from '../model/axis.js';
import { Canvas } from './Canvas.js';
import { drawGround, drawMarquee, drawPlayhead, drawRows, ROW } from './draw-rows.js';
import { keyUnder, press, rowUnder, type PointerContext } from './gestures.js';
import { AdviceMark } from './AdviceMark.js';
import { KeyMirror } from './KeyMirror.js';
import { RowValues } from './RowValues.js';
import { placeOn, useGesture } from './use-gesture.js';

/** As many rows beyond those that are seen are there too, so that scrolling shows no holes. */
const SPARE = 4;

export function useRows(): readonly Row[] {
  const [doc, reel, clip, open, folded] = [
    useStore((s) => s.doc),
    useStore((s) => s.reel),
    useStore((s) => s.clip),
    useStore((s) => s.openRoles),
    useStore((s) => s.foldedRoles),
  ];
  return useMemo(
    () => (doc && reel && clip !== undefined ? rowsOf(doc, reel, clip, open, folded) : []),
    [doc, reel, clip, open, folded],
  );
}

/** The rows: heads with the values at the playhead, and the keys over time. */
export function Rows({ rows }: { readonly rows: readonly Row[] }) {
  const area = useRef<HTMLDivElement>(null);
  const [seen, setSeen] = useState({ top: 0, height: 300 });
  const row = useStore((state) => state.row);

  useLayoutEffect(() => {
    const element = area.current!;
    const size = new ResizeObserver(() => setSeen((was) => ({ ...was, height: element.clientHeight })));
    size.observe(element);
    return () => size.disconnect();
  }, []);
  // The row that the keyboard is in is seen.
  const index = rows.findIndex((one) => one.is === 'track' && one.name === row);
  useLayoutEffect(() => {
    const element = area.current!;
    if (index < 0) return;
    if (index * ROW < element.scrollTop) element.scrollTop = index * ROW;
    else if ((index + 1) * ROW > element.scrollTop + element.clientHeight)
      element.scrollTop = (index + 1) * ROW - element.clientHeight;
  }, [index]);

  const placeOf = (canvas: Element): PointerContext => ({
    rows,
    axis: axisOf(get().view, canvas.clientWidth),
    scrolled: area.current!.scrollTop,
  });
  const { gesture, follow, on } = useGesture((x, y, event) =>
    press(placeOf(event.currentTarget), x, y, event.nativeEvent),
  );
  const onDoubleClick = (event: React.MouseEvent<HTMLCanvasElement>) => {
    const place = placeOf(event.currentTarget);
    const [x, y] = placeOn(event);
    const under = rowUnder(place, y);
    const now = shown();
    if (under?.is !== 'track' || !now || keyUnder(place, under, x) !== undefined) return;
    goTo(place.axis.seconds(x));
    insertKey(under.name, get().time);
  };
  const onWheel = (event: React.WheelEvent<HTMLCanvasElement>) => wheel(event, event.currentTarget);

  const first = Math.max(0, Math.floor(seen.top / ROW) - SPARE);
  const last = Math.min(rows.length, Math.ceil((seen.top + seen.height) / ROW) + SPARE);
  return (
    <div
      className="rows"
      ref={area}
      onScroll={(event) => {
        const top = event.currentTarget.scrollTop;
        setSeen((was) => ({ ...was, top }));
      }}
    >
      <div className="heads" style={{ height: Math.max(rows.length * ROW, seen.height) }}>
        {rows.slice(first, last).map((one, i) => (
          <div key={`${one.is} ${one.name}`} className="slot" style={{ top: (first + i) * ROW }}>
            <Head row={one} />
          </div>
        ))}
        <KeyMirror rows={rows} onKeyDown={(event) => keyboard(event, rows)} />
      </div>
      <Canvas
        className="keys"
        data-testid="keys"
        aria-hidden="true"
        style={{ height: seen.height }}
        draw={(pen, width, height, colors) => {
          const state = get();
          const clip = shownClip(state);
          if (!clip) return;
          const axis = axisOf(state.view, width);
          drawGround(pen, axis, height, state, clip.fps, clip.duration, colors);
          drawRows(pen, rows, area.current!.scrollTop, height, axis, state, colors);
          drawPlayhead(pen, axis, height, state, colors);
          drawMarquee(pen, gesture.current?.marquee, follow.current?.gone ?? 0, colors);
        }}
        {...on}
        onDoubleClick={onDoubleClick}
        onWheel={onWheel}
      />
    </div>
  );
}

/** Zooms with Ctrl, and goes along in time with Shift or a wheel that turns sideways. */
export function wheel(event: React.WheelEvent, element: Element): void {
  const now = shown();
  if (!now) return;
  const axis = axisOf(get().view, element.clientWidth);
  const { view } = get();
  if (event.ctrlKey || event.metaKey) {
    const about = axis.seconds(event.clientX - element.getBoundingClientRect().left);
    set({ view: zoomed(view, Math.exp(event.deltaY * 0.002), about, now.duration, now.fps) });
  } else {
    const by = event.deltaX || (event.shiftKey ? event.deltaY : 0);
    if (by !== 0) set({ view: moved(view, by / axis.scale, now.duration) });
  }
}

function Head({ row }: { readonly row: Row }) {
  if (row.is === 'track') return <TrackHead row={row} />;
  return row.role === undefined ? <ClipHead /> : <RoleHead role={row.role} />;
}

/** The summary of the clip: its keys are those of all tracks. */
const ClipHead = memo(function ClipHead() {
  const isFolded = useStore(({ doc, reel, foldedRoles }) =>
    doc && reel ? rolesOf(doc, reel).every((role) => foldedRoles.has(role)) : false,
  );
  return (
    <div className="role-head">
      <button
        type="button"
        className="fold"
        aria-label={isFolded ? 'Unfold all roles' : 'Fold all roles'}
        aria-expanded={!isFolded}
        onClick={foldAll}
      >
        <Chevron isFolded={isFolded} />
      </button>
      <span className="name">all keys</span>
    </div>
  );
});

function Chevron({ isFolded }: { readonly isFolded: boolean }) {
  return isFolded ? <ChevronRight size={13} aria-hidden /> : <ChevronDown size={13} aria-hidden />;
}

const RoleHead = memo(function RoleHead({ role }: { readonly role: string }) {
  const isOpen = useStore((state) => state.openRoles.has(role));
  const isHere = useStore((state) => state.role === role);
  const isFolded = useStore((state) => state.foldedRoles.has(role));
  return (
    <div className={`role-head ${isHere ? 'is-here' : ''}`}>
      <button
        type="button"
        className="fold"
        aria-label={`${isFolded ? 'Unfold' : 'Fold'} ${role}`}
        aria-expanded={!isFolded}
        onClick={() => foldRole(role)}
      >
        <Chevron isFolded={isFolded} />
      </button>
      <button
        type="button"
        className="name"
        aria-expanded={isOpen}
        title={`${role}: ${isOpen ? 'show animated properties' : 'show all properties'}`}
        onClick={() => toggleRole(role)}
      >
        {role}
        {isOpen ? <ListMinus size={13} aria-hidden /> : <ListPlus size={13} aria-hidden />}
      </button>
    </div>
  );
});

function toggleRole(role: string): void {
  const open = new Set(get().openRoles);
  if (!open.delete(role)) open.add(role);
  const folded = new Set(get().foldedRoles);
  folded.delete(role);
  set({ openRoles: open, foldedRoles: folded, role });
}

const TrackHead = memo(function TrackHead({ row }: { readonly row: TrackRow }) {
  const isHere = useStore((state) => state.row === row.name);
  const keyed = useStore((state) => keyAt(row.keys, state.time) !== undefined);
  const clip = useStore((state) => state.clip);
  const isDrawn = useStore((state) => state.curves.includes(row.name));
  const label = row.name.slice(row.role.length + 1);
  return (
    <div className={`track-head ${isHere ? 'is-here' : ''} ${row.keys.length === 0 ? 'is-still' : ''}`}>
      <button
        type="button"
        className="track-name"
        aria-pressed={isDrawn}
        title={`${row.name}${row.isOffset ? ', relative to the object' : ''}: select the track and show its curve`}
        onClick={(event) => selectRow(row, event.ctrlKey || event.metaKey || event.shiftKey)}
      >
        {row.isOffset ? `${label} ±` : label}
      </button>
      <AdviceMark place={`${clip} ${row.name}`} message={row.name} />
      <RowValues row={row} />
      <button
        type="button"
        className="key-button"
        aria-label={`${keyed ? 'Remove the key' : 'Add a key'} of ${row.name} at the playhead`}
        aria-pressed={keyed}
        onClick={() => putOrRemove(row, keyed)}
      >
        <svg viewBox="0 0 12 12" aria-hidden>
          <path
            d="M6 1 11 6 6 11 1 6Z"
            className={keyed ? 'is-keyed' : row.keys.length > 0 ? 'is-between' : 'is-none'}
          />
        </svg>
      </button>
    </div>
  );
});

function selectRow(row: TrackRow, add: boolean): void {
  const { curves } = get();
  const others = curves.filter((name) => name !== row.name);
  set({
    row: row.name,
    role: row.role,
    curves: add ? (others.length < curves.length ? others : [...curves, row.name]) : [row.name],
  });
}

function putOrRemove(row: TrackRow, keyed: boolean): void {
  const { time, clip } = get();
  set({ row: row.name, role: row.role });
  if (keyed && clip !== undefined) apply({ do: 'remove-keys', clip, keys: { [row.name]: [time] } });
  else insertKey(row.name, time);
}

/** The keyboard in the rows: up and down between them, left and right in time, Enter chooses the key at the playhead. */
function keyboard(event: KeyboardEvent, rows: readonly Row[]): void {
  const tracks = rows.filter((row) => row.is === 'track');
  const { row, time, selectedKeys } = get();
  const index = tracks.findIndex(({ name }) => name === row);
  const go = (to: number) => {
    const next = tracks[Math.min(tracks.length - 1, Math.max(0, to))];
    if (next) set({ row: next.name, role: next.role, curves: [next.name] });
  };
  const here = keyAt(tracks[index]?.keys ?? [], time);
  if (event.altKey || event.ctrlKey || event.metaKey) return;
  if (event.key === 'ArrowDown') go(index + 1);
  else if (event.key === 'ArrowUp') go(index - 1);
  else if (event.key === 'Enter' && here)
    selectKeys(event.shiftKey ? toggled(selectedKeys, row!, here.at) : { [row!]: [here.at] });
  else if (event.key === ' ' && here && event.shiftKey) selectKeys(toggled(selectedKeys, row!, here.at));
  else return;
  event.preventDefault();
  event.stopPropagation();
}
