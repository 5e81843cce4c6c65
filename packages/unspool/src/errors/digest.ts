/**
 * A 32-bit digest of a value as JSON (FNV-1a, http://www.isthe.com/chongo/tech/comp/fnv/), to detect damaged data. It
 * does not depend on the order of members, which databases change. Values that JSON cannot hold, or writes as null,
 * contribute nothing; undefined members do not count.
 */
export function digest(value: unknown): number {
  const text = textOf(value);
  let sum = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) {
    const point = text.codePointAt(i)!;
    if (point > 0xffff) i++;
    sum = Math.imul(sum ^ point, 0x01000193);
  }
  return sum;
}

function textOf(value: unknown): string {
  try {
    return value === undefined ? '' : inOrder(value);
  } catch {
    return '';
  }
}

/** What JSON writes as it is. */
const PLAIN = /^[\w.:-]*$/;
const quoted = (text: string) => (PLAIN.test(text) ? `"${text}"` : JSON.stringify(text));

/** As JSON, with the members of objects in order. Put together by hand: a player saves its state in half the time. */
function inOrder(value: unknown): string {
  if (typeof value === 'number' && Number.isFinite(value)) return String(value);
  if (typeof value === 'string') return quoted(value);
  if (typeof value === 'boolean' || value === null) return String(value);
  if (typeof value !== 'object') throw new TypeError('not JSON');
  let text = '';
  if (Array.isArray(value)) {
    for (let i = 0; i < value.length; i++) text += (i > 0 ? ',' : '') + inOrder(value[i]);
    return `[${text}]`;
  }
  const members = value as Readonly<Record<string, unknown>>;
  for (const name of Object.keys(members).sort()) {
    if (members[name] === undefined) continue;
    text += `${text === '' ? '' : ','}${quoted(name)}:${inOrder(members[name])}`;
  }
  return `{${text}}`;
}
