import type { PackedReel } from '../clip/packed.js';
import type { Value } from '../value/read.js';

/**
 * What a running game and the workbench's server say to each other: JSON texts over a WebSocket, one for each game. A
 * game says what its players show; it cannot change a reel.
 */
export const LIVE_PROTOCOL = 'unspool.live.1';

/** A message of a game. */
export type GameMessage =
  /** The first one, and again when other players are linked. */
  | {
      readonly tell: 'players';
      /** The title of the game. */
      readonly game: string;
      /** Whether it follows the reels by itself: then it is not sent steps. */
      readonly follows: boolean;
      readonly players: readonly LinkedReel[];
    }
  | { readonly tell: 'moment'; readonly player: string; readonly moment: LiveMoment }
  /** What was recorded, in the order of time; `isLast` with the last of it. */
  | {
      readonly tell: 'samples';
      readonly player: string;
      readonly samples: readonly LiveSample[];
      readonly isLast: boolean;
    }
  /** Why an order could not be followed. */
  | { readonly tell: 'problem'; readonly player: string; readonly message: string };

/** A linked player, and what tells which reel it plays. */
export interface LinkedReel {
  readonly name: string;
  readonly reel: string;
  readonly clips: readonly string[];
}

/** What a player shows at a moment. */
export interface LiveMoment {
  /** The layers on which something plays, the lowest first. */
  readonly playing: readonly LivePlaying[];
  /** Whether the workbench has paused it, and its speed: 1 is that of the game. */
  readonly paused: boolean;
  readonly rate: number;
  /** The mark of the last order that it has had: what was sent before that shows is out of date. */
  readonly mark?: string;
  /** Seconds of a recording so far. */
  readonly recorded?: number;
  /** The pose by `role.property`, while the player is watched. */
  readonly values?: Readonly<Record<string, Value>>;
  /** What else has changed on its objects since it last moved, while it is watched. */
  readonly changed?: readonly ChangedValue[];
}

/** What plays on a layer. */
export interface LivePlaying {
  readonly layer: string;
  readonly clip: string;
  /** Seconds inside the clip. */
  readonly time: number;
  readonly active: boolean;
  /** The clips that wait, the next first. */
  readonly queue: readonly string[];
}

/** A property that somebody else has set on an object: its value now, and what it was. */
export interface ChangedValue {
  readonly name: string;
  readonly value: Value;
  readonly was: Value;
}

/** The values of some properties at a time in seconds, as `capture` takes them. */
export interface LiveSample {
  readonly time: number;
  readonly values: Readonly<Record<string, Value>>;
}

/** What the workbench asks of a player. */
export type LiveOrder =
  | { readonly do: 'pause' | 'resume' }
  /** Some frames of its clip, while it is paused. */
  | { readonly do: 'step'; readonly frames: number }
  /** Its speed: 1 is that of the game, from 0.01 to 10. */
  | { readonly do: 'rate'; readonly rate: number }
  | { readonly do: 'play'; readonly clip: string }
  /** It is paused, and shows a clip at a time in seconds. */
  | { readonly do: 'seek'; readonly clip: string; readonly time: number }
  /** Objects show again what the player has written. Default: all that was changed. */
  | { readonly do: 'give-back'; readonly names?: readonly string[] }
  /** Records the motion of the objects of some roles, until `stop-recording`. */
  | { readonly do: 'record'; readonly roles: readonly string[] }
  | { readonly do: 'stop-recording' }
  /** Whether the player goes on where it was when the game is loaded again. */
  | { readonly do: 'keep-place'; readonly on: boolean };

/** A message to a game. */
export type GameRequest =
  /** Those of its players that somebody watches. */
  | { readonly ask: 'watch'; readonly players: readonly string[] }
  | { readonly ask: 'lead'; readonly player: string; readonly mark: string; readonly order: LiveOrder }
  /** A reel after a step, for players that play it. */
  | { readonly ask: 'adopt'; readonly players: readonly string[]; readonly packed: PackedReel };
