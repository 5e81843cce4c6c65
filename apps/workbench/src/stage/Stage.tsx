import { useLayoutEffect, useRef, type KeyboardEvent, type PointerEvent } from 'react';
import type { ReelDocument, Value } from 'unspool';
import { dropTrial, finishTrial, tryValues } from '../model/actions.js';
import { rolesOf } from '../model/rows.js';
import { changeBackdrop, get, set, useStore, type BackdropName } from '../model/store.js';
import { Handles } from './HandleButtons.js';
import { moveRole } from './handles.js';
import type { Point } from './outline.js';
import { worldOf } from './puppet.js';
import { snapped } from './snapping.js';
import { StageBar } from './StageBar.js';
import { StageView } from './view.js';
import { useEscape } from '../use-escape.js';

/** What the stage is drawn from, besides roles and sheets. */
const SEEN = ['reel', 'values', 'display', 'role', 'clip', 'time', 'playing', 'pictures', 'before'] as const;

/** What is being dragged. */
interface Held {
  readonly start: Point;
  /** On the screen. */
  readonly from: Point;
  readonly drag?: (to: Point, start: Point, free: boolean) => Readonly<Record<string, Value>>;
  readonly backdrop?: (to: Point, start: Point) => void;
  /** What a click selects: the role below the one that is already selected. */
  readonly under?: string | undefined;
  /** Restores values that were changed without being tried while it is dragged. */
  readonly undo?: () => void;
  moved: boolean;
}

/** The stage: the cast at the playhead, with its handles. */
export function Stage() {
  const host = useRef<HTMLDivElement>(null);
  const view = useRef<StageView>(undefined);
  const held = useRef<Held>(undefined);
  const recording = useStore((state) => state.recording);

  // Before the handles react to it.
  useLayoutEffect(() => {
    const stage = new StageView();
    view.current = stage;
    void stage.start(host.current!);
    const stop = useStore.subscribe((state, was) => {
      const { doc } = state;
      const isSame = SEEN.every((name) => state[name] === was[name]);
      if (!isSame || doc?.roles !== was.doc?.roles || doc?.sheets !== was.doc?.sheets) stage.schedule();
    });
    const size = new ResizeObserver(() => stage.resize());
    size.observe(host.current!);
    const onWheel = (event: WheelEvent) => {
      event.preventDefault();
      const box = host.current!.getBoundingClientRect();
      stage.keepPlace();
      stage.zoomBy(Math.exp(-event.deltaY * 0.0015), [event.clientX - box.left, event.clientY - box.top]);
    };
    const element = host.current!;
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => {
      stop();
      size.disconnect();
      element.removeEventListener('wheel', onWheel);
      stage.stop();
    };
  }, []);

  const at = (event: PointerEvent): Point => {
    const box = host.current!.getBoundingClientRect();
    return [event.clientX - box.left, event.clientY - box.top];
  };
  const onPointerDown = (event: PointerEvent<HTMLDivElement>) => {
    const stage = view.current!;
    // A drag starts from the pose on a frame.
    if (event.button === 0) set({ playing: false });
    const from = at(event);
    const start = stage.toWorld(from);
    event.currentTarget.setPointerCapture(event.pointerId);
    const { moving } = get().display;
    const handle = event.button === 0 ? stage.handleAt(from) : undefined;
    if (moving && event.button === 0) held.current = { start, from, moved: false, ...backdropMover(moving) };
    else if (handle) {
      const isPlace = handle.form === 'origin' && get().role !== undefined;
      held.current = { start, from, drag: isPlace ? mover(stage, get().role!) : handle.drag, moved: false };
    } else {
      // A press grabs the selected role, even where another covers it; a click selects the role below.
      const roles = event.button === 0 ? stage.rolesAt(from) : [];
      const was = roles.indexOf(get().role ?? '');
      const role = roles[Math.max(0, was)];
      if (event.button === 0) selectRole(role);
      const under = was < 0 ? undefined : roles[(was + 1) % roles.length];
      held.current = { start, from, moved: false, under, ...(role !== undefined && { drag: mover(stage, role) }) };
    }
  };
  const onPointerMove = (event: PointerEvent<HTMLDivElement>) => {
    const stage = view.current!;
    const point = at(event);
    const grip = held.current;
    if (!grip) return;
    if (!grip.moved && Math.hypot(point[0] - grip.from[0], point[1] - grip.from[1]) < 3) return;
    grip.moved = true;
    if (grip.backdrop) grip.backdrop(stage.toWorld(point), grip.start);
    else if (grip.drag) tryValues(grip.drag(stage.toWorld(point), grip.start, event.altKey));
    else {
      stage.keepPlace();
      stage.panBy(event.movementX, event.movementY);
    }
  };
  const letGo = () => {
    const grip = held.current;
    held.current = undefined;
    view.current?.showGuides([]);
    if (grip?.moved && grip.drag) finishTrial();
    else if (grip?.under !== undefined) selectRole(grip.under);
  };
  /** What is held is where it was. */
  const cancel = () => {
    const grip = held.current;
    held.current = undefined;
    view.current?.showGuides([]);
    grip?.undo?.();
    if (grip?.drag) dropTrial();
  };
  useEscape(() => {
    if (!held.current) return false;
    cancel();
    return true;
  });
  const onKeyDown = (event: KeyboardEvent) => {
    const by = ({ ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] } as const)[
      event.key as 'ArrowUp'
    ];
    const { role, doc, values } = get();
    if (!by || role === undefined || !doc || event.ctrlKey || event.metaKey || event.altKey) return;
    event.preventDefault();
    event.stopPropagation();
    const far = event.shiftKey ? 10 : 1;
    tryValues(moveRole(doc, role, values, [0, 0], [by[0] * far, by[1] * far]));
    finishTrial();
  };
  return (
    <section className={`stage ${recording ? 'is-recording' : ''}`} aria-label="Stage">
      <StageBar view={view} />
      {/* An application takes the keyboard and the pointer itself. */}
      {/* eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions */}
      <div
        ref={host}
        className="stage-canvas"
        data-testid="stage"
        tabIndex={0}
        role="application"
        aria-label="Stage: arrow keys move the selected role"
        onPointerDown={onPointerDown}
        onPointerMove={onPointerMove}
        onPointerUp={letGo}
        onPointerCancel={cancel}
        onKeyDown={onKeyDown}
      >
        <Handles view={view} />
      </div>
      {recording && <p className="recording-mark">● Recording</p>}
    </section>
  );
}

