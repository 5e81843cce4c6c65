import type { ReelDocument } from 'unspool';
import type { Operation } from 'unspool/edit';

/**
 * What the workbench's page and its server say to each other: JSON texts over a WebSocket, one reel to a connection. The
 * server has the one history of a reel; pages show what they have asked for at once, and put it under what the server
 * tells meanwhile. Everything a page asks for has a mark of its own, so that after a lost connection it can be asked
 * again without being done twice.
 */
export type PageRequest =
  | { readonly ask: 'apply'; readonly mark: string; readonly operation: Operation }
  | { readonly ask: 'undo' | 'redo'; readonly mark: string }
  | { readonly ask: 'save' }
  | { readonly ask: 'settle'; readonly take: Settlement }
  /** The reel, where this workbench has lost it to another: see `FileState`. */
  | { readonly ask: 'take-back' };

/** What becomes of a file that somebody else has changed meanwhile: as it is here, as it is there, or both put together. */
export type Settlement = 'ours' | 'theirs' | 'merged';

export type ServerMessage =
  /** The first thing on each connection. */
  | {
      readonly tell: 'open';
      readonly doc: ReelDocument;
      readonly steps: Steps;
      readonly file: FileState;
      /** What the server is asked with from now on: it was started anew, and the page's own is old. */
      readonly token?: string;
    }
  /** Something was done to the reel, by whoever; `mark` is that of the page that asked for it. */
  | { readonly tell: 'step'; readonly mark?: string; readonly operation: Operation; readonly steps: Steps }
  /** What was asked for under this mark has come to nothing: it was refused, or had been done before, or changes nothing. */
  | { readonly tell: 'refused'; readonly mark: string; readonly code: string; readonly message: string }
  | { readonly tell: 'file'; readonly file: FileState };

/** The history of a reel, as much of it as is shown. */
export interface Steps {
  /** Sentences of what can be undone, the last step last, and of what can be done again, the next first. */
  readonly done: readonly string[];
  readonly undone: readonly string[];
  /** How many there are of each: the lists have the nearest `SHOWN_STEPS`. */
  readonly doneCount: number;
  readonly undoneCount: number;
}

export const SHOWN_STEPS = 100;

/** How the reel here and its file on the disk stand to each other. */
export interface FileState {
  readonly saved: boolean;
  /** Why it could not be saved, and what to do. */
  readonly problem?: string;
  /** The reel may be open in another workbench, since this one stood still: nothing is written until it is taken back. */
  readonly lost?: true;
  readonly outside?: ExternalChange;
}

/** The file was changed by somebody else, in a way that a person has to look at. Nothing is saved until it is settled. */
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
  /** What its connection is asked for by. */
  readonly name: string;
  readonly file: string;
  readonly title: string;
}
