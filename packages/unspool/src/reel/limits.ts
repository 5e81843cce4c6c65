/** What a reel may hold at most. Each limit is an error that names it. */
export const LIMITS = {
  /** Bytes of a file: 16 MiB. */
  bytes: 16 * 1024 * 1024,
  /** Levels of JSON. */
  depth: 64,
  /** Keys in a reel, frames counted one by one. */
  keys: 1_000_000,
  /** Seconds of a clip: a day. */
  seconds: 86_400,
  /** Levels of role parents. */
  parents: 32,
  /** Levels of clips inside clips. */
  parts: 32,
  /** Cues in a clip, those of its parts counted in. */
  cues: 10_000,
} as const;
