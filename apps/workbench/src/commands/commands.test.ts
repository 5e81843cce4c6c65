import { readFileSync } from 'node:fs';
import type { ReelDocument } from 'unspool';
import { beforeAll, expect, it } from 'vitest';
import { openOffline } from '../../test/offline.js';
import { get, set } from '../model/store.js';
import { commands } from './commands.js';

/** What an animator or programmer types, and the command that it finds. */
const TERMS: readonly (readonly [typed: string, found: string | RegExp])[] = [
  ['duplicate', 'Duplicate the clip as a variant'],
  ['variant', 'Duplicate the clip as a variant'],
  ['speed', 'Play slower'],
  ['rate', 'Play faster'],
  ['hitbox', 'Add a circle to the role'],
  ['hurtbox', 'Show or hide shapes'],
  ['onion', 'Show or hide ghost poses'],
  ['flip', 'Mirror the clip'],
  ['ease', 'Set the easing of the selected keys'],
  ['bezier', 'Set the easing of the selected keys'],
  ['curve', 'Set the easing of the selected keys'],
  ['delete key', 'Delete the selection'],
  ['length', 'Scale the clip to a new duration'],
  ['fps', 'Switch between frames and seconds'],
  ['zoom', 'Zoom in'],
  ['trim', 'Trim the clip to the selection'],
  ['crop', 'Trim the clip to the selection'],
  ['sound', 'Add a cue at the playhead'],
  ['marker', 'Add a cue at the playhead'],
  ['bone', 'Add a role'],
  ['insert keyframe', 'Add a key at the playhead'],
  ['select all', 'Select all keys'],
  ['trajectory', 'Show or hide the motion path'],
  ['stagger', 'Offset rows in time'],
  ['auto key', 'Start or stop recording'],
  ['nest', /^Add .* as a part at the playhead$/],
  ['sequence', 'Add a chain'],
  ['direction', 'Add a facing'],
  ['state machine', 'Add a routine'],
  ['root motion', 'Carry the track on from loop to loop'],
  ['repeat', 'Loop the clip'],
  ['quantize', 'Snap keys to frames'],
  ['history', 'Show the history panel'],
  ['shortcuts', 'Keyboard shortcuts'],
  ['add frames', 'Insert time at the playhead'],
  ['cut gap', 'Remove the time of the range'],
  ['ripple', 'Ripple: move keys of the same roles'],
  ['loop section', 'Start the range at the playhead'],
  ['later keyframes', 'Select the keys after the playhead'],
  ['similar interpolation', 'Select the keys with the same easing'],
  ['copy interpolation', 'Copy the easing'],
  ['paste other bone', 'Paste to the selected role'],
  ['collapse', 'Fold or unfold the tracks'],
  ['reduce', 'Simplify the selected keys'],
  ['flat tangents', 'Flatten the selected keys'],
  ['continuous', 'Smooth the selected keys'],
  ['rotate frames', 'Start with the next drawing'],
  ['sprite step', 'Next drawing'],
  ['lifetime', 'Show the role only in the range'],
  ['nearest', 'Pixel art: sharp pixels'],
  ['magnet', 'Snap to other roles'],
  ['isolate', 'Show the role alone'],
  ['freeze', 'Lock or unlock the role on the stage'],
  ['full screen', 'Make the stage large, or as usual'],
  ['tutorial', 'Show the first steps'],
];

beforeAll(async () => {
  const crab = new URL('../../../../examples/tidepool/reels/crab.reel.json', import.meta.url);
  await openOffline(JSON.parse(readFileSync(crab, 'utf8')) as ReelDocument, 'snap');
  set({ role: 'claw' });
});

it.each(TERMS)('%s finds its command', (typed, found) => {
  const words = typed.split(' ');
  const names = commands(get())
    .filter((one) => words.every((word) => `${one.name} ${one.group} ${one.words}`.toLowerCase().includes(word)))
    .map(({ name }) => name);
  expect(names).toContainEqual(typeof found === 'string' ? found : expect.stringMatching(found));
});

it('no two commands have one name, and none has the keys of another', () => {
  const all = commands(get());
  expect(new Set(all.map(({ name }) => name)).size).toBe(all.length);
  const keys = all.flatMap((one) => one.keys);
  expect(new Set(keys).size).toBe(keys.length);
});
