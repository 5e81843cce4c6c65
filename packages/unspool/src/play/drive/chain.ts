import type { Clip } from '../../clip/clip.js';
import type { ReelNames } from '../../clip/names.js';
import type { ChainLink } from '../../reel/document/sequences.js';
import type { PlayContext } from './context.js';
import type { PlaybackPlace } from '../time/playback-simulation.js';
import { Playback, type ChainRun } from './playback.js';
import { settingsOf, type EnqueueOptions } from '../time/settings.js';

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

/**
 * The playbacks of a clip, or of the links of a chain, on a layer. Throws for an unknown name, option or value.
 *
 * @param call `play`, `enqueue` or `fallback`
 */
export function makePlaybacks<N extends ReelNames>(
  core: Pick<PlayContext, 'reel' | 'frame' | 'nextSeed'>,
  layer: PlaybackPlace,
  name: string,
  options: EnqueueOptions<N>,
  call: string,
): Playback<N>[] {
  const { reel, frame } = core;
  const make = (clip: string, given: EnqueueOptions<N>) => {
    const found = reel.clip(clip) as Clip<N['clip']>;
    const settings = settingsOf(found, given, call, () => core.nextSeed++);
    const one = new Playback<N>(frame, found, settings);
    one.layer = layer;
    return one;
  };
  if (!Object.hasOwn(reel.facts.chains, name)) return [make(name, options)];
  const chain = reel.chain(name);
  const links = chain.map((link, i) => {
    const { clip, ...message }: ChainLink = link;
    // Options of a link override those of the chain; but rates multiply, and the fade and start of the whole apply to
    // are its first's, and its fade-out is its last's.
    const { fadeOut, ...all } = options;
    const { wait, from, fade, ...rest } = all;
    const last = i === chain.length - 1 && fadeOut !== undefined ? { fadeOut } : {};
    const rate = (options.rate ?? 1) * (message.rate ?? 1);
    return make(clip, { ...(i === 0 ? all : rest), ...last, ...message, rate });
  });
  const run = chainRun(name, links);
  for (const link of links) link.run = run;
  return links;
}
