import { useEffect, useEffectEvent, useRef, type CanvasHTMLAttributes } from 'react';
import { useStore } from '../model/store.js';
import type { Colors } from './colors.js';

interface Props extends CanvasHTMLAttributes<HTMLCanvasElement> {
  /** Draws everything again, in CSS pixels. */
  readonly draw: (context: CanvasRenderingContext2D, width: number, height: number, colors: Colors) => void;
}

/** A canvas of the size of its container, drawn again in the next frame after a change. */
export function Canvas({ draw, ...others }: Props) {
  const ref = useRef<HTMLCanvasElement>(null);
  const onPaint = useEffectEvent(draw);
  const again = useRef<() => void>(undefined);
  useEffect(() => {
    const canvas = ref.current!;
    const context = canvas.getContext('2d')!;
    const style = getComputedStyle(canvas);
    const known = new Map<string, string>();
    const colors: Colors = (name) => {
      let color = known.get(name);
      if (color === undefined) known.set(name, (color = style.getPropertyValue(`--${name}`).trim()));
      return color;
    };
    let frame = 0;
    const paint = () => {
      frame = 0;
      const { clientWidth: width, clientHeight: height } = canvas;
      const ratio = devicePixelRatio || 1;
      if (canvas.width !== Math.round(width * ratio) || canvas.height !== Math.round(height * ratio)) {
        canvas.width = Math.round(width * ratio);
        canvas.height = Math.round(height * ratio);
      }
      context.setTransform(ratio, 0, 0, ratio, 0, 0);
      context.clearRect(0, 0, width, height);
      onPaint(context, width, height, colors);
    };
    const schedule = () => {
      frame ||= requestAnimationFrame(paint);
    };
    again.current = schedule;
    schedule();
    const stop = useStore.subscribe(schedule);
    const size = new ResizeObserver(schedule);
    size.observe(canvas);
    const theme = matchMedia('(prefers-color-scheme: dark)');
    const retheme = () => {
      known.clear();
      schedule();
    };
    theme.addEventListener('change', retheme);
    return () => {
      stop();
      size.disconnect();
      theme.removeEventListener('change', retheme);
      cancelAnimationFrame(frame);
    };
  }, []);
  useEffect(() => again.current?.());
  return <canvas ref={ref} {...others} />;
}
