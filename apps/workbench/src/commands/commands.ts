import {
  selectAll,
  copySelection,
  copyClip,
  selectedCount,
  dropTrial,
  goTo,
  goToKey,
  insertKey,
  keyTrial,
  moveSelection,
  needed,
  pasteKeys,
  removeSelection,
  selectKeys,
  shown,
  stepFrames,
  toggleRecording,
} from '../model/actions.js';
import { go, openReel, save } from '../model/session.js';
import { get, changeDisplay, showClip, FOCUS_AREAS, set, type BackdropName, type State } from '../model/store.js';
import { wholeOf } from '../time/axis.js';
import { togglePlaying, toggleRange } from '../time/playing.js';
import { askClipName, askCue, askDuration, askNewClip, askProperty, askStagger } from './prompts.js';
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

/** Something that can be done, by its name. The list of commands is the menu; what is not in it is a field or a thing to drag, which Tab reaches. */
export interface Command {
  readonly name: string;
  /** As `keyOf` gives it: `Ctrl+Z`, `Shift+ArrowLeft`, `k`. */
  readonly keys?: readonly string[];
  readonly group: 'Time' | 'Keys' | 'Pose' | 'Clip' | 'View' | 'Work';
  readonly run: () => void;
}

const FIXED: readonly Command[] = [
  { group: 'Time', name: 'Play or stop', keys: ['Space'], run: togglePlaying },
  { group: 'Time', name: 'One frame on', keys: ['.', 'ArrowRight'], run: () => stepFrames(1) },
  { group: 'Time', name: 'One frame back', keys: [',', 'ArrowLeft'], run: () => stepFrames(-1) },
  { group: 'Time', name: 'Ten frames on', keys: ['Shift+>'], run: () => stepFrames(10) },
  { group: 'Time', name: 'Ten frames back', keys: ['Shift+<'], run: () => stepFrames(-10) },
  { group: 'Time', name: 'To the next key of the row', keys: ['Ctrl+ArrowRight', 'n'], run: () => goToKey(1) },
  { group: 'Time', name: 'To the key before, of the row', keys: ['Ctrl+ArrowLeft', 'b'], run: () => goToKey(-1) },
  { group: 'Time', name: 'To the start', keys: ['Home'], run: () => goTo(0) },
  { group: 'Time', name: 'To the end', keys: ['End'], run: () => goTo(Infinity) },
  { group: 'Time', name: 'Go to a frame', keys: ['g'], run: () => focusOn('[aria-label="Playhead"]') },
  { group: 'Time', name: 'Play the chosen stretch over and over', keys: ['o'], run: toggleRange },
  { group: 'Time', name: 'Slower', run: () => set({ rate: Math.max(0.1, Number((get().rate / 2).toFixed(2))) }) },
  { group: 'Time', name: 'Faster', run: () => set({ rate: Math.min(2, get().rate * 2) }) },
  { group: 'Time', name: 'On twos', run: () => set({ onTwos: !get().onTwos }) },
  { group: 'Time', name: 'Nearer in time', keys: ['+', '='], run: () => zoomTime(0.7) },
  { group: 'Time', name: 'Farther in time', keys: ['-'], run: () => zoomTime(1 / 0.7) },
  {
    group: 'Time',
    name: 'The whole clip',
    keys: ['0'],
    run: () => {
      const now = shown();
      if (now) set({ view: wholeOf(now.duration, now.fps) });
    },
  },
  { group: 'Time', name: 'Later part of the clip', run: () => panTime(0.5) },
  { group: 'Time', name: 'Earlier part of the clip', run: () => panTime(-0.5) },
  { group: 'Time', name: 'Frames or seconds', run: () => set({ inSeconds: !get().inSeconds }) },

  { group: 'Keys', name: 'Put a key at the playhead', keys: ['k'], run: () => insertKey() },
  { group: 'Keys', name: 'Move the chosen a frame later', keys: ['Shift+ArrowRight'], run: () => moveSelection(1) },
  { group: 'Keys', name: 'Move the chosen a frame earlier', keys: ['Shift+ArrowLeft'], run: () => moveSelection(-1) },
  {
    group: 'Keys',
    name: 'Move the chosen and all later ones a frame later',
    keys: ['Shift+Alt+ArrowRight'],
    run: () => moveSelection(1, true),
  },
  {
    group: 'Keys',
    name: 'Move the chosen and all later ones a frame earlier',
    keys: ['Shift+Alt+ArrowLeft'],
    run: () => moveSelection(-1, true),
  },
  { group: 'Keys', name: 'Remove the chosen', keys: ['Delete', 'Backspace'], run: removeSelection },
  { group: 'Keys', name: 'Copy the chosen keys', keys: ['Ctrl+c'], run: copySelection },
  {
    group: 'Keys',
    name: 'Cut the chosen keys',
    keys: ['Ctrl+x'],
    run: () => void (copySelection() && removeSelection()),
  },
  { group: 'Keys', name: 'Paste at the playhead', keys: ['Ctrl+v'], run: pasteKeys },
  { group: 'Keys', name: 'Choose all keys', keys: ['Ctrl+a'], run: selectAll },
  { group: 'Keys', name: 'Choose nothing', run: () => selectKeys({}) },
  { group: 'Keys', name: 'Easing of the chosen keys', keys: ['e'], run: typeEasing },
  { group: 'Keys', name: 'Draw the chosen keys together by half', run: () => scaleSelection(0.5) },
  { group: 'Keys', name: 'Draw the chosen keys apart to twice the time', run: () => scaleSelection(2) },
  {
    group: 'Keys',
    name: 'Put the chosen keys on frames',
    run: () => void withSelection((keys) => ({ do: 'snap', ...keys })),
  },
  { group: 'Keys', name: 'The shape of the row is there from here on', run: () => switchRow(true) },
  { group: 'Keys', name: 'Put the shape of the row away from here on', run: () => switchRow(false) },
  { group: 'Keys', name: 'Let the chosen rows follow each other', run: askStagger },
  { group: 'Keys', name: 'Split the row into its channels', run: () => rowChannels('split') },
  { group: 'Keys', name: 'Join the channels of the row', run: () => rowChannels('join') },
  { group: 'Keys', name: 'Add a property of the game’s own', run: askProperty },
  { group: 'Keys', name: 'Add a cue at the playhead', keys: ['c'], run: askCue },
  { group: 'Keys', name: 'Add a span over what is chosen', run: addSpan },

  { group: 'Pose', name: 'Record, or stop recording', keys: ['r'], run: toggleRecording },
  { group: 'Pose', name: 'Key what is tried', run: keyTrial },
  { group: 'Pose', name: 'Drop what is tried', run: dropTrial },
  { group: 'Pose', name: 'Make what is tried the rest pose', run: restTrial },
  { group: 'Pose', name: 'The next role', keys: [']'], run: () => nextRole(1) },
  { group: 'Pose', name: 'The role before', keys: ['['], run: () => nextRole(-1) },

  { group: 'Clip', name: 'New clip', keys: ['Alt+n'], run: askNewClip },
  { group: 'Clip', name: 'Rename the clip', run: askClipName },
  { group: 'Clip', name: 'Copy the clip as a variant', run: () => copyClip(false) },
  { group: 'Clip', name: 'Copy the clip mirrored', run: () => copyClip(true) },
  { group: 'Clip', name: 'Play the clip once', run: () => loopAs(null) },
  { group: 'Clip', name: 'Loop the clip', run: () => loopAs('loop') },
  { group: 'Clip', name: 'Loop the clip there and back', run: () => loopAs('ping-pong') },
  { group: 'Clip', name: 'Draw the clip to another duration', run: () => askDuration('fit') },
  { group: 'Clip', name: 'Let the clip go on for longer', run: () => askDuration('extend') },
  { group: 'Clip', name: 'Keep only the chosen stretch of the clip', run: trimToRange },
  { group: 'Clip', name: 'Mirror the clip', run: () => clipOperation((clip) => ({ do: 'mirror', clip })) },
  { group: 'Clip', name: 'Reverse the clip', run: () => clipOperation((clip) => ({ do: 'reverse', clip })) },
  {
    group: 'Clip',
    name: 'Make the ends of the loop meet',
    run: () => clipOperation((clip) => ({ do: 'meet-ends', clip })),
  },
  {
    group: 'Clip',
    name: 'Remove the clip',
    run: () => clipOperation((name) => ({ do: 'remove', what: 'clip', name })),
  },
  { group: 'Clip', name: 'The next clip', keys: ['PageDown'], run: () => nextClip(1) },
  { group: 'Clip', name: 'The clip before', keys: ['PageUp'], run: () => nextClip(-1) },

  { group: 'View', name: 'Shapes on the stage', run: () => changeDisplay({ shapes: !get().display.shapes }) },
  {
    group: 'View',
    name: 'Way of the chosen role',
    keys: ['w'],
    run: () => changeDisplay({ path: !get().display.path }),
  },
  {
    group: 'View',
    name: 'Poses around the playhead',
    keys: ['p'],
    run: () => changeDisplay({ ghosts: get().display.ghosts > 0 ? 0 : 2 }),
  },
  {
    group: 'View',
    name: 'Compare with the reel before the last step',
    run: () => changeDisplay({ compare: get().display.compare ? undefined : { with: 'before' } }),
  },
  { group: 'View', name: 'Move the ground by hand', run: () => moveBackdrop('background') },
  { group: 'View', name: 'Move the model to go by by hand', run: () => moveBackdrop('reference') },
  { group: 'View', name: 'To the rows', keys: ['t'], run: () => focusOn('.key-mirror') },
  { group: 'View', name: 'To the stage', keys: ['s'], run: () => focusOn('.stage-canvas') },
  { group: 'View', name: 'To the value of the row', keys: ['v'], run: () => focusOn('.track-head.is-here .number') },

  { group: 'Work', name: 'Undo', keys: ['Ctrl+z'], run: () => go('undo') },
  { group: 'Work', name: 'Redo', keys: ['Ctrl+Shift+Z', 'Ctrl+y'], run: () => go('redo') },
  { group: 'Work', name: 'Save', keys: ['Ctrl+s'], run: save },
  { group: 'Work', name: 'Find a command', keys: ['Ctrl+k', '/'], run: () => set({ dialog: 'commands' }) },
  { group: 'Work', name: 'The keys of the keyboard', keys: ['?'], run: () => set({ dialog: 'keys' }) },
  ...FOCUS_AREAS.map((place): Command => ({
    group: 'Work',
    name: `Show ${place}`,
    run: () => set({ focusArea: place }),
  })),
];

