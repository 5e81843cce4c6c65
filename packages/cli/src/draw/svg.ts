/** SVG as text: elements with their attributes, everything escaped. */
export type Attributes = Readonly<Record<string, string | number | undefined>>;

export function element(name: string, attributes: Attributes, ...children: readonly string[]): string {
  const written = Object.entries(attributes)
    .filter(([, value]) => value !== undefined)
    .map(([key, value]) => ` ${key}="${escape(typeof value === 'number' ? number(value) : value!)}"`)
    .join('');
  const inner = children.join('');
  return inner === '' ? `<${name}${written}/>` : `<${name}${written}>${inner}</${name}>`;
}

/** A text element. Its content is escaped here. */
export function text(content: string, attributes: Attributes): string {
  return element('text', attributes, escape(content));
}

export function escape(content: string): string {
  return content
    .replace(/[&<>"]/g, (sign) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[sign]!)
    .replace(/[^\P{Cc}\n\t]/gu, ' ');
}

/** Two decimals are a hundredth of a pixel. */
export function number(value: number): string {
  return String(Number(value.toFixed(2)));
}

/** How wide a text is about to be, in px: DejaVu Sans is 0.6 of its size on average. */
export function textWidth(content: string, size: number): number {
  return content.length * size * 0.6;
}

/** The text, cut with an ellipsis to what fits. Nothing where not even two letters do. */
export function fitText(content: string, size: number, width: number): string {
  if (textWidth(content, size) <= width) return content;
  const letters = Math.floor(width / (size * 0.6)) - 1;
  return letters < 2 ? '' : `${content.slice(0, letters)}…`;
}
