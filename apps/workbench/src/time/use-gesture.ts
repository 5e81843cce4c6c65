import { useEffect, useRef, type PointerEvent, type RefObject } from 'react';
import { shown } from '../model/actions.js';
import { moved, PAD } from '../model/axis.js';
import { get, set } from '../model/store.js';
import { useEscape } from '../use-escape.js';
import type { Gesture } from './gestures.js';

type On = PointerEvent<HTMLCanvasElement>;

/** How near to the side of the canvas (px) a drag takes the view along, and how fast: widths of the canvas a second. */
const EDGE = 8;
const SPEED = 0.8;

/**
 * Gestures of the pointer on a canvas, from press to release. Positions are relative to the corner of the canvas; at its
 * sides the view of time goes along, and positions count on as if the canvas were wider.
 *
 * @param begin what a press of the first button starts
 */
export function useGesture(begin: (x: number, y: number, event: On) => Gesture | undefined): {
  readonly gesture: RefObject<Gesture | undefined>;
  readonly follow: RefObject<Follow | undefined>;
  readonly on: Pick<
    React.CanvasHTMLAttributes<HTMLCanvasElement>,
    'onPointerDown' | 'onPointerMove' | 'onPointerUp' | 'onPointerCancel'
  >;
} {
  const gesture = useRef<Gesture | undefined>(undefined);
  const follow = useRef<Follow | undefined>(undefined);
  useEffect(() => () => follow.current?.stop(), []);
  useEscape(() => {
    const held = gesture.current;
    if (!held) return false;
    gesture.current = undefined;
    follow.current?.stop();
    held.cancel();
    set({});
    return true;
  });
  const end = (how: 'end' | 'cancel') => () => {
    const held = gesture.current;
    gesture.current = undefined;
    follow.current?.stop();
    held?.[how]();
    set({}); // the marked area is no longer drawn
  };
  const on = {
    onPointerDown(event: On) {
      if (event.button !== 0) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      follow.current = new Follow(
        event.currentTarget,
        () => gesture.current?.lengthens === true,
        (x, y, last) => {
          gesture.current?.move(x, y, last);
          if (gesture.current?.marquee) set({});
        },
      );
      gesture.current = begin(...placeOn(event), event);
    },
    onPointerMove(event: On) {
      if (gesture.current) follow.current?.to(...placeOn(event), event.nativeEvent);
    },
    onPointerUp: end('end'),
    onPointerCancel: end('cancel'),
  };
  return { gesture, follow, on };
}

/** Takes the view of time along while a drag is at a side of its canvas. */
export class Follow {
  /** How far the view has gone since the press, in pixels. */
  gone = 0;
  #frame = 0;
  #last: readonly [x: number, y: number, event: globalThis.PointerEvent] | undefined;
  readonly #width: number;

  constructor(
    canvas: Element,
    /** Whether the view may leave the clip behind: keys may be put after the end. */
    private readonly goesOn: () => boolean,
    private readonly move: (x: number, y: number, event: globalThis.PointerEvent) => void,
  ) {
    this.#width = canvas.clientWidth;
  }

  to(x: number, y: number, event: globalThis.PointerEvent): void {
    this.#last = [x, y, event];
    this.move(x + this.gone, y, event);
    const isAtSide = x < EDGE || x > this.#width - EDGE;
    if (isAtSide && event.buttons !== 0) this.#frame ||= requestAnimationFrame(this.#advance);
    else this.stop();
  }

  stop(): void {
    cancelAnimationFrame(this.#frame);
    this.#frame = 0;
  }

  readonly #advance = (): void => {
    this.#frame = 0;
    const now = shown();
    if (!now || !this.#last) return;
    const { view } = get();
    const [x, y, event] = this.#last;
    const length = view.until - view.from;
    const next = moved(view, ((x < EDGE ? -1 : 1) * SPEED * length) / 60, now.duration);
    // At the end of what can be seen it stays.
    if (next.from === view.from || (next.until > now.duration && next.from > view.from && !this.goesOn())) return;
    this.gone += ((next.from - view.from) / length) * (this.#width - 2 * PAD);
    set({ view: next });
    this.to(x, y, event);
  };
}

/** Where an event of the mouse lies on the element that hears it. */
export function placeOn(event: React.MouseEvent): readonly [x: number, y: number] {
  const box = event.currentTarget.getBoundingClientRect();
  return [event.clientX - box.left, event.clientY - box.top];
}
