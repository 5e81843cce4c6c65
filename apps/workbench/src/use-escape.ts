import { useEffect, useRef } from 'react';

/**
 * Handles Escape before anything else does, for a drag.
 *
 * @param cancel cancels the drag; returns whether there was one
 */
export function useEscape(cancel: () => boolean): void {
  const latest = useRef(cancel);
  latest.current = cancel;
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent) => {
      if (event.key !== 'Escape' || !latest.current()) return;
      event.preventDefault();
      event.stopImmediatePropagation();
    };
    addEventListener('keydown', onKeyDown, { capture: true });
    return () => removeEventListener('keydown', onKeyDown, { capture: true });
  }, []);
}
