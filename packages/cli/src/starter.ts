import { defineClip, defineReel, type ReelDocument } from 'unspool';

const sway = defineClip('sway', {
  about:
    'An idle: it goes there and back for ever. "duration" is one way, in frames ("48f"), seconds (0.8) or milliseconds ("800ms").',
  duration: '48f',
  loop: 'ping-pong',
})
  .track('body.rotation', [
    ['0f', -3, 'ease-in-out'],
    ['48f', 3],
  ])
  .track('body.scale', [
    ['0f', [1, 1], 'sine-in-out'],
    ['24f', [1.03, 0.97], 'sine-in-out'],
    ['48f', [1, 1]],
  ]);

const snap = defineClip('snap', {
  about:
    'Plays once. A key says when ("at"), what ("value"), and how it goes on to the next key ("ease"): a CSS easing, "hold", or a named one as "back-out". A cue tells the game of its moment; with "until" it is a stretch of time.',
  duration: '30f',
})
  .track('claw.rotation', [
    ['0f', 0, 'quad-out'],
    ['12f', -48, 'cubic-bezier(0.7, 0, 0.9, 0.4)'],
    ['15f', 14, 'back-out'],
    ['30f', 0],
  ])
  .track('claw.opacity', [['0f', 1]])
  .cue('12f', 'danger', { until: '16f' })
  .cue('15f', 'shut', { data: { sound: 'click' } });

/** What `unspool new` writes. */
export const STARTER = defineReel({
  name: 'hermit crab',
  about: 'A small reel to start from. Change it, and look at it with: unspool check, show, sample, trace, draw.',
  fps: 60,
  roles: {
    body: {
      about:
        'A role is a part that clips animate; the game says which of its objects plays it. "rest" is what it shows when nothing animates it.',
      rest: { position: [0, 0], rotation: 0 },
    },
    claw: { about: 'Moves along with the body.', parent: 'body', rest: { position: [17, 4], rotation: 0 } },
  },
  clips: [sway, snap],
}) as unknown as ReelDocument;
