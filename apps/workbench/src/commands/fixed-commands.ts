import {
  selectAll,
  copySelection,
  selectedCount,
  dropTrial,
  goTo,
  goToEnd,
  goToKey,
  insertKey,
  keyTrial,
  needed,
  pasteKeys,
  removeSelection,
  selectKeys,
  shown,
  stepFrames,
  toggleRecording,
} from '../model/actions.js';
import { moveSelection } from '../model/moves.js';
import { copyClip, toggleAccumulate } from '../model/clip-actions.js';
import { togglePaused } from '../model/live.js';
import { go, save } from '../model/session.js';
import {
  get,
  changeDisplay,
  changeShares,
  SHARES,
  FOCUS_AREAS,
  set,
  type BackdropName,
  type FocusArea,
} from '../model/store.js';
import { wholeOf } from '../model/axis.js';
import { foldAll } from '../model/fold.js';
import { addChain, addFacing, addRole, addRoutine } from '../model/additions.js';
import { clearRange, removeRange, selectKeysInRange, setRangeEnd, showInRange } from '../model/range.js';
import {
  copyEasing,
  flattenKeys,
  pasteEasing,
  pasteToRole,
  pasteToTrack,
  selectLaterKeys,
  selectRoleKeys,
  selectSameEasing,
  selectTrackKeys,
  smoothKeys,
} from '../model/select.js';
import { goToDrawing, turnDrawings } from '../model/drawings.js';
import { showAllRoles, toggleHidden, toggleLocked, toggleSolo } from '../model/role-view.js';
import { togglePlaying, toggleRange } from '../time/playing.js';
import { askExport, chooseImport } from './exchange-prompts.js';
import { askClipName, askCue, askDuration, askInsertTime, askNewClip, askProperty, askStagger } from './prompts.js';
import {
  addSpan,
  clipOperation,
  loopAs,
  nextClip,
  nextRole,
  panTime,
  restTrial,
  rowChannels,
  scaleSelection,
  switchRow,
  trimToRange,
  withSelection,
  zoomTime,
} from './clip-commands.js';

/** A command of the command list, which is the page's menu. Everything else is a field or a handle, which Tab reaches. */
export interface Command {
  readonly name: string;
  /** As `keyOf` gives it: `Ctrl+Z`, `Shift+ArrowLeft`, `k`. */
  readonly keys: readonly string[];
  readonly group: 'Time' | 'Keys' | 'Pose' | 'Roles' | 'Clip' | 'View' | 'General';
  /** Other words that find it. */
  readonly words: string;
  readonly run: () => void;
}

type Row = readonly [name: string, words: string, keys: readonly string[], run: () => void];

