import type { InferOutput } from 'valibot';
import type { reelSchema } from './schema.js';

/** `readonly` all the way down: a document is never changed, only replaced. */
export type Frozen<T> = T extends object ? { readonly [K in keyof T]: Frozen<T[K]> } : T;

/** A reel as it stands in its file: the plain data of format version 1. */
export type ReelDocument = Frozen<InferOutput<typeof reelSchema>>;

type Member<M> = NonNullable<M> extends Readonly<Record<string, infer T>> ? T : never;

export type RoleDocument = Member<ReelDocument['roles']>;
export type SheetDocument = Member<ReelDocument['sheets']>;
export type ClipDocument = Member<ReelDocument['clips']>;
export type TrackDocument = Member<ClipDocument['tracks']>;
export type KeyList = Extract<TrackDocument, readonly unknown[]>;
export type KeyDocument = KeyList[number];
export type FramesDocument = Extract<KeyDocument, { readonly frames: unknown }>;
export type CueDocument = NonNullable<ClipDocument['cues']>[number];
export type LoopDocument = NonNullable<ClipDocument['loop']>;
