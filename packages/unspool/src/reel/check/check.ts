import type * as v from 'valibot';
import { Diagnostics, ReelError, type Diagnostic } from '../diagnostics/diagnostic.js';
import type { KeyList, ReelDocument } from '../document/document.js';
import { issuesOf } from './accepts.js';
import { checkPlayed } from './check-played.js';
import { checkPlainData } from './plain-data.js';
import { LIMITS } from '../document/limits.js';
import type { DocumentPath } from '../diagnostics/diagnostic-messages.js';
import { pointerOf } from '../diagnostics/text-locations.js';
import { keysOf, readProperties, type Properties } from '../resolve/properties.js';
import { checkReferences } from './references.js';
import { flattenClip, type FlatClip } from '../resolve/flatten.js';
import { isHarmful, reportIssue } from './schema-issues.js';
import { without } from './valid-part.js';
import { reelSchema } from '../document/schema.js';
import { readText } from '../document/text.js';

/** Options of `checkReel` and `readReel`. */
export interface CheckOptions {
  /** Name of the document in diagnostics, usually its file. */
  readonly source?: string;
}

/**
 * Returns all errors and warnings of a reel, in document order. Never throws. For JSON text, diagnostics have line and
 * column, and duplicate members are found.
 *
 * @param input the JSON text of a reel, or its parsed document
 */
export function checkReel(input: unknown, options: CheckOptions = {}): Diagnostic[] {
  return readDocument(input, options).diagnostics;
}

/** A checked document, with what checking made of it. */
export interface CheckedReel {
  readonly document: ReelDocument;
  readonly properties: Properties;
  readonly clips: Map<string, FlatClip>;
}

/** A reel without errors. Throws a `ReelError` that has every diagnostic for another. */
export function expectReel(input: unknown, options: CheckOptions = {}): CheckedReel {
  const { checked, diagnostics } = readDocument(input, options);
  if (!isSound(checked, diagnostics)) throw new ReelError(diagnostics);
  return checked;
}

/** Facts about documents that were found to be without errors, so that they are not checked twice. */
const known = new WeakMap<ReelDocument, Properties>();
export const propertiesOf = (document: ReelDocument): Properties | undefined => known.get(document);

export function isSound(checked: CheckedReel | undefined, diagnostics: readonly Diagnostic[]): checked is CheckedReel {
  if (!checked || diagnostics.some(({ severity }) => severity === 'error')) return false;
  known.set(checked.document, checked.properties);
  return true;
}

export interface Reading {
  /** Nothing when there was no use in reading on. */
  readonly checked: CheckedReel | undefined;
  readonly diagnostics: Diagnostic[];
}

export function readDocument(input: unknown, options: CheckOptions | null): Reading {
  const { source } = options ?? {};
  if (typeof input !== 'string') return finish(new Diagnostics(source), (all) => checkDocument(input, all));
  const reading = readText(input);
  if ('refuse' in reading) {
    return finish(new Diagnostics(source), (all) => {
      reading.refuse(all);
      return undefined;
    });
  }
  return finish(new Diagnostics(source, reading.outline), (all) => {
    for (const { pointer, name, place } of reading.outline.duplicates) {
      all.add('reel/duplicate-member', { name }, 'error', pointer, place);
    }
    return checkDocument(reading.value, all);
  });
}

function finish(diagnostics: Diagnostics, check: (diagnostics: Diagnostics) => CheckedReel | undefined): Reading {
  const checked = check(diagnostics);
  return { checked, diagnostics: diagnostics.list() };
}

function checkDocument(value: unknown, diagnostics: Diagnostics): CheckedReel | undefined {
  const { report } = diagnostics;
  if (typeof value !== 'object' || value === null || Array.isArray(value)) {
    report('reel/type', [], { expected: 'an object (the reel)', value });
    return undefined;
  }
  const unusable: DocumentPath[] = [];
  if (!checkPlainData(value, report, unusable)) return undefined;
  const reported = new Set(unusable.map(pointerOf));
  const issues = issuesOf(reelSchema, value).filter((issue) => !reported.has(pointerOf(pathOf(issue))));
  for (const issue of issues) reportIssue(issue, value, report);
  // What was refused is removed, so that the rest can be checked.
  const refused = [...unusable, ...issues.filter(isHarmful).map(pathOf)];
  const sound = refused.length > 0 ? without(value, refused) : value;
  if (!looksWhole(sound)) return undefined;
  return checkMeaning(sound as ReelDocument, diagnostics);
}

function checkMeaning(reel: ReelDocument, { report }: Diagnostics): CheckedReel | undefined {
  checkReferences(reel, report);
  const count = countAllKeys(reel);
  if (count > LIMITS.keys) {
    report('reel/too-many-keys', ['clips'], { count, limit: LIMITS.keys });
    return undefined;
  }
  const properties = readProperties(reel, report);
  const clips = new Map<string, FlatClip>();
  for (const name of Object.keys(reel.clips)) {
    const clip = flattenClip(reel, name, properties, report);
    if (clip) clips.set(name, clip);
  }
  checkPlayed(reel, clips, report);
  return { document: reel, properties, clips };
}

/** Number of keys of a reel; each frame of a row counts. */
export function countAllKeys({ clips }: ReelDocument): number {
  const tracks = Object.values(clips).flatMap((clip) => Object.values(clip.tracks ?? {}));
  return tracks.reduce((sum, track) => sum + countKeys(keysOf(track)), 0);
}

export function countKeys(keys: KeyList): number {
  return keys.reduce((sum, key) => sum + ('frames' in key ? Math.abs(key.frames[1] - key.frames[0]) + 1 : 1), 0);
}

function pathOf(issue: v.BaseIssue<unknown>): DocumentPath {
  return (issue.path ?? []).map((item) => item.key as string | number);
}

/** True when what is left after taking out what the schema refused is still a reel with clips. */
function looksWhole(value: unknown): boolean {
  const { clips } = value as { clips?: unknown };
  return typeof clips === 'object' && clips !== null && !Array.isArray(clips);
}
