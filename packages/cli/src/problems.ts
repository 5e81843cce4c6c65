import { readReel, type Diagnostic } from 'unspool';
import { advise, withoutAccepted, type AdviseOptions } from 'unspool/edit';
import { adviseShapes } from 'unspool/hit';

/** All diagnostics of a text, from its first line to its last. A reel that can be played also gets advice. */
export function problemsOf(text: string, options: AdviseOptions & { readonly source: string }): Diagnostic[] {
  const { reel, diagnostics } = readReel(text, options);
  if (!reel) return diagnostics;
  const { document } = reel;
  const place = ({ line = 0, column = 0 }: Diagnostic) => line * 1e6 + column;
  const all = [...diagnostics, ...adviseShapes(reel, { ...options, text }), ...advise(document, { ...options, text })];
  return withoutAccepted(document, all).sort((a, b) => place(a) - place(b));
}

/** The diagnostics that an edit brings: those with a new message, where a track has more of that code than before. */
export function newProblems(before: string, after: string, source: string): Diagnostic[] {
  const has = problemsOf(after, { source });
  if (has.length === 0) return [];
  const had = problemsOf(before, { source });
  const more = new Map<string, number>();
  const add = (kind: string, by: number) => more.set(kind, (more.get(kind) ?? 0) + by);
  for (const one of had) add(kindOf(one), -1);
  for (const one of has) add(kindOf(one), 1);
  const said = new Set(had.map(({ message }) => message));
  return has.filter((one) => more.get(kindOf(one))! > 0 && !said.has(one.message));
}

/** Without the number of the key, which an edit may change. */
const kindOf = ({ code, path = '' }: Diagnostic) => `${code} ${path.replace(/\/\d+(\/|$).*/, '')}`;
