import type { FileState, LivePlayer, Served, Steps } from '@unspool/cli/protocol';
import { trustReel, type Clip, type Reel, type ReelDocument } from 'unspool';
import type { Advice } from 'unspool/edit';
import type { LiveMoment, LiveSample } from 'unspool/live';
import { create } from 'zustand';
import type { Pictures } from '../link/pictures.js';
import type { Sounds } from '../link/sounds.js';
import { FAR, wholeOf, type View } from './axis.js';
import { valuesAt, valuesWith, type Values } from './pose.js';

/** Selected keys: their times in seconds by track, in order. */
export type SelectedKeys = Readonly<Record<string, readonly number[]>>;

/** The selected cue, span or part; a part has the name of the clip that it plays. */
export type SelectedMark =
  | { readonly what: 'cue' | 'part'; readonly name: string; readonly at: number }
  | { readonly what: 'span'; readonly name: string };

export type Range = readonly [from: number, until: number];

export const RIPPLES = ['clip', 'role', 'track'] as const;
export type Ripple = (typeof RIPPLES)[number];

export const FOCUS_AREAS = ['clips', 'roles', 'sheets', 'routines', 'try-out', 'game', 'advice', 'history'] as const;
export type FocusArea = (typeof FOCUS_AREAS)[number];

export interface State {
  // What there is
  readonly served: readonly Served[];
  readonly reelName: string | undefined;
  readonly pictures: Pictures | undefined;
  readonly sounds: Sounds | undefined;
  readonly connected: boolean;
  /** How much was asked of the server that it has not answered. */
  readonly unanswered: number;
  readonly doc: ReelDocument | undefined;
  readonly reel: Reel | undefined;
  /** What there is without a preview that is compared with it. */
  readonly previewOf: Reel | undefined;
  /** Before the last step, to compare with. */
  readonly before: ReelDocument | undefined;
  readonly steps: Steps;
  /** What `check` says of the document. */
  readonly advice: readonly Advice[];
  /** The same by clip, and by clip and track. */
  readonly adviceAt: Readonly<Record<string, readonly Advice[]>>;
  readonly file: FileState;

  // What is open
  readonly clip: string | undefined;
  /** The playhead, in seconds. */
  readonly time: number;
  readonly playing: boolean;
  readonly rate: number;
  /** A new pose only every other frame. */
  readonly onTwos: boolean;
  /** The range that is played and edited, in seconds; `undefined` for the whole clip. */
  readonly range: Range | undefined;
  /** What moves along with a ripple that is later: everything, or keys of the same roles or tracks. */
  readonly ripple: Ripple;
  /** The part of time that is seen. */
  readonly view: View;
  readonly inSeconds: boolean;
  readonly focusArea: FocusArea;

  // The selection
  readonly role: string | undefined;
  /** The row that the keyboard is in: a track's name. */
  readonly row: string | undefined;
  /** Tracks whose curves are drawn. */
  readonly curves: readonly string[];
  /** Roles of which all properties are listed, not only the animated ones. */
  readonly openRoles: ReadonlySet<string>;
  /** Roles whose tracks are hidden behind their summary. */
  readonly foldedRoles: ReadonlySet<string>;
  readonly selectedKeys: SelectedKeys;
  readonly selectedMark: SelectedMark | undefined;

  // What is being done
  readonly recording: boolean;
  /** Values that were changed by hand and are not keyed yet. */
  readonly trial: Values;
  /** Names of values that were dropped without being keyed; another list each time. */
  readonly discarded: readonly string[];
  /** What is shown: the pose at the playhead, and over it what is tried. */
  readonly values: Values;
  /** The running games, and the player of one that is watched. */
  readonly live: LiveState;
  readonly status: { readonly message: string; readonly isFault: boolean };
  /** The first steps: shown or dismissed; `undefined` until one of both was asked for. */
  readonly guide: boolean | undefined;
  readonly dialog: 'commands' | 'keys' | 'outside' | Question | undefined;

  /** How the page is divided, in percent: the width of the left half, the height of the stage and of the tracks. */
  readonly shares: typeof SHARES;

  // How the stage shows it
  readonly display: DisplayOptions;
}

/** The running games that are linked to the workbench. */
export interface LiveState {
  readonly players: readonly LivePlayer[];
  /** The key of the player that is watched, and what it shows. */
  readonly watched: string | undefined;
  readonly moment: LiveMoment | undefined;
  /** Whether the playhead is the game's; else it leads. */
  readonly follows: boolean;
  /** Whether the clip that plays in the game is opened here. */
  readonly opensClips: boolean;
  /** Why the game could not do what it was asked for. */
  readonly problem: string | undefined;
  /** A motion that was recorded and is not a clip yet. */
  readonly recorded: readonly LiveSample[] | undefined;
  /** Whether the player goes on where it was when its game is loaded again. */
  readonly keepsPlace: boolean;
}