/** All that can be done now: what is always there, and each clip, reel and row by its name. */
export function commands({ doc, served, reelName }: State): readonly Command[] {
  const clips = Object.keys(doc?.clips ?? {}).map((name): Command => ({
    group: 'Clip',
    name: `Clip ${name}`,
    run: () => showClip(name),
  }));
  const reels = served
    .filter(({ name }) => name !== reelName)
    .map(({ name }): Command => ({ group: 'Work', name: `Open ${name}`, run: () => openReel(name) }));
  return [...FIXED, ...clips, ...reels];
}

/** How a press of keys is written: `Ctrl+Shift+Z`. On a Mac the command key counts as Ctrl. */
export function keyOf(event: KeyboardEvent): string {
  const { key, ctrlKey, metaKey, shiftKey, altKey } = event;
  const named = key === ' ' ? 'Space' : key;
  // A printed character has its Shift in it; letters are told apart by Shift only beside Ctrl.
  const isPrinted = named.length === 1;
  const withShift = shiftKey && (!isPrinted || ctrlKey || metaKey || named === '<' || named === '>');
  const plain = !isPrinted ? named : withShift ? named.toUpperCase() : named.toLowerCase();
  return [ctrlKey || metaKey ? 'Ctrl' : '', withShift ? 'Shift' : '', altKey ? 'Alt' : '', plain]
    .filter(Boolean)
    .join('+');
}

