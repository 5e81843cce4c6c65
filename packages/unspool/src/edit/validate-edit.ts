import { isObject } from '../errors/is-object.js';
import { withHint } from '../errors/sentence.js';
import type * as v from 'valibot';
import { countAllKeys, countKeys, expectReel, propertiesOf } from '../reel/check/check.js';
import { ReelError } from '../reel/diagnostics/diagnostic.js';
import type { ClipDocument, KeyDocument, ReelDocument, TrackDocument } from '../reel/document/document.js';
import { isTime } from '../reel/document/names.js';
import { NANOSECOND } from '../time/units.js';
import { fpsIn, secondsAt } from './document-access.js';
import { LIMITS } from '../reel/document/limits.js';
import { keysOf, kindImpliedBy, optionsOf, type Properties } from '../reel/resolve/properties.js';
import { documents } from '../reel/document/schema.js';
import { issuesOf } from '../reel/check/accepts.js';
import { reportIssue } from '../reel/check/schema-issues.js';
import { resolveClip } from '../reel/resolve/resolve.js';
import { refuse, refuseProblems } from './refusal.js';

/** What is known of a document without errors. */
export interface Facts {
  readonly properties: Properties;
  /** Number of keys of a reel; each frame of a row counts. */
  readonly keys: number;
}

const known = new WeakMap<ReelDocument, Facts>();

/** What is known of a document; checks one that is met for the first time. One with errors is refused. */
export function factsOf(document: ReelDocument): Facts {
  let facts = known.get(document);
  if (!facts) {
    facts = check(document);
    known.set(document, facts);
  }
  return facts;
}

function check(document: ReelDocument): Facts {
  try {
    const properties = propertiesOf(document) ?? expectReel(document).properties;
    return { properties, keys: countAllKeys(document) };
  } catch (error) {
    if (!(error instanceof ReelError)) throw error;
    const first = error.diagnostics.find(({ severity }) => severity === 'error')!;
    throw refuse(first.code, `${first.path}: ${withHint(first.message, first.hint)}`);
  }
}

/**
 * Refuses a document that an edit has made from a valid one, if it has errors. Most edits concern keys, cues and spans
 * of clips; for these only what changed is checked. Everything else is checked whole.
 */
export function expectValid(before: ReelDocument, after: ReelDocument): void {
  if (known.has(after)) return;
  known.set(after, checkChanged(before, after, factsOf(before)) ?? check(after));
}

/** The document after, which has no errors: for operations that go step by step, so that each step is quickly seen. */
export function canLoad(before: ReelDocument, after: ReelDocument): ReelDocument {
  expectValid(before, after);
  return after;
}

/** The facts of a document that differs from a sound one in little; nothing where that little may touch the rest. */
function checkChanged(before: ReelDocument, after: ReelDocument, { properties, keys }: Facts): Facts | undefined {
  if (!isSameBut(before, after, ['clips']) || !isObject(after.clips)) return undefined;
  const names = Object.keys(after.clips);
  if (names.length !== Object.keys(before.clips).length) return undefined;
  const changed = names.filter((name) => after.clips[name] !== before.clips[name]);
  // The parts of all clips are as they were: those that change are checked whole below.
  const parts = new Set(names.flatMap((name) => (before.clips[name]?.parts ?? []).map(({ clip }) => clip)));
  let count = keys;
  for (const name of changed) {
    if (!Object.hasOwn(before.clips, name) || parts.has(name)) return undefined;
    const [was, is] = [before.clips[name]!, after.clips[name]!];
    if (!isLikeClip(is) || was.parts?.length) return undefined;
    if (!isSameBut(was, is, ['tracks', 'cues', 'spans', 'duration', 'about'])) return undefined;
    // Chains speak of spans by their names, routines of cues too.
    if (Object.keys(was.spans ?? {}).join() !== Object.keys(is.spans ?? {}).join()) return undefined;
    if (after.routines && namesOf(was.cues) !== namesOf(is.cues)) return undefined;
    const tracks = changedTracks(after, was, is, properties);
    if (!tracks) return undefined;
    if ((is.cues?.length ?? 0) > LIMITS.cues) return undefined;
    const fps = fpsIn(after, is);
    const others = Object.entries(tracks).filter(([track, one]) => !isShifted(was.tracks![track]!, one, fps));
    for (const [track, one] of others) expectTrack(was.tracks![track]!, one, track);
    expectMembers(was, is);
    for (const track of Object.keys(tracks))
      count += countKeys(keysOf(tracks[track]!)) - countKeys(keysOf(was.tracks![track]!));
    // Before rows of frames are resolved to keys: one may say that it has a billion.
    if (count > LIMITS.keys) return undefined;
    // Its other tracks are as they were; frames per second too.
    const slim = { ...after, clips: { ...after.clips, [name]: { ...is, tracks: Object.fromEntries(others) } } };
    resolveClip(slim, name, properties, refuseErrors);
  }
  return { properties, keys: count };
}

const namesOf = (cues: ClipDocument['cues'] = []) => [...new Set(cues.map(({ name }) => name))].sort().join();