const ROWS: Readonly<Record<Command['group'], readonly Row[]>> = {
  Time: [
    ['Play or stop', 'pause preview start', ['Space'], togglePlaying],
    ['Pause or resume the running game', 'live player watch lead', [], togglePaused],
    ['Record a motion in the running game', 'live capture', [], () => set({ focusArea: 'game' })],
    ['Next frame', 'step forward', ['.', 'ArrowRight'], () => stepFrames(1)],
    ['Previous frame', 'step back', [',', 'ArrowLeft'], () => stepFrames(-1)],
    ['Forward 10 frames', '', ['Shift+>'], () => stepFrames(10)],
    ['Back 10 frames', '', ['Shift+<'], () => stepFrames(-10)],
    ['Next key', '', ['Ctrl+ArrowRight', 'n'], () => goToKey(1)],
    ['Previous key', '', ['Ctrl+ArrowLeft', 'b'], () => goToKey(-1)],
    ['Next drawing', 'cell frame of a row sprite step', ['}'], () => goToDrawing(1)],
    ['Previous drawing', 'cell frame of a row sprite step', ['{'], () => goToDrawing(-1)],
    ['Go to start', 'first begin', ['Home'], () => goTo(0)],
    ['Go to end', 'last', ['End'], goToEnd],
    ['Go to frame', 'jump time playhead seek', ['g'], () => focusOn('[aria-label="Playhead"]')],
    ['Loop the selection', 'range repeat cycle', ['o'], toggleRange],
    ['Start the range at the playhead', 'loop section mark begin', [], () => setRangeEnd('from')],
    ['End the range at the playhead', 'loop section mark end', [], () => setRangeEnd('until')],
    ['Clear the range', 'loop section none', [], clearRange],
    ['Select the keys in the range', 'keyframes between', [], selectKeysInRange],
    ['Insert time at the playhead', 'add frames gap longer hold ripple', [], askInsertTime],
    ['Remove the time of the range', 'delete frames cut gap shorter ripple', [], removeRange],
    ['Ripple: move everything later', 'insert remove time cues all tracks', [], () => set({ ripple: 'clip' })],
    ['Ripple: move keys of the same roles', 'insert remove time', [], () => set({ ripple: 'role' })],
    ['Ripple: move keys of the same tracks', 'insert remove time row', [], () => set({ ripple: 'track' })],
    [
      'Play slower',
      'speed rate slow motion',
      [],
      () => set({ rate: Math.max(0.1, Number((get().rate / 2).toFixed(2))) }),
    ],
    ['Play faster', 'speed rate', [], () => set({ rate: Math.min(2, get().rate * 2) })],
    ['On twos', 'hold every 2 frames stepped 2s', [], () => set({ onTwos: !get().onTwos })],
    ['Zoom in', 'nearer magnify scale time', ['+', '='], () => zoomTime(0.7)],
    ['Zoom out', 'farther scale time', ['-'], () => zoomTime(1 / 0.7)],
    [
      'Zoom to the whole clip',
      'fit all',
      ['0'],
      () => {
        const now = shown();
        if (now) set({ view: wholeOf(now.duration, now.fps) });
      },
    ],
    ['Scroll to later times', 'pan right', [], () => panTime(0.5)],
    ['Scroll to earlier times', 'pan left', [], () => panTime(-0.5)],
    [
      'Switch between frames and seconds',
      'unit fps milliseconds timecode',
      [],
      () => set({ inSeconds: !get().inSeconds }),
    ],
  ],
  Keys: [
    ['Add a key at the playhead', 'insert keyframe set', ['k'], () => insertKey()],
    ['Move the selection 1 frame later', 'nudge delay retime', ['Shift+ArrowRight'], () => moveSelection(1)],
    ['Move the selection 1 frame earlier', 'nudge advance retime', ['Shift+ArrowLeft'], () => moveSelection(-1)],
    [
      'Move the selection and what is later 1 frame later',
      'ripple insert time',
      ['Shift+Alt+ArrowRight'],
      () => moveSelection(1, true),
    ],
    [
      'Move the selection and what is later 1 frame earlier',
      'ripple remove time',
      ['Shift+Alt+ArrowLeft'],
      () => moveSelection(-1, true),
    ],
    ['Delete the selection', 'remove key keyframe cue span part', ['Delete', 'Backspace'], removeSelection],
    ['Copy the selected keys', 'duplicate keyframes', ['Ctrl+c'], copySelection],
    ['Cut the selected keys', 'keyframes', ['Ctrl+x'], () => void (copySelection() && removeSelection())],
    ['Paste at the playhead', 'insert keyframes', ['Ctrl+v'], pasteKeys],
    ['Select all keys', 'choose keyframes', ['Ctrl+a'], selectAll],
    ['Select all keys of the track', 'row keyframes', [], selectTrackKeys],
    ['Select all keys of the role', 'object bone part keyframes', [], selectRoleKeys],
    ['Select the keys after the playhead', 'later right following keyframes', [], selectLaterKeys],
    ['Select the keys with the same easing', 'similar interpolation curve keyframes', [], selectSameEasing],
    ['Copy the easing', 'interpolation curve', ['Ctrl+Shift+C'], copyEasing],
    ['Paste the easing', 'interpolation curve apply', ['Ctrl+Shift+V'], pasteEasing],
    ['Paste to the selected track', 'other property row keyframes', [], pasteToTrack],
    ['Paste to the selected role', 'other object bone part pose keyframes', [], pasteToRole],
    ['Deselect all', 'clear selection none', [], () => selectKeys({})],
    [
      'Set the easing of the selected keys',
      'ease curve bezier interpolation tween cubic spring bounce elastic hold linear smooth',
      ['e'],
      typeEasing,
    ],
    ['Scale times by ½', 'faster compress retime shrink stretch', [], () => scaleSelection(0.5)],
    ['Scale times by 2', 'slower expand retime stretch', [], () => scaleSelection(2)],
    ['Snap keys to frames', 'round quantize grid', [], () => void withSelection((keys) => ({ do: 'snap', ...keys }))],
    [
      'Turn on the shape from the playhead',
      'hitbox hurtbox hit box active collision enable',
      [],
      () => switchRow(true),
    ],
    [
      'Turn off the shape from the playhead',
      'hitbox hurtbox hit box inactive collision disable',
      [],
      () => switchRow(false),
    ],
    ['Offset rows in time', 'stagger delay overlap follow through cascade', [], askStagger],
    ['Start with the next drawing', 'rotate shift cycle frames offset sprite first last', [], turnDrawings],
    [
      'Simplify the selected keys',
      'reduce thin remove decimate fewer clean up mocap',
      [],
      () => pressButton('Simplify …'),
    ],
    ['Smooth the selected keys', 'auto tangents continuous spline', [], smoothKeys],
    ['Flatten the selected keys', 'flat tangents horizontal still ease in out', [], flattenKeys],
    ['Split the track into channels', 'separate x y axis', [], () => rowChannels('split')],
    ['Join the channels into one track', 'merge x y axis', [], () => rowChannels('join')],
    [
      'Carry the track on from loop to loop',
      'accumulate root motion relative iteration walk cycle wheel keep going',
      [],
      toggleAccumulate,
    ],
    ['Add a custom property', 'new track parameter weights', [], askProperty],
    ['Add a cue at the playhead', 'event marker sound trigger footstep', ['c'], askCue],
    ['Add a span over the selection', 'range section segment marker label', [], addSpan],
  ],
  Pose: [
    [
      'Show the role only in the range',
      'life span lifetime appear disappear visible there from here to here',
      [],
      showInRange,
    ],
    ['Start or stop recording', 'auto key autokey', ['r'], toggleRecording],
    ['Key the unkeyed values', 'set keyframe preview trial tried', [], keyTrial],
    ['Discard the unkeyed values', 'revert preview trial tried', [], dropTrial],
    ['Make the unkeyed values the rest pose', 'default base bind pose', [], restTrial],
    ['Next role', 'bone part layer object', [']'], () => nextRole(1)],
    ['Previous role', 'bone part layer object', ['['], () => nextRole(-1)],
  ],
  Roles: [['Add a role', 'new bone part object layer character', [], () => inPanel('roles', addRole)]],
  Clip: [
    ['Add a chain', 'new sequence queue playlist combo', [], () => inPanel('clips', addChain)],
    ['Add a facing', 'new direction directional four eight way walk', [], () => inPanel('clips', addFacing)],
    [
      'Add a routine',
      'new rules state machine transitions states priority logic',
      [],
      () => inPanel('routines', addRoutine),
    ],
    ['New clip', 'add animation create', ['Alt+n'], askNewClip],
    ['Rename the clip', 'animation name', [], askClipName],
    ['Duplicate the clip as a variant', 'copy animation', [], () => copyClip(false)],
    ['Duplicate the clip mirrored', 'copy flip', [], () => copyClip(true)],
    ['Play the clip once', 'loop mode no repeat', [], () => loopAs(null)],
    ['Loop the clip', 'repeat cycle loop mode', [], () => loopAs('loop')],
    ['Loop the clip as ping-pong', 'bounce there and back alternate repeat loop mode', [], () => loopAs('ping-pong')],
    ['Scale the clip to a new duration', 'length retime stretch speed fit time', [], () => askDuration('fit')],
    ['Extend the clip', 'length duration longer add time', [], () => askDuration('extend')],
    ['Trim the clip to the selection', 'crop shorten cut length duration', [], trimToRange],
    ['Mirror the clip', 'flip left right', [], () => clipOperation((clip) => ({ do: 'mirror', clip }))],
    ['Reverse the clip', 'backwards rewind', [], () => clipOperation((clip) => ({ do: 'reverse', clip }))],
    [
      'Match the ends of the loop',
      'seam pop seamless cycle first last key',
      [],
      () => clipOperation((clip) => ({ do: 'match-ends', clip })),
    ],
    ['Delete the clip', 'remove animation', [], () => clipOperation((name) => ({ do: 'remove', what: 'clip', name }))],
    ['Next clip', 'animation', ['PageDown'], () => nextClip(1)],
    ['Previous clip', 'animation', ['PageUp'], () => nextClip(-1)],
  ],
  View: [
    ['Make the stage large, or as usual', 'full screen maximize bigger', [], toggleStage],
    ['Fold or unfold the tracks', 'collapse expand rows summary all roles', [], foldAll],
    [
      'Show or hide shapes',
      'hitbox hurtbox hit box collision',
      [],
      () => changeDisplay({ shapes: !get().display.shapes }),
    ],
    [
      'Show or hide the motion path',
      'trajectory arc trail way spacing',
      ['w'],
      () => changeDisplay({ path: !get().display.path }),
    ],
    [
      'Show or hide ghost poses',
      'onion skin',
      ['p'],
      () => changeDisplay({ ghosts: get().display.ghosts > 0 ? 0 : 2 }),
    ],
    [
      'Compare with the reel before the last step',
      'before after difference overlay',
      [],
      () => changeDisplay({ compare: get().display.compare ? undefined : { with: 'before' } }),
    ],
    ['Hide or show the role on the stage', 'visibility eye invisible', [], () => toggleHidden()],
    ['Lock or unlock the role on the stage', 'freeze protect', [], () => toggleLocked()],
    ['Show the role alone', 'solo isolate only', [], () => toggleSolo()],
    ['Show and unlock all roles', 'unhide visibility', [], showAllRoles],
    [
      'Pixel art: sharp pixels',
      'nearest filter crisp retro',
      [],
      () => changeDisplay({ pixelArt: !get().display.pixelArt }),
    ],
    ['Snap to other roles', 'align guides edges magnet', [], () => toggleSnap('roles')],
    ['Snap to whole pixels', 'grid round pixel art', [], () => toggleSnap('pixels')],
    [
      'Ghost poses at keys',
      'onion skin keyframes',
      [],
      () => changeDisplay({ ghostStep: get().display.ghostStep === 0 ? 3 : 0, ghosts: get().display.ghosts || 2 }),
    ],
    ['Move the background picture', 'ground image backdrop', [], () => moveBackdrop('background')],
    ['Move the reference picture', 'model image trace', [], () => moveBackdrop('reference')],
    ['Focus the tracks', 'rows timeline', ['t'], () => focusOn('.key-mirror')],
    ['Focus the stage', 'viewport canvas', ['s'], () => focusOn('.stage-canvas')],
    ['Edit the value of the track', 'number type', ['v'], () => focusOn('.track-head.is-here .number')],
  ],
  General: [
    ['Undo', 'revert', ['Ctrl+z'], () => go('undo')],
    ['Redo', 'repeat again', ['Ctrl+Shift+Z', 'Ctrl+y'], () => go('redo')],
    ['Save', 'write file', ['Ctrl+s'], save],
    ['Import…', 'open format gltf glb css vtt subtitles csv table svg path add file', [], chooseImport],
    ['Export…', 'convert format gltf glb css web animations vtt csv svg download', [], askExport],
    ['Find a command', 'search menu palette', ['Ctrl+k', '/'], () => set({ dialog: 'commands' })],
    ['Show the first steps', 'tutorial guide help begin', [], () => set({ guide: true, focusArea: 'clips' })],
    ['Keyboard shortcuts', 'help keys hotkeys', ['?'], () => set({ dialog: 'keys' })],
  ],
};

