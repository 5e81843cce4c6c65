import { isObject } from '../../errors/is-object.js';
import { adviceOf, inTextOrder, type Diagnostic } from '../../reel/diagnostics/diagnostic.js';
import type { ReelDocument } from '../../reel/document/document.js';
import { TextLocations } from '../../reel/diagnostics/text-locations.js';
import { stepsOf } from '../patch.js';
import { checkOptions } from '../../errors/check-options.js';
import { UnspoolError } from '../../errors/error.js';
import { show } from '../../errors/show.js';
import { factsOf } from '../validate-edit.js';
import type { Operation } from '../operation.js';
import { clipView, type ClipView, type Finding } from './advice.js';
import { caseOnly, unused } from './names.js';
import { routineAdvice } from './routines.js';
import { loopSeam } from './seam.js';
import { deadEnd, lateStart, offGrid } from './timing.js';
import { cues, longWay, opacityAtRest, opacityScale, repeatedFrame } from './values.js';

/** Options of `advise`. */
export interface AdviseOptions {
  /** The text that the document was parsed from, for lines and columns. */
  readonly text?: string;
  /** Name of the document in diagnostics, usually its file. */
  readonly source?: string;
  /** Returns whether the game uses a name. When given, unused clips, cues and spans are reported. */
  readonly gameIdentifiers?: (name: string) => boolean;
}

/** A piece of advice, with its fix. */
export interface Advice extends Diagnostic {
  /** Operations that follow the hint, when no judgment is needed. */
  readonly fix?: readonly Operation[];
  /** Whether the reel plays the same after the fix. */
  readonly safe?: boolean;
}

/** What is looked for in each clip. docs/reference/advice.md lists the codes. */
const RULES: readonly ((view: ClipView) => Finding[])[] = [
  lateStart,
  deadEnd,
  loopSeam,
  repeatedFrame,
  opacityScale,
  longWay,
  offGrid,
  cues,
];

/**
 * Finds likely mistakes in a document without errors; it plays as it is. To accept advice, name its code and give a
 * reason in the reel or in any object around the place: `"x-accept": { "advice/loop-jump": "a snap back is meant" }`.
 * Accepted advice is left out.
 *
 * @throws UnspoolError for a document with errors, and for unknown options
 */
export function advise(doc: ReelDocument, options: AdviseOptions = {}): Advice[] {
  checkOptions(options, ['text', 'source', 'gameIdentifiers'], 'advise', 'edit');
  const { text, source, gameIdentifiers: spoken } = options;
  if (text !== undefined && typeof text !== 'string')
    throw new UnspoolError('edit/options', `the text ${show(text)} of advise is not a string`, 'pass what was parsed');
  if (spoken !== undefined && typeof spoken !== 'function')
    throw new UnspoolError(
      'edit/options',
      `gameIdentifiers ${show(spoken)} of advise is not a function`,
      'pass (name) => names.has(name)',
    );
  factsOf(doc);
  const outline = text === undefined ? undefined : new TextLocations(text);
  const found = [
    ...opacityAtRest(doc),
    ...Object.keys(doc.clips).flatMap((name) => {
      const view = clipView(doc, name);
      return RULES.flatMap((rule) => rule(view));
    }),
    ...routineAdvice(doc),
    ...unused(doc, spoken),
    ...caseOnly(doc),
  ];
  const advice = found.map(({ fix, safe = false, ...one }): Advice => ({
    ...adviceOf({ ...one, code: `advice/${one.code}` }, outline, source),
    ...(fix && { fix, safe }),
  }));
  return withoutAccepted(doc, advice).sort(inTextOrder);
}

/** Returns the diagnostics without those that an `x-accept` member accepts. Errors cannot be accepted. */
export function withoutAccepted<D extends Diagnostic>(doc: ReelDocument, diagnostics: readonly D[]): D[] {
  return diagnostics.filter(({ code, path, severity }) => {
    if (severity === 'error') return true;
    let value: unknown = doc;
    for (const step of [...stepsOf(path), undefined]) {
      const accepted = isObject(value) ? value['x-accept'] : undefined;
      if (isObject(accepted) && Object.hasOwn(accepted, code)) return false;
      value = step === undefined || !isObject(value) ? undefined : value[step];
    }
    return true;
  });
}
