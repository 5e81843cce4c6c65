import { useRef, type PointerEvent, type RefObject } from 'react';
import { set } from '../model/store.js';
import { useEscape } from '../use-escape.js';
import type { Gesture } from './gestures.js';

type On = PointerEvent<HTMLCanvasElement>;

/**
 * Gestures of the pointer on a canvas, from press to release. Positions are relative to the corner of the canvas.
 *
 * @param begin what a press of the first button starts
 */
export function useGesture(begin: (x: number, y: number, event: On) => Gesture | undefined): {
  readonly gesture: RefObject<Gesture | undefined>;
  readonly on: Pick<
    React.CanvasHTMLAttributes<HTMLCanvasElement>,
    'onPointerDown' | 'onPointerMove' | 'onPointerUp' | 'onPointerCancel'
  >;
} {
  const gesture = useRef<Gesture | undefined>(undefined);
  useEscape(() => {
    const held = gesture.current;
    if (!held) return false;
    gesture.current = undefined;
    held.cancel();
    set({});
    return true;
  });
  const end = (how: 'end' | 'cancel') => () => {
    const held = gesture.current;
    gesture.current = undefined;
    held?.[how]();
    set({}); // the marked area is no longer drawn
  };
  const on = {
    onPointerDown(event: On) {
      if (event.button !== 0) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      gesture.current = begin(...placeOn(event), event);
    },
    onPointerMove(event: On) {
      gesture.current?.move(...placeOn(event), event.nativeEvent);
      if (gesture.current?.marquee) set({});
    },
    onPointerUp: end('end'),
    onPointerCancel: end('cancel'),
  };
  return { gesture, on };
}

/** Where an event of the mouse lies on the element that hears it. */
export function placeOn(event: React.MouseEvent): readonly [x: number, y: number] {
  const box = event.currentTarget.getBoundingClientRect();
  return [event.clientX - box.left, event.clientY - box.top];
}
