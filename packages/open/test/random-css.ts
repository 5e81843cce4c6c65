import fc from 'fast-check';

const number = (least: number, most: number) => fc.integer({ min: least, max: most }).map((n) => n / 4);
const ease = fc.oneof(
  fc.constantFrom('linear', 'ease', 'ease-in-out', 'steps(3)', 'hold', 'quad-in', 'cubic-out', 'quart-in-out', 'sine-out', 'back-in-out', 'bounce-out', 'spring(0.3)', 'smooth'), // prettier-ignore
  fc
    .tuple(number(0, 4), number(-4, 8), number(0, 4), number(-4, 8))
    .map((points) => `cubic-bezier(${points.join(', ')})`),
);

const VALUES: Readonly<Record<string, fc.Arbitrary<unknown>>> = {
  position: fc.tuple(number(-800, 800), number(-800, 800)),
  'position.x': number(-800, 800),
  rotation: number(-2000, 2000),
  scale: fc.tuple(number(-8, 8), number(1, 8)),
  opacity: number(0, 4),
  glow: number(-40, 40),
};

const track = fc.constantFrom(...Object.keys(VALUES)).chain((property) =>
  fc
    .uniqueArray(fc.integer({ min: 0, max: 60 }), { minLength: 1, maxLength: 5 })
    .map((frames) => frames.sort((a, b) => a - b))
    .chain((frames) =>
      fc.tuple(...frames.map((frame) => fc.record({ at: fc.constant(`${frame}f`), value: VALUES[property]!, ease }))),
    ) // prettier-ignore
    .map((keys) => [`crab.${property}`, keys] as const),
);

/** A reel with one clip, of a second, that CSS can say all of. */
export const cssReel = fc
  .tuple(
    fc.uniqueArray(track, { minLength: 1, maxLength: 4, selector: ([name]) => name.replace(/\.[xy]$/, '') }),
    fc.constantFrom('once', 'loop', 'ping-pong'),
    fc.constantFrom(1, -1, 2),
  )
  .map(([tracks, loop, rate]) => ({
    ...{ unspool: 1, roles: { crab: { rest: { position: [3, 4] } } } },
    clips: { run: { duration: '60f', loop, rate, tracks: Object.fromEntries(tracks) } },
  }));
