import { defineClip, defineReel, type ReelDocument } from 'unspool';

const sway = defineClip('sway', {
  about:
    'An idle clip that loops as ping-pong. "duration" is one direction, in frames ("48f"), seconds (0.8) or milliseconds ("800ms").',
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
    'Plays once. A key has a time ("at"), a value ("value") and the easing to the next key ("ease"): a CSS easing, "hold" or a named one such as "back-out". A cue reports a moment to the game; with "until" it is an interval.',
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
  about: 'A small reel to start from. Change it, then run: unspool check, show, sample, trace, draw, edit.',
  fps: 60,
  roles: {
    body: {
      about:
        'A role is a part that clips animate; the game assigns an object to it. "rest" is its value when nothing animates it.',
      rest: { position: [0, 0], rotation: 0 },
      'x-picture': { scale: 0.5 },
    },
    claw: {
      about: 'Moves with the body. "x-picture" says how the workbench draws it: here it turns about its joint.',
      parent: 'body',
      rest: { position: [27, 17], rotation: 0 },
      'x-picture': { anchor: [0.06, 0.5], scale: 0.5 },
    },
  },
  clips: [sway, snap],
}) as unknown as ReelDocument;