/** The tracks that changed; `undefined` when some were added or removed, or one may change a kind. */
function changedTracks(reel: ReelDocument, was: ClipDocument, is: ClipDocument, { byName }: Properties) {
  const [from, to] = [was.tracks ?? {}, is.tracks ?? {}];
  const names = Object.keys(to);
  if (names.length !== Object.keys(from).length) return undefined;
  const changed: Record<string, (typeof to)[string]> = {};
  for (const name of names) {
    if (!Object.hasOwn(from, name)) return undefined;
    if (from[name] === to[name]) continue;
    if (!isLikeTrack(to[name])) return undefined;
    const implied = kindImpliedBy(reel, name, to[name]);
    const open = implied === 'open' && kindImpliedBy(reel, name, from[name]!) === 'open';
    if (!open && (implied === undefined || !isKindOf(name, implied, byName))) return undefined;
    changed[name] = to[name]!;
  }
  return changed;
}

/** Whether tracks and cues of a clip can be read; the schema has not seen it. */
function isLikeClip(clip: unknown): clip is ClipDocument {
  if (!isMap(clip)) return false;
  const { tracks, cues } = clip;
  const hasCues = Array.isArray(cues) && cues.every(isObject);
  return (tracks === undefined || isMap(tracks)) && (cues === undefined || hasCues);
}

const isMap = (value: unknown): value is Readonly<Record<string, unknown>> => isObject(value) && !Array.isArray(value);

/** Whether a track has keys that can be read. */
function isLikeTrack(track: unknown): track is TrackDocument {
  const keys = isObject(track) ? keysOf(track as TrackDocument) : undefined;
  if (!Array.isArray(keys) || keys.length === 0) return false;
  return keys.every((key) => isObject(key) && (!('frames' in key) || Array.isArray(key['frames'])));
}

/** Whether a key is another one at a valid time, and nothing else: thousands are moved in each frame of a drag. */
function isAtAnotherTime(was: KeyDocument | undefined, is: KeyDocument): boolean {
  if (!was || !isTime(is.at)) return false;
  const names = Object.keys(is) as (keyof KeyDocument)[];
  return names.length === Object.keys(was).length && names.every((name) => name === 'at' || is[name] === was[name]);
}

/** Whether a track is another one earlier or later, and nothing else: then it has no error that the other had not. */
function isShifted(was: TrackDocument, is: TrackDocument, fps: number): boolean {
  const [from, to] = [keysOf(was), keysOf(is)];
  const optionsAreSame = JSON.stringify(optionsOf(was)) === JSON.stringify(optionsOf(is));
  if (from.length !== to.length || !optionsAreSame || secondsAt(to[0]!, fps) < 0) return false;
  const by = secondsAt(to[0]!, fps) - secondsAt(from[0]!, fps);
  return to.every((key, i) => {
    const moved = secondsAt(key, fps) - secondsAt(from[i]!, fps);
    return Math.abs(moved - by) <= NANOSECOND && isAtAnotherTime(from[i], key);
  });
}

/** Refuses keys and options that the schema does not know; keys that are as they were have been seen. */
function expectTrack(was: TrackDocument, is: TrackDocument, name: string): void {
  const before = keysOf(was);
  let seen: Set<unknown> | undefined;
  for (const [i, key] of keysOf(is).entries()) {
    if (key === before[i] || isAtAnotherTime(before[i], key)) continue;
    seen ??= new Set<unknown>(before);
    if (!seen.has(key)) expectSchema(documents.key, key, name);
  }
  const options = optionsOf(is);
  if (options) expectSchema(documents.track, { ...options, keys: keysOf(is).slice(0, 1) }, name);
}

/** Refuses cues, spans, a duration or a text that the schema does not know. */
function expectMembers(was: ClipDocument, is: ClipDocument): void {
  const { cues } = is;
  if (cues !== was.cues && cues) {
    const seen = new Set<unknown>(was.cues);
    for (const cue of cues) if (!seen.has(cue)) expectSchema(documents.cue, cue, 'cues');
  }
  // What was taken away is no longer there.
  const others = (['spans', 'duration', 'about'] as const).filter((name) => name in is && is[name] !== was[name]);
  const members = Object.fromEntries(others.map((name) => [name, is[name]]));
  if (others.length > 0) expectSchema(documents.clip, members, '');
}

function expectSchema(schema: v.GenericSchema, value: object, place: string): void {
  const issues = issuesOf(schema, value);
  const refuseIt = refuseProblems((path) => `${[place, ...path].filter((step) => step !== '').join('.')}: `);
  for (const issue of issues) reportIssue(issue, value, refuseIt);
}

/** Whether the property of a track is of a kind. */
function isKindOf(track: string, kind: string, byName: Properties['byName']): boolean {
  for (let name = track; name !== ''; name = name.slice(0, Math.max(0, name.lastIndexOf('.')))) {
    const property = byName.get(name);
    if (property) return property.kind === kind;
  }
  return false;
}

const refuseErrors = refuseProblems(() => '');

/** Whether two objects differ in these members only. */
function isSameBut<O extends object>(a: O, b: O, members: readonly (keyof O & string)[]): boolean {
  const names = new Set([...Object.keys(a), ...Object.keys(b)] as (keyof O & string)[]);
  for (const name of names) if (!members.includes(name) && a[name] !== b[name]) return false;
  return true;
}
