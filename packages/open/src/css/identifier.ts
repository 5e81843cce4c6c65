/**
 * A name of a reel as an identifier of CSS, which may not begin with a digit: that is escaped with six digits, so that
 * nothing has to follow (https://www.w3.org/TR/css-syntax-3/#escaping).
 */
export function identifier(name: string): string {
  const escaped = (letter: string) => `\\${letter.charCodeAt(0).toString(16).padStart(6, '0')}`;
  if (name === '-') return escaped('-');
  return name.replace(/^(-?)(\d)/, (_, dash: string, digit: string) => `${dash}${escaped(digit)}`);
}

/** An identifier with its escapes resolved. */
export const unescaped = (text: string): string =>
  text.replace(/\\(?:([0-9a-f]{1,6})\s?|([^]))/gi, (_, hex: string | undefined, letter: string | undefined) => {
    const code = Number.parseInt(hex ?? '', 16);
    return hex === undefined ? letter! : code > 0 && code <= 0x10ffff ? String.fromCodePoint(code) : '\uFFFD';
  });
