export { checkReel, type CheckOptions } from './check/check.js';
export { formatDiagnostic, ReelError, type Diagnostic } from './diagnostics/diagnostic.js';
export type { DocumentPath, Severity } from './diagnostics/diagnostic-messages.js';
export { formatReel } from './document/format.js';
export { LIMITS } from './document/limits.js';
export type {
  ClipDocument,
  CueDocument,
  LoopDocument,
  ReelDocument,
  RoleDocument,
  SheetDocument,
  TrackDocument,
  RoutineDocument,
  RuleDocument,
  ConditionDocument,
} from './document/document.js';
export type { ChainLink, FacingSide } from './document/sequences.js';
