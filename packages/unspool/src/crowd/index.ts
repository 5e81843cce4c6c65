export { prepareClip } from '../clip/prepare.js';
export { Crowd, type CrowdOptions } from './crowd.js';
export type { CrowdCue, CueList } from './cue-list.js';
