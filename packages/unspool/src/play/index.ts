export { Player, type PlayerOptions, type PlayOptions } from './player.js';
export type { Playback } from './playback.js';
export type { EventType } from './event-types.js';
export type { CueEvent, PlaybackEvent, PlayerEvents } from './events.js';
