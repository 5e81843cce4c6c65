import { rolesOf } from './rows.js';
import { get, set } from './store.js';

/** Hides the tracks of a role behind its summary, or shows them. */
export function foldRole(role: string): void {
  const folded = new Set(get().foldedRoles);
  if (!folded.delete(role)) folded.add(role);
  set({ foldedRoles: folded });
}

/** Hides all tracks behind the summaries of their roles; shows them when all are hidden. */
export function foldAll(): void {
  const { doc, reel, foldedRoles } = get();
  if (!doc || !reel) return;
  const roles = rolesOf(doc, reel);
  set({ foldedRoles: new Set(roles.every((role) => foldedRoles.has(role)) ? [] : roles) });
}
