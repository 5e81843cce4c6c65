import { useEffect, useEffectEvent } from 'react';

/**
 * Handles Escape before anything else does, for a drag.
 *
 * @param cancel cancels the drag; returns whether there was one
 */
export function useEscape(cancel: () => boolean): void {
  const onEscape = useEffectEvent(cancel);
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent) => {
      if (event.key !== 'Escape' || !onEscape()) return;
      event.preventDefault();
      event.stopImmediatePropagation();
    };
    addEventListener('keydown', onKeyDown, { capture: true });
    return () => removeEventListener('keydown', onKeyDown, { capture: true });
  }, []);
}