/** Something that is asked before it is done. */
export interface Question {
  readonly title: string;
  /** What the button says that does it. */
  readonly action: string;
  /** What is typed, or one of some options. */
  readonly fields: readonly { readonly label: string; readonly value: string; readonly options?: readonly string[] }[];
  /** What is to be read below the fields. */
  readonly lines?: readonly string[];
  /** Does it, with what was typed in the order of the fields. Returns false when it was refused: then it is asked again. */
  readonly run: (...typed: string[]) => boolean;
}

export interface DisplayOptions {
  readonly shapes: boolean;
  readonly path: boolean;
  /** How many frames before and after are shown as ghost poses; 0 for none. */
  readonly ghosts: number;
  /** How many frames lie between one ghost pose and the next; 0 for the times of keys. */
  readonly ghostStep: number;
  readonly snap: SnapOptions;
  /** Pictures are drawn with sharp pixels. */
  readonly pixelArt: boolean;
  /** What the game's camera sees, about the origin of the world; and in it what surely is seen. */
  readonly cameraFrame: readonly [width: number, height: number] | undefined;
  /** Roles that are not shown; that cannot be taken hold of on the stage; the only one that is shown. */
  readonly hidden: readonly string[];
  readonly locked: readonly string[];
  readonly solo: string | undefined;
  readonly background: Backdrop | undefined;
  readonly reference: Backdrop | undefined;
  /** Which of the two pictures the stage moves instead of the cast. */
  readonly moving: BackdropName | undefined;
  /** What is shown for comparison: the reel before the last step, or another clip at the same time. */
  readonly compare: { readonly with: 'before' } | { readonly with: 'clip'; readonly clip: string } | undefined;
  readonly beside: boolean;
}

/** What a drag on the stage snaps to. */
export interface SnapOptions {
  /** World units from one line of the grid to the next; 0 for no grid. */
  readonly grid: number;
  /** The edges and centers of other roles. */
  readonly roles: boolean;
  /** Whole pixels: positions without decimals. */
  readonly pixels: boolean;
}

/** A picture behind the cast, in the world's units. */
export interface Backdrop {
  readonly image: string;
  /** Where its middle lies. */
  readonly at: readonly [x: number, y: number];
  readonly scale: number;
  /** How much of it is seen, 0–1. */
  readonly opacity: number;
}

export type BackdropName = 'background' | 'reference';

export const DEFAULT_DISPLAY: DisplayOptions = {
  shapes: true,
  path: false,
  ghosts: 0,
  ghostStep: 3,
  snap: { grid: 0, roles: false, pixels: false },
  pixelArt: false,
  cameraFrame: undefined,
  hidden: [],
  locked: [],
  solo: undefined,
  background: undefined,
  reference: undefined,
  moving: undefined,
  compare: undefined,
  beside: true,
};

/** How the page is divided at first. */
export const SHARES: { readonly left: number; readonly stage: number; readonly rows: number } = {
  left: 40,
  stage: 55,
  rows: 58,
};

export const useStore = create<State>(() => ({
  served: [],
  reelName: undefined,
  pictures: undefined,
  sounds: undefined,
  connected: false,
  unanswered: 0,
  doc: undefined,
  reel: undefined,
  previewOf: undefined,
  before: undefined,
  steps: { done: [], undone: [], doneCount: 0, undoneCount: 0 },
  advice: [],
  adviceAt: {},
  file: { saved: true },

  clip: undefined,
  time: 0,
  playing: false,
  rate: 1,
  onTwos: false,
  range: undefined,
  ripple: 'clip',
  view: { from: 0, until: 1 },
  inSeconds: false,
  focusArea: 'clips',

  role: undefined,
  row: undefined,
  curves: [],
  openRoles: new Set(),
  foldedRoles: new Set(),
  selectedKeys: {},
  selectedMark: undefined,

  recording: false,
  trial: {},
  discarded: [],
  values: {},
  live: {
    players: [],
    watched: undefined,
    moment: undefined,
    follows: true,
    opensClips: true,
    problem: undefined,
    recorded: undefined,
    keepsPlace: false,
  },
  status: { message: '', isFault: false },
  guide: undefined,
  dialog: undefined,

  display: DEFAULT_DISPLAY,
  shares: SHARES,
}));

export const get = useStore.getState;
export const set = useStore.setState;

export function setStatus(message: string, isFault = false): void {
  set({ status: { message, isFault } });
}

