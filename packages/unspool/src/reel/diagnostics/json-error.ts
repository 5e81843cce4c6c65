/** The first syntax error of a JSON text (RFC 8259), in words, and its place. */
export interface JsonError {
  readonly message: string;
  readonly offset: number;
}

const TOKEN =
  /[{}[\],:]|"(?:[^"\\\p{Cc}]|\\(?:["\\/bfnrt]|u[0-9A-Fa-f]{4}))*"|-?(?:0|[1-9]\d*)(?:\.\d+)?(?:[eE][+-]?\d+)?|true|false|null/uy;
const SPACE = /[ \t\n\r]*/y;

/** What may come next: a value, a value or the end of a list, a name, a name or the end of an object … */
type Expected = 'value' | 'value or ]' | 'name' | 'name or }' | ':' | ', or end' | 'nothing';

/**
 * Finds the first fault of a text that `JSON.parse` has refused. (What engines say of it differs, and does not always
 * tell where it is.)
 */
export function findJsonError(text: string): JsonError {
  const stack: ('{' | '[')[] = [];
  let expected: Expected = 'value';
  let end = 0;
  for (let at = skip(text, 0); at < text.length; at = skip(text, end)) {
    TOKEN.lastIndex = at;
    const token = TOKEN.exec(text)?.[0];
    // A word or number that continues after a valid start ("12px", "nullish") is invalid as a whole.
    if (token === undefined || (/^[\w.+-]$/.test(text[at + token.length] ?? '') && /[\w]$/.test(token)))
      return say(text, at, end, expected);
    const next = follow(token, expected, stack);
    if (next === undefined) return say(text, at, end, expected);
    expected = next;
    end = at + token.length;
  }
  return { message: 'unexpected end: a bracket or quote is not closed', offset: end };
}

function skip(text: string, at: number): number {
  SPACE.lastIndex = at;
  SPACE.test(text);
  return SPACE.lastIndex;
}

/** What may come after a token, or `undefined` when it is not allowed. Opens and closes brackets on the stack. */
function follow(token: string, expected: Expected, stack: ('{' | '[')[]): Expected | undefined {
  const after = (): Expected => (stack.length === 0 ? 'nothing' : ', or end');
  const mayEnd = expected === ', or end' || expected === 'value or ]' || expected === 'name or }';
  switch (token) {
    case '}':
    case ']':
      if (!mayEnd || stack.at(-1) !== (token === '}' ? '{' : '[')) return undefined;
      stack.pop();
      return after();
    case ',':
      if (expected !== ', or end') return undefined;
      return stack.at(-1) === '{' ? 'name' : 'value';
    case ':':
      return expected === ':' ? 'value' : undefined;
  }
  if (expected === 'name' || expected === 'name or }') return token.startsWith('"') ? ':' : undefined;
  if (expected !== 'value' && expected !== 'value or ]') return undefined;
  if (token !== '{' && token !== '[') return after();
  stack.push(token);
  return token === '{' ? 'name or }' : 'value or ]';
}

function say(text: string, at: number, before: number, expected: Expected): JsonError {
  const rest = text.slice(at, at + 64);
  if (/^[}\]]/.test(rest) && text[before - 1] === ',') {
    return { message: 'trailing comma before a closing bracket', offset: before - 1 };
  }
  if (/^[}\]]/.test(rest)) return { message: `unexpected closing bracket ${rest[0]}`, offset: at };
  if (/^\/[/*]/.test(rest)) return { message: 'comments are not allowed in JSON', offset: at };
  if (rest.startsWith("'")) return { message: 'strings need double quotes', offset: at };
  if (rest.startsWith('"') && expected.includes('value'))
    return { message: 'unclosed string, or a character that needs a backslash', offset: at };
  if (expected === 'nothing') return { message: 'unexpected text after the end', offset: at };
  if (expected === ', or end') return { message: 'missing comma before this', offset: at };
  if (expected === ':') return { message: 'missing colon between the name and its value', offset: at };
  if (expected.startsWith('name')) return { message: 'expected a name in double quotes', offset: at };
  const word = /^[+-]?[\w.]+/.exec(rest)?.[0];
  if (word !== undefined)
    return { message: `unexpected ${word}: expected a number, true, false, null or a string in quotes`, offset: at };
  return { message: `${JSON.stringify(String.fromCodePoint(rest.codePointAt(0)!))} is not allowed here`, offset: at };
}
