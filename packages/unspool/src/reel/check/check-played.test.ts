import fc from 'fast-check';
import { expect, test } from 'vitest';
import { enough, runs } from '../../../test/runs.js';
import { checkReel, Player, startRoutine, trustReel, type Reel, type ReelDocument } from '../../index.js';

/** What a rule or the link of a chain may say, sound or not. The clip lasts a second, its span from 0.2 to 0.6 s. */
const seconds = fc.constantFrom<number | string>(-0.5, 0, 0.2, 0.5, '150ms', '36f', 0.6, 1, '61f', 1.5);
const moment = fc.oneof(seconds, fc.constantFrom('open', 'shut'));
const length = fc.constantFrom<number | string>(-1, '-3f', '-0f', 0, 0.2, '9f', 5);
const rate = fc.constantFrom(1, -1, 2.5, 0, 1000, 2000, -1e6, 1.1e6, 1e300);
const loop = fc.constantFrom(
  'once',
  'loop',
  'ping-pong',
  { mode: 'loop', count: 1 },
  { mode: 'ping-pong', count: 2.5 },
);
const some = <T extends Record<string, fc.Arbitrary<unknown>>>(members: T) =>
  fc.record(members, { requiredKeys: [] }).map((one) => ({ ...one }));

const link = some({ span: fc.constant('open'), loop, rate, fade: length });
const rule = fc
  .tuple(
    fc.constantFrom<object>(
      { play: 'snap' },
      { play: 'both' },
      { play: ['back', { clip: 'snap', share: 2 }] },
      { face: 'walk', toward: 'way' },
    ),
    some({
      ...{ from: moment, until: moment, span: fc.constant('open'), loop, fade: length, fadeOut: length },
      rate: fc.oneof(rate, fc.constant({ input: 'speed', at: 2 })),
    }),
  )
  // The fade of a link takes the place of the rule's, which is then not looked at.
  .map(([plays, { fade, ...options }]) => ({
    ...{ name: 'only', ...plays, ...options },
    ...('play' in plays && plays.play === 'both' ? {} : { fade }),
  }));
const anyReel = fc.tuple(fc.constantFrom(1, -2), fc.array(link, { minLength: 1, maxLength: 2 }), rule).map(
  ([back, links, one]) =>
    ({
      unspool: 1,
      fps: 60,
      clips: {
        snap: {
          duration: 1,
          tracks: { 'claw.rotation': [{ at: 0, value: 0 }] },
          cues: [{ at: 0.4, name: 'shut' }],
          spans: { open: [0.2, 0.6] },
        },
        back: { duration: 1, rate: back, cues: [{ at: 0.1, name: 'shut' }], spans: { open: [0.2, 0.6] } },
      },
      chains: { both: links.map((link, i) => ({ clip: i === 0 ? 'snap' : 'back', ...link })) },
      facings: { walk: { left: 'snap', right: 'back' } },
      routines: { main: { inputs: { way: { kind: 'vec2' }, speed: { kind: 'number' } }, rules: [one] } },
    }) as unknown as ReelDocument,
);

/** What a player makes of it that was not told about mistakes. */
function begins(document: ReelDocument): boolean {
  const reel: Reel = trustReel(document);
  const player = new Player(reel, { cast: {} });
  try {
    player.play('both');
    startRoutine(player, 'main');
    return true;
  } catch {
    return false;
  }
}

test('something is said of a reel where what it plays could not begin, and only there', () => {
  const counts = { true: 0, false: 0 };
  fc.assert(
    fc.property(anyReel, (document) => {
      // A chain whose first clip never ends is strange, but it begins.
      const found = checkReel(document).filter(({ code }) => code !== 'reel/chain-endless');
      const isSound = found.length === 0;
      counts[`${isSound}`]++;
      expect(isSound, found.map(({ message }) => message).join('\n')).toBe(begins(document));
    }),
    runs(500),
  );
  expect(Math.min(counts.true, counts.false)).toBeGreaterThan(enough(20));
});
