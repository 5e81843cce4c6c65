export { Player, type PlayerOptions, type PlayOptions } from './player.js';
export type { Playback } from './playback.js';
export type { CueEvent, EventType, PlaybackEvent, PlayerEvents } from './events.js';
