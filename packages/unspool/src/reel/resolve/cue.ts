/** A cue, or with `until` an interval. Times in seconds. */
export interface ResolvedCue {
  readonly name: string;
  readonly at: number;
  readonly until?: number;
  readonly data: unknown;
}
