/** A value as a message quotes it: JSON, cut to `most` characters; what JSON cannot say is named. */
export function show(value: unknown, most = 60): string {
  if (typeof value === 'number' || value === undefined) return String(value);
  if (typeof value === 'function' || typeof value === 'symbol') return `a ${typeof value}`;
  if (typeof value === 'bigint') return `${value}n`;
  let text: string;
  try {
    // An object may say of itself that it is nothing as JSON.
    text = JSON.stringify(value) ?? 'an object';
  } catch {
    text = 'an object';
  }
  return text.length > most ? `${text.slice(0, most - 1)}…` : text;
}
