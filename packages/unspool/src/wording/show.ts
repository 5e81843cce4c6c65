/** A value as a message quotes it: JSON, cut to `most` characters; what JSON cannot say is named. */
export function show(value: unknown, most = 60): string {
  if (typeof value === 'number' || value === undefined) return String(value);
  if (typeof value === 'function' || typeof value === 'symbol') return `a ${typeof value}`;
  let text: string;
  try {
    text = JSON.stringify(value);
  } catch {
    text = 'no JSON';
  }
  return text.length > most ? `${text.slice(0, most - 1)}…` : text;
}