/** The commands that are always there. */
export const FIXED: readonly Command[] = [
  ...Object.entries(ROWS).flatMap(([group, rows]) =>
    rows.map(([name, words, keys, run]): Command => ({ group: group as Command['group'], name, words, keys, run })),
  ),
  ...FOCUS_AREAS.map((panel): Command => ({
    group: 'General',
    name: `Show the ${panel} panel`,
    words: 'tab open',
    keys: [],
    run: () => set({ focusArea: panel }),
  })),
];

/** The stage takes most of the page; the tracks stay beside it. */
function toggleStage(): void {
  const isLarge = get().shares.stage > 90;
  changeShares(isLarge ? SHARES : { left: 66, stage: 96 });
}

/** Presses a button of the bar below the tracks, if it is there. */
function pressButton(label: string): void {
  const buttons = [...document.querySelectorAll<HTMLElement>('.key-line button')];
  const found = buttons.find((button) => button.textContent === label);
  if (found) found.click();
  else needed('Select three or more keys first.');
}

function toggleSnap(what: 'roles' | 'pixels'): void {
  const { snap } = get().display;
  changeDisplay({ snap: { ...snap, [what]: !snap[what] } });
}

/** Goes to where something is typed. */
export function focusOn(selector: string): void {
  const element = document.querySelector<HTMLElement>(selector);
  element?.focus();
  // Typing replaces the current value.
  if (element instanceof HTMLInputElement) element.select();
}

/** Moves the focus to the easing of the selection. */
function typeEasing(): void {
  if (selectedCount(get().selectedKeys) === 0) needed();
  else focusOn('.ease-text');
}

function moveBackdrop(name: BackdropName): void {
  const { moving, [name]: backdrop } = get().display;
  if (backdrop) changeDisplay({ moving: moving === name ? undefined : name });
  else focusOn(`.stage-bar [data-backdrop="${name}"]`);
}

/** Shows a panel, so that what is added is seen. */
export function inPanel(panel: FocusArea, add: () => void): void {
  set({ focusArea: panel });
  add();
}
