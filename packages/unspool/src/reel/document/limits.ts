/** The fastest that a clip is played, forwards or backwards. */
export const MAX_RATE = 1e6;

/** The largest sizes that a reel may have. Exceeding one is an error that names it. */
export const LIMITS = {
  /** Bytes of a file: 16 MiB. */
  bytes: 16 * 1024 * 1024,
  /** Levels of JSON. */
  depth: 64,
  /** Keys in a reel, each frame of a row counts. */
  keys: 1_000_000,
  /** Seconds of a clip: a day. */
  seconds: 86_400,
  /** Levels of role parents. */
  parents: 32,
  /** Levels of clips inside clips. */
  parts: 32,
  /** Cues in a clip, including those of its parts. */
  cues: 10_000,
} as const;
