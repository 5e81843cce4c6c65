/** One thing that a conversion did, and where. */
export interface ConversionNote {
  /** Where in the source: a JSON Pointer (RFC 6901), or `line 12` of a text. */
  readonly at: string;
  /** A sentence with the names and values in question. */
  readonly what: string;
  /** The largest error, in `unit`. */
  readonly error?: number;
  /** `units` of the property, `degrees`, `seconds`, or `` for shares from 0 to 1. */
  readonly unit?: string;
}

/** A name that had to change to be valid and unique. */
export interface RenamedItem {
  readonly what: 'role' | 'clip' | 'cue' | 'property';
  readonly from: string;
  readonly to: string;
}

/** What a conversion did with everything that it was given: nothing is left out. */
export interface ConversionReport {
  /** Said exactly in the other format (in the 32-bit numbers of glTF, where that is the format). */
  readonly kept: readonly ConversionNote[];
  /** Said with an error, which the note has. */
  readonly approximated: readonly ConversionNote[];
  /** Not said in the other format. */
  readonly dropped: readonly ConversionNote[];
  readonly renamed: readonly RenamedItem[];
}

/** The result of a conversion with its report. */
export interface Converted<T> {
  readonly result: T;
  readonly report: ConversionReport;
}

/** Collects a report. */
export class Notes {
  readonly #kept: ConversionNote[] = [];
  readonly #approximated: ConversionNote[] = [];
  readonly #dropped: ConversionNote[] = [];
  readonly #renamed: RenamedItem[] = [];

  kept(at: string, what: string): void {
    this.#kept.push({ at, what });
  }

  approximated(at: string, what: string, error?: number, unit = 'units'): void {
    this.#approximated.push({ at, what, ...(error !== undefined && { error, unit }) });
  }

  dropped(at: string, what: string): void {
    this.#dropped.push({ at, what });
  }

  /** A track that accumulates, in a format whose loops start anew. */
  startsAnew(at: string, track: string): void {
    this.dropped(at, `${track} accumulates: here each iteration starts anew`);
  }

  renamed(what: RenamedItem['what'], from: string, to: string): void {
    this.#renamed.push({ what, from, to });
  }

  get report(): ConversionReport {
    return {
      kept: this.#kept,
      approximated: this.#approximated,
      dropped: this.#dropped,
      renamed: this.#renamed,
    };
  }

  of<T>(result: T): Converted<T> {
    return { result, report: this.report };
  }
}

/** A number in a sentence: two digits are enough for an error. */
export const formatError = (error: number, unit = ''): string =>
  `${Number(error.toPrecision(2))}${unit === '' ? '' : ` ${unit}`}`;

/** A note as one sentence: `snap: claw.scale (error 0.00003 units)`. A place in a clip is called by its name. */
export function formatNote({ at, what, error, unit }: ConversionNote): string {
  const place = /^\/clips\/([^/]+)/.exec(at)?.[1] ?? at;
  return `${place === '' ? '' : `${place}: `}${what}${error === undefined ? '' : ` (error ${formatError(error, unit)})`}`;
}

/** A JSON Pointer (RFC 6901) from its steps. */
export const pointer = (...steps: readonly (string | number)[]): string =>
  steps.map((step) => `/${String(step).replaceAll('~', '~0').replaceAll('/', '~1')}`).join('');

/** `1 cue`, `2 cues`. */
export const counted = (count: number, thing: string): string => `${count} ${thing}${count === 1 ? '' : 's'}`;
