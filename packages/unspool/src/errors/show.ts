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

const six = (n: number) => String(Number(n.toPrecision(6)));

/** A time as a message gives it, to six digits: nobody reads 0.5333333333333333. */
export const showSeconds = (seconds: number) => `${six(seconds)} s`;

export const showRange = (low: number, high: number) => `${six(low)} to ${six(high)} s`;
