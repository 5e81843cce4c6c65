import * as v from 'valibot';
import { Diagnostics, ReelError, type Diagnostic } from './diagnostic.js';
import type { KeyList, ReelDocument } from './document.js';
import { guard } from './guard.js';
import { LIMITS } from './limits.js';
import type { Path } from './problems.js';
import { pointerOf } from './outline.js';
import { keysOf, readProperties } from './properties.js';
import { checkReferences } from './references.js';
import { flattenClip } from './flatten.js';
import { isHarmful, reportIssue } from './schema-issues.js';
import { without } from './sound-part.js';
import { reelSchema } from './schema.js';
import { readText } from './text.js';

export interface CheckOptions {
  /** How diagnostics name the document: usually its file. */
  readonly source?: string;
}

/**
 * Everything that is wrong with a reel, in the order of its text: errors, then what is only doubtful as warnings.
 * Never throws. From a text, diagnostics have line and column, and members given twice are found.
 *
 * @param input the JSON text of a reel, or its document
 */
export function checkReel(input: unknown, options: CheckOptions = {}): Diagnostic[] {
  return readReel(input, options).diagnostics;
}

/** A checked document; or, when it has errors, none. */
export interface ReelReading {
  readonly document?: ReelDocument;
  readonly diagnostics: Diagnostic[];
}

/** As `checkReel`, with the document where there is no error. */
export function readReel(input: unknown, { source }: CheckOptions = {}): ReelReading {
  if (typeof input !== 'string') {
    const diagnostics = new Diagnostics(source);
    return finish(checkDocument(input, diagnostics), diagnostics);
  }
  const reading = readText(input);
  if ('refuse' in reading) {
    const diagnostics = new Diagnostics(source);
    reading.refuse(diagnostics);
    return finish(undefined, diagnostics);
  }
  const diagnostics = new Diagnostics(source, reading.outline);
  for (const { path, name, place } of reading.outline.duplicates) {
    diagnostics.add('reel/duplicate-member', { name }, 'error', pointerOf(path), place);
  }
  return finish(checkDocument(reading.value, diagnostics), diagnostics);
}

/** The document of a reel without errors. Throws a `ReelError` that has every diagnostic. */
export function expectReel(input: unknown, options: CheckOptions = {}): ReelDocument {
  const { document, diagnostics } = readReel(input, options);
  if (!document) throw new ReelError(diagnostics);
  return document;
}

function finish(document: ReelDocument | undefined, collected: Diagnostics): ReelReading {
  const diagnostics = collected.list();
  const sound = document && !diagnostics.some((one) => one.severity === 'error');
  return sound ? { document, diagnostics } : { diagnostics };
}

function checkDocument(value: unknown, diagnostics: Diagnostics): ReelDocument | undefined {
  const { report } = diagnostics;
  if (typeof value !== 'object' || value === null || Array.isArray(value)) {
    report('reel/type', [], { expected: 'a reel, which is an object', value });
    return undefined;
  }
  const unusable: Path[] = [];
  if (!guard(value, report, unusable)) return undefined;
  const told = new Set(unusable.map(pointerOf));
  const issues = (v.safeParse(reelSchema, value).issues ?? []).filter((issue) => !told.has(pointerOf(pathOf(issue))));
  for (const issue of issues) reportIssue(issue, value, report);
  // What was refused is taken out, so that the rest is still looked at.
  const refused = [...unusable, ...issues.filter(isHarmful).map(pathOf)];
  const sound = refused.length > 0 ? without(value, refused) : value;
  if (!looksWhole(sound)) return undefined;
  checkMeaning(sound as ReelDocument, diagnostics);
  return value as ReelDocument;
}

function checkMeaning(reel: ReelDocument, { report }: Diagnostics): void {
  checkReferences(reel, report);
  const tracks = Object.values(reel.clips).flatMap((clip) => Object.values(clip.tracks ?? {}));
  const count = tracks.reduce((sum, track) => sum + countKeys(keysOf(track)), 0);
  if (count > LIMITS.keys) {
    report('reel/too-many-keys', ['clips'], { count, limit: LIMITS.keys });
    return;
  }
  const properties = readProperties(reel, report);
  for (const name of Object.keys(reel.clips)) flattenClip(reel, name, properties, report);
}

function countKeys(keys: KeyList): number {
  return keys.reduce((sum, key) => sum + ('frames' in key ? Math.abs(key.frames[1] - key.frames[0]) + 1 : 1), 0);
}

function pathOf(issue: v.BaseIssue<unknown>): Path {
  return (issue.path ?? []).map((item) => item.key as string | number);
}

/** True when what is left after taking out what the schema refused is still a reel with clips. */
function looksWhole(value: unknown): boolean {
  const { clips } = value as { clips?: unknown };
  return typeof clips === 'object' && clips !== null && !Array.isArray(clips);
}
