const PRIME = 0x01000193;
/** The word that begins each kind of value; numbers and texts have none. */
const [OBJECT, LIST, NULL, TRUE, FALSE] = [1, 2, 3, 4, 5];

const number = new Float64Array(1);
const words = new Int32Array(number.buffer);

/**
 * A 32-bit digest of a value as JSON, to detect damaged data: FNV-1a (http://www.isthe.com/chongo/tech/comp/fnv/), with
 * the words of numbers and the code units of texts in place of bytes. It does not depend on the order of members, which
 * databases change; undefined members do not count. NaN, which equals no digest, for what JSON cannot hold.
 */
export function digest(value: unknown): number {
  try {
    return add(0x811c9dc5, value);
  } catch {
    return NaN;
  }
}

function add(sum: number, value: unknown): number {
  if (typeof value === 'number' && Number.isFinite(value)) return addNumber(sum, value);
  if (typeof value === 'string') return addText(sum, value);
  if (typeof value === 'boolean') return addWord(sum, value ? TRUE : FALSE);
  if (value === null) return addWord(sum, NULL);
  if (typeof value !== 'object') throw new TypeError('not JSON');
  if (Array.isArray(value)) return addList(addWord(sum, LIST), value);
  let all = addWord(sum, OBJECT);
  const members = value as Readonly<Record<string, unknown>>;
  for (const name of Object.keys(members).sort()) {
    const member = members[name];
    if (member !== undefined) all = add(addText(all, name), member);
  }
  return all;
}

const addWord = (sum: number, word: number) => Math.imul(sum ^ word, PRIME);

function addNumber(sum: number, value: number): number {
  number[0] = value + 0; // JSON has no −0
  return addWord(addWord(sum, words[0]!), words[1]!);
}

/** In one loop, because most data is lists of numbers, and is met before anything runs warm. */
function addList(sum: number, list: readonly unknown[]): number {
  let all = addWord(sum, list.length);
  for (let i = 0; i < list.length; i++) {
    const item = list[i];
    if (typeof item === 'number' && Number.isFinite(item)) {
      number[0] = item + 0;
      all = Math.imul(Math.imul(all ^ words[0]!, PRIME) ^ words[1]!, PRIME);
    } else all = add(all, item);
  }
  return all;
}

function addText(sum: number, text: string): number {
  let all = addWord(sum, text.length);
  for (let i = 0; i < text.length; i++) all = Math.imul(all ^ text.charCodeAt(i), PRIME);
  return all;
}
