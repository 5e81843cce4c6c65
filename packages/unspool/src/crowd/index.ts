export { preparedOf, prepareClip, usePrepared, type PreparedClip } from '../clip/fitted/prepare.js';
export { Crowd, type CrowdOptions } from './crowd.js';
export type { CrowdCue, CueList } from './cue-list.js';
export type { CrowdState } from './saved.js';
