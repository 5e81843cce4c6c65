import type { InferOutput } from 'valibot';
import type { reelSchema } from './schema.js';

/** A type with all members read-only, at every depth: a document is never changed, only replaced. */
export type Frozen<T> = T extends object ? { readonly [K in keyof T]: Frozen<T[K]> } : T;

/** A reel as plain JSON data, format version 1. */
export type ReelDocument = Frozen<InferOutput<typeof reelSchema>>;

type Member<M> = NonNullable<M> extends Readonly<Record<string, infer T>> ? T : never;

/** A role in a document. */
export type RoleDocument = Member<ReelDocument['roles']>;
/** A sprite sheet in a document: an image of equal cells. */
export type SheetDocument = Member<ReelDocument['sheets']>;
/** A clip in a document. */
export type ClipDocument = Member<ReelDocument['clips']>;
/** A track in a document: its keys, or its options and keys. */
export type TrackDocument = Member<ClipDocument['tracks']>;
export type KeyList = Extract<TrackDocument, readonly unknown[]>;
export type KeyDocument = KeyList[number];
export type FramesDocument = Extract<KeyDocument, { readonly frames: unknown }>;
/** A cue or interval in a document. */
export type CueDocument = NonNullable<ClipDocument['cues']>[number];
/** A loop mode in a document: its name, or `{ mode, count }`. */
export type LoopDocument = NonNullable<ClipDocument['loop']>;
/** A routine in a document: the rules of which clip plays when. */
export type RoutineDocument = Member<ReelDocument['routines']>;
/** A rule of a routine in a document. */
export type RuleDocument = RoutineDocument['rules'][number];
/** A condition of a rule in a document. */
export type ConditionDocument = Member<RuleDocument['if']>;
