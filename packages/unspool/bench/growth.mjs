/** How cost grows: with the keys of a track, forwards, backwards and at random times; with the instances of a crowd. */
import { parseReel } from '../dist/index.js';
import { crowdContenders } from './crowd.mjs';
import { interleave, median, spread } from './measure.mjs';
import { CHANNELS, keysOf, randomNumbers, SECONDS } from './work.mjs';

const KEYS = [24, 240, 2400];
const SAMPLES = 2000;

export function growthInKeys() {
  const random = randomNumbers(9);
  // Numbers that all hold, so that what is measured is finding the segment. Few channels: all fit the same cache.
  const clips = Object.fromEntries(
    KEYS.map((count) => {
      const tracks = Object.fromEntries(
        Array.from({ length: 2 }, (_, c) => [`a.c${c}`, keysOf(random, count).map(({ at, value }) => ({ at, value }))]),
      );
      return [count, parseReel({ unspool: 1, clips: { c: { duration: SECONDS, loop: 'loop', tracks } } }).clip('c')];
    }),
  );
  const times = {
    forwards: Float64Array.from({ length: SAMPLES }, (_, i) => ((i * 1) / 60) % SECONDS),
    backwards: Float64Array.from({ length: SAMPLES }, (_, i) => SECONDS - (((i * 1) / 60) % SECONDS)),
    'at random': Float64Array.from({ length: SAMPLES }, () => random() * SECONDS),
    'all keys in a frame': Float64Array.from({ length: SAMPLES }, (_, i) => (i * (SECONDS - 1e-3)) % SECONDS),
  };
  let sink = 0;
  const rows = Object.entries(times).map(([way, list]) => {
    const contenders = Object.fromEntries(
      KEYS.map((count) => {
        const pose = clips[count].createPose();
        return [
          count,
          () => {
            for (let i = 0; i < SAMPLES; i++) sink += clips[count].sampleInside(list[i], pose).values[0];
          },
        ];
      }),
    );
    const timings = interleave(contenders, SAMPLES * 2);
    const grown = timings[2400].map((each, i) => each / timings[24][i]);
    return `| ${way} | ${KEYS.map((count) => spread(timings[count])).join(' | ')} | ${spread(grown)} |`;
  });
  if (!Number.isFinite(sink)) throw new Error('a value was not finite');
  return {
    text: [
      `| ns per channel | ${KEYS.map((count) => `${count} keys`).join(' | ')} | 2400 by 24 |`,
      '| --- | ---: | ---: | ---: | ---: |',
      ...rows,
    ].join('\n'),
  };
}

export function growthInInstances() {
  const rows = [100, 1000, 10_000, 100_000].map((count) => {
    const { contenders } = crowdContenders(count);
    const frames = Math.max(1, Math.round(40_000 / count));
    const work = {
      unspool: () => {
        for (let i = 0; i < frames; i++) contenders.unspool();
      },
    };
    if (count <= 10_000) {
      work.ordinary = () => {
        for (let i = 0; i < frames; i++) contenders['ordinary objects (b)']();
      };
    }
    const timings = interleave(work, frames * count * CHANNELS, { rounds: 15 });
    const times = timings.ordinary
      ? median(timings.ordinary.map((each, i) => each / timings.unspool[i])).toFixed(1)
      : '–';
    return `| ${count} | ${spread(timings.unspool)} | ${times} |`;
  });
  return {
    text: ['| instances | ns per channel | ordinary objects (b) / unspool |', '| ---: | ---: | ---: |', ...rows].join(
      '\n',
    ),
  };
}
