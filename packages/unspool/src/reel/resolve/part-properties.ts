import type { ReelDocument } from '../document/document.js';
import type { Report } from '../diagnostics/diagnostic-messages.js';
import { shapesOf, targetOf, type Draft } from './targets.js';

/**
 * Adds the properties that only parts animate: those of an inner clip whose roles are played by others. They have the
 * kind of the inner property.
 *
 * @returns the roles that parts animate
 */
export function addPartProperties(reel: ReelDocument, drafts: Map<string, Draft>, report: Report): Set<string> {
  const roles = new Set<string>();
  const known = new Map<string, ReadonlySet<string>>();
  /** Names of the properties that a clip animates, including its parts. */
  const visit = (clip: string): ReadonlySet<string> => {
    const visited = known.get(clip);
    if (visited) return visited;
    const names = new Set<string>();
    known.set(clip, names); // a circle finds what is known so far; it is reported elsewhere
    const { tracks = {}, parts = [] } = reel.clips[clip] ?? {};
    for (const name of Object.keys(tracks)) {
      const target = targetOf(reel, name);
      if (target) names.add(`${target.role}.${target.property}`);
    }
    parts.forEach((part, index) => {
      const path = ['clips', clip, 'parts', index];
      const inner = visit(part.clip);
      checkRoles(reel, part.roles ?? {}, inner, [...path, 'roles'], report);
      for (const name of inner) {
        const inside = name.slice(0, name.indexOf('.'));
        const role = part.roles && Object.hasOwn(part.roles, inside) ? part.roles[inside]! : inside;
        const property = name.slice(inside.length + 1);
        const draft = drafts.get(name);
        const outer = `${role}.${property}`;
        if (draft && !drafts.has(outer)) {
          // A shape hits as the inner one does, unless the outer role says more of its own.
          const own = shapesOf(reel, role);
          const message = Object.hasOwn(own, property) ? own[property]! : draft;
          const { tag, data } = message;
          drafts.set(outer, { target: { role, property, channel: -1 }, kind: draft.kind, path, tag, data });
        }
        roles.add(role);
        names.add(outer);
      }
    });
    return names;
  };
  for (const clip of Object.keys(reel.clips)) visit(clip);
  return roles;
}

/** Both sides of a mapping must be there: the inner role in the clip that is played, the outer one in the reel. */
function checkRoles(
  reel: ReelDocument,
  roles: Readonly<Record<string, string>>,
  inner: ReadonlySet<string>,
  path: readonly (string | number)[],
  report: Report,
): void {
  const animated = [...new Set([...inner].map((name) => name.slice(0, name.indexOf('.'))))];
  const declared = Object.keys(reel.roles ?? {});
  for (const [from, to] of Object.entries(roles)) {
    if (!animated.includes(from))
      report('reel/unknown-role', [...path, from], { name: from, known: animated }, 'error', 'name');
    if (reel.roles && !declared.includes(to))
      report('reel/unknown-role', [...path, from], { name: to, known: declared });
  }
}
