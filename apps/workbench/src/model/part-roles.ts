import { apply, shown } from './actions.js';
import { listedAs } from './moves.js';
import { partsOf } from './names.js';
import { rolesOf } from './rows.js';
import { set } from './store.js';

/** Asks which roles of the current clip play the roles of a part. */
export function askPartRoles(name: string, seconds: number): void {
  const now = shown();
  if (!now) return;
  const part = listedAs({ what: 'part', name, at: seconds }, now);
  const given = part && 'roles' in part ? part.roles : undefined;
  const own = rolesOf(now.doc, now.reel);
  const roles = [...new Set(Object.keys(now.doc.clips[name]?.tracks ?? {}).map((track) => partsOf(track)[0]))];
  set({
    status: { message: '', isFault: false },
    dialog: {
      title: `Roles of the part ${name}`,
      action: 'Set',
      fields: roles.map((role) => ({ label: role, value: given?.[role] ?? role, options: own })),
      run: (...chosen) => {
        const others = roles.flatMap((role, i) => (chosen[i] === role ? [] : [[role, chosen[i]!] as const]));
        const to = { roles: others.length > 0 ? Object.fromEntries(others) : null };
        return apply({ do: 'change', what: 'part', clip: now.name, name, at: seconds, to });
      },
    },
  });
}