export function changeShares(change: Partial<State['shares']>): void {
  set({ shares: { ...get().shares, ...change } });
}

/** Shows other things on the stage. */
export function changeDisplay(change: Partial<DisplayOptions>): void {
  set({ display: { ...get().display, ...change } });
}

/** Changes a picture behind the cast that is shown. */
export function changeBackdrop(name: BackdropName, change: Partial<Backdrop>): void {
  const was = get().display[name];
  if (was) changeDisplay({ [name]: { ...was, ...change } });
}

/** The share of time that compiling may take during a drag, and the duration (ms) from which that matters. */
const SHARE = 0.2;
const NOTICED = 4;

let compileTime = 0;
let later: ReturnType<typeof setTimeout> | undefined;

/**
 * Shows a document. A removed clip is closed. During a drag (`inHand`) a clip of many thousand keys follows as fast as
 * it can be compiled: its rows at once, its pose and curves slightly later.
 */
export function showDocument(doc: ReelDocument, inHand = false): void {
  clearTimeout(later);
  const { doc: was, reel } = get();
  if (doc === was && reel?.document === doc) return;
  if (!inHand || !reel || compileTime < NOTICED) compile(doc);
  else {
    set({ doc });
    later = setTimeout(() => compile(doc), compileTime * (1 / SHARE - 1));
  }
}

function compile(doc: ReelDocument): void {
  const start = performance.now();
  const { clip, time } = get();
  const reel = trustReel(doc) as Reel;
  const names = Object.keys(doc.clips);
  const shown = clip !== undefined && names.includes(clip) ? clip : names[0];
  const duration = shown === undefined ? 0 : reel.clip(shown).duration;
  compileTime = performance.now() - start;
  if (shown === undefined) set({ doc, reel, clip: undefined, time: 0 });
  else if (shown === clip) set({ doc, reel, time: Math.min(time, duration * FAR) });
  else set({ doc, reel, ...fromStart(reel, shown) });
}

/** What is tried is of one moment of one clip: elsewhere it is dropped, and said. */
export function leaveTrial(): void {
  const { trial, recording } = get();
  if (Object.keys(trial).length === 0) return;
  set({ trial: {}, discarded: Object.keys(trial) });
  const how = recording ? '' : ' To keep it, press K first, or record (R).';
  setStatus(
    `The unkeyed value of ${Object.keys(trial).join(', ')} was discarded, because the playhead moved.${how}`,
    true,
  );
}

/** Looks at a clip from its start, all of it. */
export function showClip(name: string): void {
  leaveTrial();
  set(fromStart(get().reel!, name));
}

function fromStart(reel: Reel, name: string): Partial<State> {
  const { duration, fps } = reel.clip(name);
  // Its first curve is shown, so that there is one.
  const [first] = Object.keys(reel.document.clips[name]!.tracks ?? {});
  const curves = first === undefined ? [] : [first];
  const nothing: Partial<State> = {
    selectedKeys: {},
    selectedMark: undefined,
    trial: {},
    curves,
    row: undefined,
    range: undefined,
  };
  return { ...nothing, clip: name, time: 0, view: wholeOf(duration, fps) };
}

/** The current clip, compiled. */
export function shownClip({ reel, clip }: Pick<State, 'reel' | 'clip'>): Clip | undefined {
  return reel && clip !== undefined ? reel.clip(clip) : undefined;
}

/** When the pose is of: on twos, that of the last even frame. */
export function poseTime({ time, onTwos }: Pick<State, 'time' | 'onTwos'>, fps: number): number {
  return onTwos ? (Math.floor((time * fps) / 2 + 1e-6) * 2) / fps : time;
}

/** What the shown values follow from, besides a running game. */
const POSED = ['reel', 'clip', 'time', 'trial', 'onTwos'] as const;

useStore.subscribe((state, was) => {
  const { reel, trial } = state;
  const isSame = POSED.every((name) => state[name] === was[name]) && state.live.moment === was.live.moment;
  if (!reel || isSame) return;
  const shown = shownClip(state);
  const own = valuesAt(reel, shown, shown ? poseTime(state, shown.fps) : 0);
  const { moment, follows } = state.live;
  // Of a player that stands still, what this clip animates is the clip's: it is being edited.
  const mine = moment && !(follows && !moment.paused) ? shown : undefined;
  set({ values: { ...(moment?.values ? valuesWith(reel, own, moment.values, mine) : own), ...trial } });
});

/** The names of the clips; a list of its own only when they are others. */
export function useClipNames(): readonly string[] {
  const names = useStore((state) => Object.keys(state.doc?.clips ?? {}).join('\n'));
  return names === '' ? [] : names.split('\n');
}
