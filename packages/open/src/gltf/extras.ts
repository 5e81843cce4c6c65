import { isActivity, isShape, KINDS, type ClipDocument, type FlatTrack, type Reel, type ReelDocument } from 'unspool';
import { arcsOf } from '../motion/arcs.js';
import { cubicsOf } from '../motion/cubics.js';
import { keysOf, type WrittenKey } from '../motion/keys.js';
import { UPS, type Up } from './axes.js';
import { counted, pointer, type Notes } from '../report.js';

/** What `toGltf` keeps of a reel in `extras.unspool` of the file. */
export interface ReelExtras {
  readonly version: 1;
  readonly up: Up;
  readonly scale: number;
  /** The reel without its clips. */
  readonly reel: Omit<ReelDocument, 'clips'>;
  /** Kinds of the properties that nodes have, by `role.property`. */
  readonly kinds: Readonly<Record<string, string>>;
  /** Clips of which nothing can be animated in glTF. */
  readonly clips: ReelDocument['clips'];
  /** The names of all clips, in the order of the reel. */
  readonly order: readonly string[];
}

/** What it keeps of a clip in `extras.unspool` of its animation. */
export interface ClipExtras {
  /** The clip without what the animation says. */
  readonly clip: ClipDocument;
  /** The angle of each rotation at time 0, by `role.property`: quaternions do not know whole turns. */
  readonly angles?: Readonly<Record<string, number>>;
}

export function reelExtras(
  reel: Reel,
  whole: readonly string[],
  { up, scale }: Pick<ReelExtras, 'up' | 'scale'>,
): ReelExtras {
  const { clips, $schema: _, ...document } = reel.document;
  const kinds = Object.fromEntries(
    reel.layout.slots
      .filter(({ property }) => ['position', 'rotation', 'scale'].includes(property))
      .map(({ name, kind }) => [name, kind]),
  );
  return {
    ...{ version: 1, up, scale, reel: document, kinds },
    clips: Object.fromEntries(whole.map((name) => [name, clips[name]!])),
    order: Object.keys(clips),
  };
}

/** @param kept what the clip does that glTF cannot animate */
export function clipExtras(reel: Reel, name: string, kept: readonly FlatTrack[], notes: Notes): ClipExtras {
  const clip = reel.clip(name);
  const { parts, tracks = {}, ...written } = reel.document.clips[name]!;
  const flat = parts ? { cues: clip.cues.map(({ data, ...cue }) => ({ ...cue, ...(data !== undefined && { data }) })) } : {}; // prettier-ignore
  if (parts) notes.kept(pointer('clips', name, 'parts'), `${counted(parts.length, 'part')} as what they animate`);
  const kinds = new Set(kept.map(({ role, property }) => `${role}.${property}`));
  const isKept = (track: string) =>
    [...kinds].some((property) => track === property || track.startsWith(`${property}.`));
  const own = Object.fromEntries(Object.entries(tracks).filter(([track]) => isKept(track)));
  const others = parts ? kept.flatMap((track) => fromPart(reel, name, track, own, notes)) : [];
  const angles = firstAngles(reel, name);
  return {
    clip: { ...written, duration: written.duration ?? clip.duration, ...flat, tracks: { ...own, ...Object.fromEntries(others) } } as ClipDocument, // prettier-ignore
    ...(Object.keys(angles).length > 0 && { angles }),
  };
}

/** A track that comes from parts, with keys of its own. */
function fromPart(
  reel: Reel,
  clip: string,
  track: FlatTrack,
  own: Readonly<Record<string, unknown>>,
  notes: Notes,
): [string, unknown][] {
  const { name, kind, property, role } = track;
  const at = pointer('clips', clip, 'tracks', name);
  const { duration } = reel.clip(clip);
  // What is written with a key of its own is whole already, unless parts go on where it ends.
  if (Object.hasOwn(own, name) || Object.hasOwn(own, `${role}.${property}`)) return [];
  if (isActivity(track)) return [];
  if (isShape(kind) || kind === 'color') {
    notes.dropped(at, `${name} comes from a part, and glTF has no ${kind === 'color' ? 'colors' : 'shapes'}`);
    return [];
  }
  const { texts } = reel.layout;
  const value = ([n = 0, ...rest]: readonly number[]) =>
    kind === 'flag' ? n !== 0 : kind === 'text' ? texts[n] : rest.length > 0 ? [n, ...rest] : n;
  const { pieces, error } = cubicsOf(arcsOf(track, duration), 1e-3);
  const keys: WrittenKey[] = keysOf(pieces, { value });
  if (KINDS[kind].held) for (const key of keys) delete key.ease;
  if (error > 0) notes.approximated(at, `${name} of a part`, error);
  const options = { kind, ...(track.space === 'offset' && { space: 'offset' }) };
  return [[name, { ...options, keys }]];
}

function firstAngles(reel: Reel, name: string): Record<string, number> {
  const clip = reel.clip(name);
  const pose = clip.sampleInside(0, clip.createPose());
  const turning = clip.layout.slots.filter((slot) => slot.kind === 'angle' && slot.property === 'rotation');
  return Object.fromEntries(turning.map((slot) => [slot.name, pose.values[slot.offset]!]));
}

type Members = Readonly<Record<string, unknown>>;
const isObject = (value: unknown): value is Members =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
const areObjects = (value: unknown) => isObject(value) && Object.values(value).every(isObject);

/** `extras.unspool` of a place; nothing when it is not there, or not what `toGltf` writes. */
function ours(extras: unknown, at: string, isValid: (unspool: Members) => boolean, notes: Notes): Members | undefined {
  const unspool = isObject(extras) ? extras['unspool'] : undefined;
  if (unspool === undefined) return undefined;
  if (isObject(unspool) && isValid(unspool)) return unspool;
  notes.dropped(`${at}/extras/unspool`, 'it is not what toGltf writes, and is not read');
  return undefined;
}

export function readReelExtras(extras: unknown, notes: Notes): ReelExtras | undefined {
  const isValid = ({ version, up, scale, reel, kinds, clips, order }: Members) =>
    version === 1 &&
    UPS.includes(up as Up) &&
    typeof scale === 'number' &&
    scale > 0 &&
    isObject(reel) &&
    (reel['fps'] === undefined || (typeof reel['fps'] === 'number' && reel['fps'] > 0)) &&
    (reel['roles'] === undefined || areObjects(reel['roles'])) &&
    isObject(kinds) &&
    areObjects(clips) &&
    Array.isArray(order);
  return ours(extras, '', isValid, notes) as ReelExtras | undefined;
}

export function readClipExtras(extras: unknown, at: string, notes: Notes): ClipExtras | undefined {
  const isValid = ({ clip, angles }: Members) => {
    const isSound =
      isObject(clip) && (clip['fps'] === undefined || (typeof clip['fps'] === 'number' && clip['fps'] > 0));
    const isAngle = (angle: unknown) => typeof angle === 'number';
    return isSound && (angles === undefined || (isObject(angles) && Object.values(angles).every(isAngle)));
  };
  return ours(extras, at, isValid, notes) as ClipExtras | undefined;
}
