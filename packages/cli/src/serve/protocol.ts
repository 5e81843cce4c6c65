import type { ReelDocument } from 'unspool';
import type { Operation } from 'unspool/edit';
import type { LiveMoment, LiveOrder, LiveSample } from 'unspool/live';

/**
 * The protocol between the page of the workbench and its server: JSON texts over a WebSocket, one reel per connection.
 * The server has the only history of a reel. Pages show their own requests at once, on top of what the server
 * confirms. Every request has a mark of its own, so that it can be repeated after a lost connection without being
 * applied twice.
 */
export type PageRequest = ReelRequest | LiveRequest;

/** What a page asks of its reel. */
export type ReelRequest =
  | { readonly ask: 'apply'; readonly mark: string; readonly operation: Operation }
  | { readonly ask: 'undo' | 'redo'; readonly mark: string }
  | { readonly ask: 'save' }
  | { readonly ask: 'settle'; readonly take: Settlement }
  /** The reel, where this workbench has lost it to another: see `FileState`. */
  | { readonly ask: 'take-back' };

/** What a page asks of running games. */
export type LiveRequest =
  /** The player of a running game that this page looks at, by its key; none without one. */
  | { readonly ask: 'watch'; readonly key?: string }
  /** Something that a player of a running game is to do. */
  | { readonly ask: 'lead'; readonly key: string; readonly mark: string; readonly order: LiveOrder };

/** How to resolve a foreign change of the file: keep the current state, take the file, or merge both. */
export type Settlement = 'ours' | 'theirs' | 'merged';

export type ServerMessage = ReelMessage | LiveMessage;

/** What happens to the reel of a page. */
export type ReelMessage =
  /** The first thing on each connection. */
  | {
      readonly tell: 'open';
      readonly doc: ReelDocument;
      readonly steps: Steps;
      readonly file: FileState;
      /** The new token for requests: the server was restarted. */
      readonly token?: string;
    }
  /** Something was done to the reel, by whoever; `mark` is that of the page that asked for it. */
  | { readonly tell: 'step'; readonly mark?: string; readonly operation: Operation; readonly steps: Steps }
  /** What was asked for under this mark has come to nothing: it was refused, or had been done before, or changes nothing. */
  | { readonly tell: 'refused'; readonly mark: string; readonly code: string; readonly message: string }
  | { readonly tell: 'file'; readonly file: FileState };

/** What happens in running games. */
export type LiveMessage =
  /** The players of the running games, whenever they are others. */
  | { readonly tell: 'games'; readonly players: readonly LivePlayer[] }
  /** What the watched player shows; what was recorded of it; why it could not do something. */
  | { readonly tell: 'moment'; readonly key: string; readonly moment: LiveMoment }
  | {
      readonly tell: 'samples';
      readonly key: string;
      readonly samples: readonly LiveSample[];
      readonly isLast: boolean;
    }
  | { readonly tell: 'problem'; readonly key: string; readonly message: string };

/** A player of a running game. */
export interface LivePlayer {
  /** What it is asked for by; the same again when its game was loaded anew. */
  readonly key: string;
  /** The title of its game. */
  readonly game: string;
  readonly name: string;
  /** The served reel that it plays, if it is one of them. */
  readonly reel?: string;
  /** The clips that play: `sway + blink`. */
  readonly playing: string;
  /** Its game has not said anything for a while. */
  readonly quiet: boolean;
}

/** The history of a reel, as far as it is shown. */
export interface Steps {
  /** Texts of the steps that can be undone, the last one last, and of those that can be redone, the next one first. */
  readonly done: readonly string[];
  readonly undone: readonly string[];
  /** How many there are of each: the lists have the nearest `SHOWN_STEPS`. */
  readonly doneCount: number;
  readonly undoneCount: number;
}

export const SHOWN_STEPS = 100;

/** How the current state and the file on the disk relate. */
export interface FileState {
  readonly saved: boolean;
  /** Why it could not be saved, and what to do. */
  readonly problem?: string;
  /**
   * The reel may be open in another workbench, because this one was suspended: nothing is written until it is taken
   * over.
   */
  readonly lost?: true;
  readonly outside?: ExternalChange;
}

/**
 * The file was changed by somebody else in conflict with the current state. Nothing is saved until that is resolved.
 */
export interface ExternalChange {
  readonly why: 'conflict' | 'broken' | 'gone';
  readonly summary: string;
  /** What changed here and there since both were the same, in sentences. */
  readonly ours: readonly string[];
  readonly theirs: readonly string[];
  /** Where both changed one thing. */
  readonly conflicts: readonly string[];
}

/** The subprotocol that the connection is made with; the token follows it as a second one. */
export const PROTOCOL = 'unspool.workbench.1';

/** A reel that is served. */
export interface Served {
  /** The name that its connection uses. */
  readonly name: string;
  readonly file: string;
  readonly title: string;
}