function selectRole(role: string | undefined): void {
  set({ role, ...(role !== undefined && { openRoles: new Set([...get().openRoles, role]) }) });
}

/** Moves a picture behind the cast from where it lay. */
function backdropMover(name: BackdropName): Required<Pick<Held, 'backdrop' | 'undo'>> {
  const at = get().display[name]?.at ?? [0, 0];
  const whole = (n: number) => Number(n.toFixed(1));
  return {
    backdrop: (end, start) =>
      changeBackdrop(name, { at: [whole(at[0] + end[0] - start[0]), whole(at[1] + end[1] - start[1])] }),
    undo: () => changeBackdrop(name, { at }),
  };
}

/** How near (px) to a line a role snaps to it. */
const SNAP = 6;

/** Moves a role from where it was at the start of the drag; it snaps to other things unless Alt is held. */
function mover(stage: StageView, role: string): NonNullable<Held['drag']> {
  const { doc, reel, values } = get();
  const own = stage.extentOf(role);
  const others = rolesOf(doc!, reel!).flatMap((one) =>
    one === role || isUnder(doc!, one, role) ? [] : (stage.extentOf(one) ?? []),
  );
  const { tx, ty } = worldOf(doc!, role, { ...values, [`${role}.pivot`]: [0, 0] });
  return (end, start, free) => {
    const by = [end[0] - start[0], end[1] - start[1]] as const;
    const { snap } = get().display;
    const done = free ? { by, guides: [] } : snapped(by, [tx, ty], own, others, snap, SNAP / stage.place.zoom);
    stage.showGuides(done.guides);
    return moveRole(doc!, role, values, start, [start[0] + done.by[0], start[1] + done.by[1]]);
  };
}

/** Whether a role moves with another. */
function isUnder(doc: ReelDocument, role: string, other: string): boolean {
  const parent = doc.roles?.[role]?.parent;
  return parent !== undefined && (parent === other || isUnder(doc, parent, other));
}
