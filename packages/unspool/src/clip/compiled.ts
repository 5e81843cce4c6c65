import type { ResolvedCue } from '../reel/cue.js';
import type { SheetDocument } from '../reel/document.js';
import type { ChainLink, FacingSide } from '../reel/sequences.js';
import type { Repeat } from '../time/iteration.js';
import type { Curves } from './curves.js';
import type { Slot } from './layout.js';

/** A clip as sampling and playing need it: plain data, its tracks as numbers. */
export interface CompiledClip {
  readonly name: string;
  /** Frames per second that it was authored at. */
  readonly fps: number;
  /** Seconds of one pass. */
  readonly duration: number;
  readonly repeat: Repeat;
  /** The speed at which it was authored to play; a playback's own rate multiplies it. */
  readonly rate: number;
  /** What it leaves behind at its end. */
  readonly after: 'hold' | 'rest';
  readonly cues: readonly ResolvedCue[];
  readonly spans: Readonly<Record<string, readonly [from: number, until: number]>>;
  /** In order of their starts. */
  readonly activations: readonly ShapeActivation[];
  readonly slots: readonly Slot[];
  readonly curves: Curves;
}

/** A stretch of a clip in which a shape is active. */
export interface ShapeActivation {
  /** `role.shape` */
  readonly shape: string;
  /** Seconds inside the clip; it is active from one to just before the other. */
  readonly at: number;
  readonly until: number;
  /** What goes with its hits, where a key says so. */
  readonly data?: unknown;
}

/** What a reel says of a shape. */
export interface ShapeFacts {
  /** What it is for: `hits`, `hurt`, `push`, or the game's own. */
  readonly tag?: string | undefined;
  /** What goes with its hits, unless an activation has its own. */
  readonly data?: unknown;
}

/** What playing needs of a reel, its clips apart. */
export interface ReelFacts {
  readonly name: string;
  /** The roles that its clips animate. */
  readonly roles: readonly string[];
  /** Every property that any of its clips animates or any role has a rest value for. */
  readonly slots: readonly Slot[];
  readonly texts: readonly string[];
  readonly chains: Readonly<Record<string, readonly ChainLink[]>>;
  readonly facings: Readonly<Record<string, readonly FacingSide[]>>;
  /** The role that each moves with, where it has one. */
  readonly parents: Readonly<Record<string, string>>;
  /** Its shapes, by `role.shape`. */
  readonly shapes: Readonly<Record<string, ShapeFacts>>;
  /** The sheet of each role that has one. */
  readonly sheets: Readonly<Record<string, SheetDocument>>;
}