const byKey = new Map(FIXED.flatMap((command) => (command.keys ?? []).map((key) => [key, command] as const)));

/** What takes letters: fields, and lists of the browser's, which go to what begins with them. */
const TYPED = 'input:not([type="checkbox"], [type="radio"], [type="color"], [type="range"]), textarea, select';
/** What Space and Enter do something to, where it was reached with Tab. */
const OWN_SPACE = 'button, [role="button"], a, input';

/**
 * Runs what a press means, unless something that takes text has the focus. Returns whether it meant anything.
 *
 * @param on what has the focus
 */
export function press(event: KeyboardEvent, on: EventTarget | null = event.target): boolean {
  const target = on instanceof HTMLElement ? on : undefined;
  const { dialog, trial, selectedKeys: chosen, selectedMark: mark } = get();
  if (dialog || target?.closest('[role="dialog"]')) return false;
  const isText = target?.matches(TYPED) ?? false;
  const isModified = event.ctrlKey || event.metaKey || event.altKey;
  if (isText && (!isModified || 'cvxa'.includes(event.key))) return false;
  // A button has its Space and Enter to itself.
  if ((event.key === ' ' || event.key === 'Enter') && target?.closest(OWN_SPACE)) return false;
  if (
    event.key.startsWith('Arrow') &&
    target?.closest('[role="tablist"], [role="listbox"]:not(.key-mirror), [role="slider"]')
  )
    return false;
  if (event.key === 'Escape') {
    if (Object.keys(trial).length > 0) dropTrial();
    else if (Object.keys(chosen).length > 0 || mark) selectKeys({});
    else return false;
    return true;
  }
  const command = byKey.get(keyOf(event));
  command?.run();
  return command !== undefined;
}

/** Goes to where something is typed. */
export function focusOn(selector: string): void {
  const element = document.querySelector<HTMLElement>(selector);
  element?.focus();
  // What is typed takes the place of what is there.
  if (element instanceof HTMLInputElement) element.select();
}

/** Goes to the easing of what is chosen. */
function typeEasing(): void {
  if (selectedCount(get().selectedKeys) === 0) needed();
  else focusOn('.ease-text');
}

function moveBackdrop(name: BackdropName): void {
  const { moving, [name]: backdrop } = get().display;
  if (backdrop) changeDisplay({ moving: moving === name ? undefined : name });
  else focusOn(`.stage-bar [data-backdrop="${name}"]`);
}
