/** Letters that have to be put in, taken out, exchanged or swapped with their neighbour to turn `a` into `b`. */
function distance(a: string, b: string): number {
  let before: number[] = [];
  let above = Array.from({ length: b.length + 1 }, (_, j) => j);
  for (let i = 1; i <= a.length; i++) {
    const row = [i];
    for (let j = 1; j <= b.length; j++) {
      const same = a[i - 1] === b[j - 1] ? 0 : 1;
      let least = Math.min(above[j]! + 1, row[j - 1]! + 1, above[j - 1]! + same);
      if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1]) {
        least = Math.min(least, before[j - 2]! + 1);
      }
      row.push(least);
    }
    before = above;
    above = row;
  }
  return above[b.length]!;
}

/** The candidate that `word` was probably meant to be, or `undefined` when none is close. */
export function nearest(word: string, candidates: Iterable<string>): string | undefined {
  // JavaScript callers may pass anything as a name.
  const wanted = String(word).slice(0, 64).toLowerCase();
  let best: string | undefined;
  let least = 1 + Math.min(3, Math.floor(wanted.length / 3));
  for (const candidate of candidates) {
    const far = distance(wanted, candidate.toLowerCase());
    if (far < least) [least, best] = [far, candidate];
  }
  return best;
}

/** Returns `did you mean "snap"?` when a candidate is similar, else `use one of: …` with the candidates. */
export function suggest(word: string, candidates: readonly string[]): string {
  const close = nearest(word, candidates);
  if (close !== undefined) return `did you mean ${JSON.stringify(close)}?`;
  return candidates.length === 0 ? 'there are none yet' : `use one of: ${list(candidates)}`;
}

/** The first names of a list, and how many more there are. */
export function list(names: readonly string[], most = 12): string {
  const shown = names.slice(0, most).join(', ');
  return names.length > most ? `${shown} and ${names.length - most} more` : shown;
}
