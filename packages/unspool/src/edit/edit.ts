import { withHint } from '../errors/sentence.js';
import type { ReelDocument } from '../reel/document/document.js';
import { checkPlainData } from '../reel/check/plain-data.js';
import { issuesOf } from '../reel/check/accepts.js';
import { reportIssue } from '../reel/check/schema-issues.js';
import { suggest } from '../errors/nearest.js';
import { show } from '../errors/show.js';
import { joinChannels, splitChannels } from './operations/channels.js';
import { matchEnds } from './operations/match-ends.js';
import { insertKey, paste, putKey, removeKeys, setKeys } from './operations/keys.js';
import {
  OPERATION_NAMES,
  schemaOf,
  type Operation,
  type OperationName,
  type Operations,
  type Applied,
} from './operation.js';
import { applyChanges, changesBetween, inverseOf, type Change } from './patch.js';
import { Refusal, refuse, refuseMembers } from './refusal.js';
import { expectValid, factsOf } from './validate-edit.js';
import { extendClip, fitClip, moveKeys, scaleTimes, snapKeys, staggerTracks } from './operations/retime.js';
import { insertTime, removeTime } from './operations/insert-time.js';
import { reverseClip } from './operations/reverse.js';
import { addThing, changeThing, copyClip, removeThing, renameThing, reorderThing } from './operations/named-items.js';
import { simplifyKeys } from './operations/simplify.js';
import { trimClip } from './operations/trim.js';
import { addValues, mirrorClip, scaleValues } from './operations/values.js';

/** The result of an operation. */
export interface Edited {
  readonly ok: true;
  /** The new document. Unchanged parts are shared with the previous one. */
  readonly doc: ReelDocument;
  /**
   * The operation that undoes it. Law: `edit(edited.doc, edited.inverse)` restores the previous document byte for byte.
   */
  readonly inverse: Operation;
  /** A sentence for the history: `moved 3 keys of claw.rotation by +2f`. */
  readonly said: string;
}

/** Why an operation was refused. Nothing has changed. */
export interface Refused {
  readonly ok: false;
  /** Stable code: `edit/…` from the editor, `reel/…` when the result would not be a valid reel. */
  readonly code: string;
  /** What is wrong, with the values, and what to do. */
  readonly said: string;
}

type Operators = { readonly [N in OperationName]: (document: ReelDocument, operation: Operations[N]) => Applied };

const operations: Operators = {
  add: addThing,
  remove: removeThing,
  rename: renameThing,
  change: changeThing,
  reorder: reorderThing,
  'copy-clip': copyClip,

  'insert-key': insertKey,
  'put-key': putKey,
  'remove-keys': removeKeys,
  'set-keys': setKeys,
  paste,

  'move-keys': moveKeys,
  'scale-times': scaleTimes,
  fit: fitClip,
  snap: snapKeys,
  trim: trimClip,
  'insert-time': insertTime,
  'remove-time': removeTime,
  extend: extendClip,
  reverse: reverseClip,
  stagger: staggerTracks,

  'simplify-keys': simplifyKeys,
  'add-values': addValues,
  'scale-values': scaleValues,
  mirror: mirrorClip,
  'split-channels': splitChannels,
  'join-channels': joinChannels,
  'match-ends': matchEnds,

  group: applyGroup,
  patch: applyPatch,
};

/**
 * Applies an operation to a document and returns a new document; unchanged parts are shared (===). An operation that
 * does not apply, or whose result would not be a valid reel, is refused and changes nothing. Never throws.
 *
 * @param doc       a document without errors, such as `parseReel(…).document`; do not mutate it
 * @param operation plain JSON, see `Operations`
 *
 * @example
 * const made = edit(doc, { do: 'move-keys', clip: 'snap', tracks: ['claw.*'], by: '2f' });
 * if (made.ok) save(made.doc);
 * else show(made.said);
 */
export function edit(doc: ReelDocument, operation: Operation): Edited | Refused {
  try {
    expectOperation(operation);
    factsOf(doc);
    const [next, summary] = apply(doc, operation);
    const changes = changesBetween(doc, next);
    if (changes.length === 0) throw refuse('edit/no-change', 'nothing would change');
    expectValid(doc, next);
    const inverse = { do: 'patch', said: `undid: ${summary}`, changes: inverseOf(changes) } as const;
    return { ok: true, doc: next, inverse, said: summary };
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    return { ok: false, code: error.code, said: error.text };
  }
}

function apply(doc: ReelDocument, operation: Operation): Applied {
  const one = operations[operation.do] as (document: ReelDocument, operation: Operation) => Applied;
  return one(doc, operation);
}

/** Applies all operations or none. Each must leave a valid reel for the next. */
function applyGroup(doc: ReelDocument, { operations: list, said }: Operations['group']): Applied {
  const summaries: string[] = [];
  const last = list.reduce((next, operation) => {
    const [made, summary] = apply(next, operation);
    expectValid(next, made);
    summaries.push(summary);
    return made;
  }, doc);
  return [last, said ?? summaries.join('; ')];
}

function applyPatch(doc: ReelDocument, { changes, said }: Operations['patch']): Applied {
  return [applyChanges(doc, changes), said];
}

/** Refuses an invalid operation with its first problem. */
function expectOperation(operation: unknown): asserts operation is Operation {
  const reported = refuseMembers('edit/operation');
  if (typeof operation !== 'object' || operation === null || Array.isArray(operation))
    throw refuse('edit/operation', `${show(operation)} is not an operation. Pass an object with "do".`);
  const { do: name } = operation as { do?: unknown };
  if (typeof name !== 'string' || !OPERATION_NAMES.includes(name as OperationName)) {
    const hint =
      typeof name === 'string' ? suggest(name, OPERATION_NAMES) : `use one of: ${OPERATION_NAMES.join(', ')}`;
    throw refuse('edit/operation', withHint(`unknown operation ${show(name)}`, hint));
  }
  checkPlainData(operation, reported, []);
  if (name === 'group') {
    const { operations: list } = operation as { operations?: unknown };
    if (!Array.isArray(list) || list.length === 0)
      throw refuse('edit/operation', 'the group has no operations. Pass a list of them.');
    for (const one of list) expectOperation(one);
    expectSentence(operation, false);
  } else if (name === 'patch') {
    const { changes } = operation as { changes?: unknown };
    if (!Array.isArray(changes) || !changes.every(isChange))
      throw refuse(
        'edit/operation',
        `${show(changes)} is not a list of changes. Use a patch that edit() returned as an inverse.`,
      );
    expectSentence(operation, true);
  } else {
    for (const issue of issuesOf(schemaOf(name)!, operation)) reportIssue(issue, operation, reported);
  }
}

/** What an operation says of itself is shown to people. */
function expectSentence({ said }: { readonly said?: unknown }, isNeeded: boolean): void {
  if (typeof said === 'string' || (said === undefined && !isNeeded)) return;
  throw refuse('edit/operation', `"said": expected a string, found ${show(said)}. Write a sentence.`);
}

function isChange(change: unknown): change is Change {
  if (typeof change !== 'object' || change === null) return false;
  const { path, member, before, at, was, now, ...others } = change as Record<string, unknown>;
  if (typeof path !== 'string' || Object.keys(others).length > 0) return false;
  // Of a member, or of a list: what is half of each is neither.
  if (member !== undefined)
    return typeof member === 'string' && at === undefined && (before === undefined || typeof before === 'string');
  return (
    before === undefined && Number.isInteger(at) && (at as number) >= 0 && Array.isArray(was) && Array.isArray(now)
  );
}
