import type { ResolvedCue } from '../reel/resolve/cue.js';
import type { SheetDocument } from '../reel/document/document.js';
import type { Routine } from '../reel/document/routines.js';
import type { ChainLink, FacingSide } from '../reel/document/sequences.js';
import type { Repeat } from '../time/iteration.js';
import type { Curves } from './curves.js';
import type { Slot } from './layout.js';

/** A clip as plain data for sampling and playing, with its tracks as numbers. */
export interface CompiledClip {
  readonly name: string;
  /** Authored frames per second. */
  readonly fps: number;
  /** Duration of one iteration in seconds. */
  readonly duration: number;
  readonly repeat: Repeat;
  /** The authored playback rate. The rate of a playback multiplies it. */
  readonly rate: number;
  /** What stays at the end: the last pose (`'hold'`) or the rest pose (`'rest'`). */
  readonly after: 'hold' | 'rest';
  readonly cues: readonly ResolvedCue[];
  readonly spans: Readonly<Record<string, readonly [from: number, until: number]>>;
  /** Sorted by start time. */
  readonly activations: readonly ShapeActivation[];
  readonly slots: readonly Slot[];
  readonly curves: Curves;
}

/** An interval of a clip in which a shape is active. */
export interface ShapeActivation {
  /** `role.shape` */
  readonly shape: string;
  /** Seconds inside the clip: active from `at` to just before `until`. */
  readonly at: number;
  readonly until: number;
  /** The `data` of the key that turns the shape on. */
  readonly data?: unknown;
}

/** The tag and data of a shape, from the reel. */
export interface ShapeFacts {
  /** The purpose: `hits`, `hurt`, `push` or a custom tag. */
  readonly tag?: string | undefined;
  /** The `data` of its hits, unless the activation has its own. */
  readonly data?: unknown;
}

/** Facts about a reel that playing needs, apart from its clips. */
export interface ReelFacts {
  readonly name: string;
  /** The frame rate of the reel. */
  readonly fps: number;
  /** The roles that the clips animate. */
  readonly roles: readonly string[];
  /** Every property that a clip animates or a role has a rest value for. */
  readonly slots: readonly Slot[];
  readonly texts: readonly string[];
  readonly chains: Readonly<Record<string, readonly ChainLink[]>>;
  readonly facings: Readonly<Record<string, readonly FacingSide[]>>;
  readonly routines: Readonly<Record<string, Routine>>;
  /** The parent of each role that has one. */
  readonly parents: Readonly<Record<string, string>>;
  /** The shapes, by `role.shape`. */
  readonly shapes: Readonly<Record<string, ShapeFacts>>;
  /** The sheet of each role that has one. */
  readonly sheets: Readonly<Record<string, SheetDocument>>;
}
