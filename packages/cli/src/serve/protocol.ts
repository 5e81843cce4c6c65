import type { ReelDocument } from 'unspool';
import type { Operation } from 'unspool/edit';

/**
 * The protocol between the page of the workbench and its server: JSON texts over a WebSocket, one reel per connection.
 * The server has the only history of a reel. Pages show their own requests at once, on top of what the server
 * confirms. Every request has a mark of its own, so that it can be repeated after a lost connection without being
 * applied twice.
 */
export type PageRequest =
  | { readonly ask: 'apply'; readonly mark: string; readonly operation: Operation }
  | { readonly ask: 'undo' | 'redo'; readonly mark: string }
  | { readonly ask: 'save' }
  | { readonly ask: 'settle'; readonly take: Settlement }
  /** The reel, where this workbench has lost it to another: see `FileState`. */
  | { readonly ask: 'take-back' };

/** How to resolve a foreign change of the file: keep the current state, take the file, or merge both. */
export type Settlement = 'ours' | 'theirs' | 'merged';

export type ServerMessage =
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
