import type { RoutineDocument, RuleDocument } from '../reel/document/document.js';
import { pointerOf } from '../reel/diagnostics/text-locations.js';
import { compareMaps, membersOf, shown, type Difference } from './compare-members.js';
import { isSame } from './patch.js';

type Routines = Readonly<Record<string, RoutineDocument>>;

/** The differences between routines: inputs and rules by name, and the order of the rules. */
export function compareRoutines(a: Routines, b: Routines): Difference[] {
  return [...new Set([...Object.keys(a), ...Object.keys(b)])].flatMap((name): Difference[] => {
    const [was, is] = [a[name], b[name]];
    const path = ['routines', name];
    if (isSame(was, is)) return [];
    if (!was) return [{ path: pointerOf(path), summary: `new routine ${name}` }];
    if (!is) return [{ path: pointerOf(path), summary: `removed routine ${name}` }];
    const about: Difference[] =
      was.about === is.about
        ? []
        : [{ path: pointerOf([...path, 'about']), summary: `about: ${shown(was.about)} → ${shown(is.about)}` }];
    const inner = [...about, ...compareMaps('inputs', was.inputs ?? {}, is.inputs ?? {}, path), ...compareRules(was.rules, is.rules, name)]; // prettier-ignore
    return inner.map((one) => ({ ...one, summary: `routine ${name}: ${one.summary}` }));
  });
}

function compareRules(was: readonly RuleDocument[], is: readonly RuleDocument[], routine: string): Difference[] {
  const at = (place: number) => pointerOf(['routines', routine, 'rules', place]);
  const found: Difference[] = [];
  for (const [place, rule] of was.entries()) {
    const to = is.findIndex(({ name }) => name === rule.name);
    if (to < 0) found.push({ path: at(place), summary: `removed rule ${rule.name}` });
    else if (!isSame(rule, is[to]))
      found.push({ path: at(to), summary: `rule ${rule.name}: ${membersOf(rule, is[to])}` });
  }
  for (const [place, { name }] of is.entries())
    if (!was.some((rule) => rule.name === name)) found.push({ path: at(place), summary: `new rule ${name}` });
  const kept = (list: readonly RuleDocument[], other: readonly RuleDocument[]) =>
    list.map(({ name }) => name).filter((name) => other.some((rule) => rule.name === name));
  const order = is.map(({ name }) => name).join(', ');
  if (kept(was, is).join() !== kept(is, was).join())
    found.push({ path: pointerOf(['routines', routine, 'rules']), summary: `new order of rules: ${order}` });
  return found;
}
