export { checkReel, type CheckOptions } from './check.js';
export { formatDiagnostic, ReelError, type Diagnostic } from './diagnostic.js';
export type { DocumentPath, Severity } from './diagnostic-messages.js';
export { formatReel } from './format.js';
export { LIMITS } from './limits.js';
export type {
  ClipDocument,
  CueDocument,
  LoopDocument,
  ReelDocument,
  RoleDocument,
  SheetDocument,
  TrackDocument,
} from './document.js';
export type { ChainLink, FacingSide } from './sequences.js';
