import fc from 'fast-check';
import { expect, test } from 'vitest';
import { parseReel } from 'unspool';
import lagoonReel from '../reels/lagoon.reel.json';
import { Story as Played } from '../src/story.js';

/** Without the plugin the module is the document. */
const reel = parseReel<unknown>(lagoonReel) as unknown as typeof lagoonReel;
class Story extends Played {
  constructor() {
    super(reel);
  }
}

/** The scene without a screen, skipped at any time. */
const END = 12;
const shown = ({ scene, camera, caption, line, rings, isMoored, player }: Story) => ({
  ...{ camera, caption, line, rings, isMoored },
  matrices: Array.from(scene.matrices, (n) => Math.round(n * 1e4) / 1e4 + 0),
  lantern: (scene.parts.lantern as unknown as { glow: number }).glow,
  clip: player.playback?.clip.name,
});

/** All cues that are heard, with the moment in the clip. */
function heardBy(story: Story): string[] {
  const heard: string[] = [];
  for (const type of ['cue', 'cue-start', 'cue-end'] as const)
    story.player.on(type, ({ name, at, clip }) => heard.push(`${type} ${name} of ${clip} at ${at.toFixed(6)}`));
  return heard;
}

test('skipped at 40 random times, its end is as if it had been seen, and each cue is heard once', () => {
  fc.assert(
    fc.property(fc.double({ min: 0, max: END - 0.05, noNaN: true }), (at) => {
      const [skipped, seen] = [new Story(), new Story()];
      const [heardSkipped, heardSeen] = [heardBy(skipped), heardBy(seen)];
      for (let left = at; left > 0; left -= 1 / 60) skipped.tick(Math.min(left, 1 / 60));
      for (const story of [skipped, seen]) if (story === seen) while (story.player.time < at) story.tick(Math.min(1 / 60, at - story.player.time)); // prettier-ignore
      skipped.skip();
      while (!seen.isOver) seen.tick(Math.min(1 / 60, Math.max(1e-9, END - seen.player.time)));
      expect(heardSkipped).toEqual(heardSeen);
      expect(new Set(heardSkipped).size).toBe(heardSkipped.length);
      // The swell goes on in its own time, and so does what is left of a shake: both are stilled before they are compared.
      for (const story of [skipped, seen]) {
        story.player.layer('shake').stop();
        story.player.layer('swell').playback!.seek(0);
        story.player.layer('swell').playback!.pause();
        story.player.playback!.seek(0);
        story.tick(0.6);
        story.player.playback!.seek(1);
        story.player.playback!.pause();
        story.tick(0);
      }
      expect(shown(skipped)).toEqual(shown(seen));
    }),
    { numRuns: 40 },
  );
});

test('a ring that was skipped counts, and is not heard', () => {
  const story = new Story();
  const rung: number[] = [];
  story.onRing = (strength) => rung.push(strength);
  story.tick(6.5);
  story.skip();
  expect([story.rings, rung, story.isMoored, story.line]).toEqual([2, [1], true, undefined]);
});
