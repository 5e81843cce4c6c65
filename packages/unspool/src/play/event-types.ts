/** What a player tells of: cues, and what becomes of a playback. */
export type EventType = 'cue' | 'cue-start' | 'cue-end' | 'loop' | 'end' | 'stop' | 'arrive' | 'skip';

export const EVENT_TYPES: readonly EventType[] = [
  'cue',
  'cue-start',
  'cue-end',
  'loop',
  'end',
  'stop',
  'arrive',
  'skip',
];
