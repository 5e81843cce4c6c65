import type { GameMessage, LiveOrder } from 'unspool/live';
import * as v from 'valibot';

/**
 * What games and pages may say about running games. The game is not ours: its messages have limits, and only the members
 * that are listed here are passed on.
 */
const name = v.pipe(v.string(), v.minLength(1), v.maxLength(200));
const number = v.pipe(v.number(), v.finite());
const seconds = v.pipe(number, v.minValue(0));
const list = <S extends v.GenericSchema>(schema: S, most: number) => v.pipe(v.array(schema), v.maxLength(most));

const numbers = list(number, 4);
/** A list would pass as a record, too. */
const noList = v.pipe(
  v.unknown(),
  v.check((input) => !Array.isArray(input), 'a list is longer than allowed, or has something else in it than numbers'),
);
const shape = v.pipe(noList, v.record(name, v.union([number, numbers])), v.maxEntries(16));
const value = v.union([number, v.boolean(), v.pipe(v.string(), v.maxLength(1000)), numbers, v.null(), shape]);
const values = v.pipe(noList, v.record(name, value), v.maxEntries(5000));

const moment = v.object({
  playing: list(v.object({ layer: name, clip: name, time: seconds, active: v.boolean(), queue: list(name, 100) }), 64),
  paused: v.boolean(),
  rate: number,
  mark: v.exactOptional(name),
  recorded: v.exactOptional(seconds),
  values: v.exactOptional(values),
  changed: v.exactOptional(list(v.object({ name, value, was: value }), 5000)),
});

const gameMessage = v.variant('tell', [
  v.object({
    tell: v.literal('players'),
    game: v.pipe(v.string(), v.maxLength(200)),
    follows: v.boolean(),
    players: list(v.object({ name, reel: v.pipe(v.string(), v.maxLength(200)), clips: list(name, 5000) }), 64),
  }),
  v.object({ tell: v.literal('moment'), player: name, moment }),
  v.object({
    tell: v.literal('samples'),
    player: name,
    samples: list(v.object({ time: seconds, values }), 500),
    isLast: v.boolean(),
  }),
  v.object({ tell: v.literal('problem'), player: name, message: v.pipe(v.string(), v.maxLength(2000)) }),
]);

const order = v.variant('do', [
  v.object({ do: v.picklist(['pause', 'resume', 'stop-recording']) }),
  v.object({ do: v.literal('step'), frames: v.pipe(number, v.minValue(0), v.maxValue(600)) }),
  v.object({ do: v.literal('rate'), rate: v.pipe(number, v.minValue(0.01), v.maxValue(10)) }),
  v.object({ do: v.literal('play'), clip: name }),
  v.object({ do: v.literal('seek'), clip: name, time: seconds }),
  v.object({ do: v.literal('give-back'), names: v.exactOptional(list(name, 5000)) }),
  v.object({ do: v.literal('record'), roles: list(name, 500) }),
  v.object({ do: v.literal('keep-place'), on: v.boolean() }),
]);

/** A message of a game, or why it is none. */
export function readGameMessage(text: string): GameMessage | string {
  let message: unknown;
  try {
    message = JSON.parse(text);
  } catch {
    return 'it is not JSON';
  }
  const read = v.safeParse(gameMessage, message, { abortEarly: true });
  if (read.success) return read.output as GameMessage;
  const [issue] = read.issues;
  return `${v.getDotPath(issue) ?? 'it'}: ${issue.message}`;
}

/** An order of a page, if it is one. */
export function readOrder(given: unknown): LiveOrder | undefined {
  const read = v.safeParse(order, given, { abortEarly: true });
  return read.success ? read.output : undefined;
}
