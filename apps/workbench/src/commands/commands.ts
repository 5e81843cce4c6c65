import { addPart, addShape, addSheet, SHAPE_KINDS, shapeLabel } from '../model/additions.js';
import { openReel } from '../model/session.js';
import { get, showClip, type State } from '../model/store.js';
import { FIXED, inPanel, type Command } from './fixed-commands.js';

/** All commands that are available now: the fixed ones, and one for each clip, reel, picture and shape kind. */
export function commands({ doc, served, reelName, pictures }: State): readonly Command[] {
  const clips = Object.keys(doc?.clips ?? {}).map((name): Command => ({
    group: 'Clip',
    name: `Go to clip ${name}`,
    words: 'animation open show',
    keys: [],
    run: () => showClip(name),
  }));
  const reels = served
    .filter(({ name }) => name !== reelName)
    .map(({ name }): Command => ({
      group: 'General',
      name: `Open ${name}`,
      words: 'reel file',
      keys: [],
      run: () => openReel(name),
    }));
  const shapes = SHAPE_KINDS.map((kind): Command => ({
    group: 'Roles',
    name: `Add a ${shapeLabel(kind)} to the role`,
    words: 'shape hitbox hurtbox hit box collision convex hull triangle',
    keys: [],
    run: () => inPanel('roles', () => addShape(get().role, kind)),
  }));
  const sheets = (pictures?.names ?? []).map((image): Command => ({
    group: 'Roles',
    name: `Add a sheet from ${image}`,
    words: 'sprite frames atlas picture image',
    keys: [],
    run: () => inPanel('roles', () => void addSheet(image)),
  }));
  const parts = Object.keys(doc?.clips ?? {}).map((name): Command => ({
    group: 'Clip',
    name: `Add ${name} as a part at the playhead`,
    words: 'nest clip inside scene cut-scene',
    keys: [],
    run: () => addPart(name),
  }));
  return [...FIXED, ...shapes, ...sheets, ...clips, ...parts, ...reels];
}
