/** The types of the events of a player. */
export type EventType = 'cue' | 'cue-start' | 'cue-end' | 'loop' | 'end' | 'stop' | 'arrive' | 'skip' | 'rule';

export const EVENT_TYPES: readonly EventType[] = [
  'cue',
  'cue-start',
  'cue-end',
  'loop',
  'end',
  'stop',
  'arrive',
  'skip',
  'rule',
];
