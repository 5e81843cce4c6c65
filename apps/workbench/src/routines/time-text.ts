import { parseTime } from 'unspool';

/** Whether a text is a time, or empty for none. */
export const isTimeText = (text: string) => text.trim() === '' || parseTime(timeOf(text), 60) !== undefined;

/** A time as it is typed: `8f`, `0.2s`, or seconds. */
export const timeOf = (text: string) => (Number.isNaN(Number(text)) ? text.trim() : Number(text)) as `${number}f`;
