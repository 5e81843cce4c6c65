import { useEffect, useRef } from 'react';

/**
 * Hears Escape before anything else does, for what the hand has hold of.
 *
 * @param cancel lets go of it as it was; returns whether there was anything to let go of
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
