import type { ReelNames } from '../clip/names.js';
import type { ChainRun, Playback } from './playback.js';

/** A chain that plays, of these links. */
export function chainRun<N extends ReelNames>(name: string, links: readonly Playback<N>[]): ChainRun<N> {
  return {
    name,
    links,
    get ended() {
      return Promise.all(links.map((link) => link.ended)).then((all) => (all.includes('stop') ? 'stop' : 'end'));
    },
  };
}
