import { isAbsolute } from 'node:path';
import { pathToFileURL } from 'node:url';
import type { Log, ReportingDescriptor, Result } from 'sarif';
import type { Diagnostic } from 'unspool';
import { version } from '../package-files.js';

const LEVELS = { error: 'error', warning: 'warning', advice: 'note' } as const;

/** Diagnostics as a SARIF 2.1.0 log (OASIS), which code hosts and editors show beside the lines. */
export function toSarif(diagnostics: readonly Diagnostic[]): Log {
  const codes = [...new Set(diagnostics.map(({ code }) => code))].sort();
  const rules = codes.map((code): ReportingDescriptor => ({ id: code, name: code.replace(/^.*\//, '') }));
  const results = diagnostics.map((one): Result => {
    const { code, severity, message, hint, source, line, column, path } = one;
    const region =
      line === undefined ? undefined : { startLine: line, ...(column !== undefined && { startColumn: column }) };
    return {
      ruleId: code,
      ruleIndex: codes.indexOf(code),
      level: LEVELS[severity],
      message: { text: hint ? `${message}: ${hint}` : message },
      locations: [
        {
          ...(source !== undefined && {
            physicalLocation: { artifactLocation: { uri: uriOf(source) }, ...(region && { region }) },
          }),
          logicalLocations: [{ fullyQualifiedName: path }],
        },
      ],
    };
  });
  return {
    version: '2.1.0',
    $schema: 'https://docs.oasis-open.org/sarif/sarif/v2.1.0/errata01/os/schemas/sarif-schema-2.1.0.json',
    runs: [{ tool: { driver: { name: 'unspool', version, rules } }, columnKind: 'utf16CodeUnits', results }],
  };
}

function uriOf(file: string): string {
  if (isAbsolute(file)) return pathToFileURL(file).href;
  return file.split(/[\\/]/).map(encodeURIComponent).join('/');
}
