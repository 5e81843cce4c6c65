import { changeDisplay, get, setStatus } from './store.js';

/** Which roles this page shows and lets be taken hold of: nothing of it is in the reel. */

const without = (list: readonly string[], one: string) => list.filter((other) => other !== one);

export function toggleHidden(role = get().role): void {
  if (role === undefined) return setStatus('Select a role first.', true);
  const { hidden } = get().display;
  changeDisplay({ hidden: hidden.includes(role) ? without(hidden, role) : [...hidden, role], solo: undefined });
}

export function toggleLocked(role = get().role): void {
  if (role === undefined) return setStatus('Select a role first.', true);
  const { locked } = get().display;
  changeDisplay({ locked: locked.includes(role) ? without(locked, role) : [...locked, role] });
}

/** Shows one role alone, or all again. */
export function toggleSolo(role = get().role): void {
  if (role === undefined) return setStatus('Select a role first.', true);
  changeDisplay({ solo: get().display.solo === role ? undefined : role });
}

export function showAllRoles(): void {
  changeDisplay({ hidden: [], locked: [], solo: undefined });
}
