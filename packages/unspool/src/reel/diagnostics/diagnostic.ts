import { withHint } from '../../errors/sentence.js';
import { UnspoolError } from '../../errors/error.js';
import { pointerOf, type TextLocations } from './text-locations.js';
import {
  messages,
  type DocumentPath,
  type ProblemArgs,
  type ProblemCode,
  type Report,
  type Severity,
} from './diagnostic-messages.js';

/** One thing that is wrong with a reel, or could be better: data for programs, and a sentence with a hint for people. */
export interface Diagnostic {
  /** Stable, as `reel/unknown-role`. */
  readonly code: string;
  readonly severity: Severity;
  /** Where it is: a JSON Pointer (RFC 6901) into the document, `""` for all of it. */
  readonly path: string;
  /** The place in the text, both counted from 1. Omitted when a document came without its text. */
  readonly line?: number;
  readonly column?: number;
  /** The name of the document, as the caller gave it. */
  readonly source?: string;
  /** What is wrong, with the values in question. */
  readonly message: string;
  /** What to do about it. */
  readonly hint: string;
}

/** Collects problems as diagnostics: in the order of the text where there is one, else as they were found. */
export class Diagnostics {
  readonly #found: Diagnostic[] = [];

  constructor(
    readonly source: string | undefined,
    private readonly outline?: TextLocations,
  ) {}

  readonly report: Report = (code, path, args, severity = 'error', of = 'value') => {
    const place = this.outline?.place(path, of);
    this.add(code, args, severity, pointerOf(path), place);
  };

  add<C extends ProblemCode>(
    code: C,
    args: ProblemArgs[C],
    severity: Severity,
    path: string,
    place: { readonly line: number; readonly column: number } | undefined,
  ): void {
    const [message, hint] = messages[code](args);
    this.#found.push({
      code,
      severity,
      path,
      ...place,
      ...(this.source === undefined ? undefined : { source: this.source }),
      message,
      hint,
    });
  }

  list(): Diagnostic[] {
    return this.#found.sort(inTextOrder);
  }
}

/** Sorts diagnostics by their place in the text. */
export function inTextOrder(a: Diagnostic, b: Diagnostic): number {
  return (a.line ?? 0) - (b.line ?? 0) || (a.column ?? 0) - (b.column ?? 0);
}

/** What is probably not meant, and where. */
export interface AdviceFacts {
  readonly code: string;
  readonly path: DocumentPath;
  /** Whether it is about the member's name, or its value. */
  readonly of?: 'name' | 'value' | undefined;
  readonly message: string;
  readonly hint: string;
}

/** Creates a diagnostic for advice, with its place in the text if known. */
export function adviceOf(
  { code, path, of, message, hint }: AdviceFacts,
  outline: TextLocations | undefined,
  source: string | undefined,
): Diagnostic {
  const facts = { code, severity: 'advice' as const, path: pointerOf(path), message, hint };
  return { ...facts, ...outline?.place(path, of), ...(source !== undefined && { source }) };
}

/** Returns a diagnostic as one line, such as `crab.reel.json:12:9: error: unknown role … [reel/unknown-role]`. */
export function formatDiagnostic(one: Diagnostic): string {
  const place = one.line === undefined ? one.path || '(whole reel)' : `${one.line}:${one.column}`;
  return `${one.source ?? 'reel'}:${place}: ${one.severity}: ${withHint(one.message, one.hint)} [${one.code}]`;
}

/** Thrown for a reel with errors, after all of it was checked. `diagnostics` lists all of them. */
export class ReelError extends UnspoolError {
  override readonly name = 'ReelError';

  constructor(
    /** Everything that was found, in document order. */
    readonly diagnostics: readonly Diagnostic[],
  ) {
    const errors = diagnostics.filter((one) => one.severity === 'error');
    super('reel/invalid', errors.map(formatDiagnostic).join('\n'), '');
  }
}
