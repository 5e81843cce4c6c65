/** Calls `tick` in each frame of the page with the seconds since the last one, at most 0.1. Returns what ends it. */
export function animationFrames(tick: (dt: number, now: number) => void): () => void {
  let last = performance.now();
  let frame = requestAnimationFrame(function next(now) {
    frame = requestAnimationFrame(next);
    // The first frame may have started before this was requested.
    const dt = Math.min(0.1, Math.max(0, (now - last) / 1000));
    last = now;
    tick(dt, now);
  });
  return () => cancelAnimationFrame(frame);
}
