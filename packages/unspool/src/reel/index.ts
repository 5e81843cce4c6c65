export { checkReel, type CheckOptions } from './check.js';
export { formatDiagnostic, ReelError, type Diagnostic } from './diagnostic.js';
export type { Severity } from './diagnostic-messages.js';
export { formatReel } from './format.js';
export { LIMITS } from './limits.js';
export type { ReelDocument } from './document.js';
