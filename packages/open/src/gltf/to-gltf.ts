import { checkWriting, quoted } from '../given.js';
import type { Accessor } from '@gltf-transform/core';
import { Document, WebIO, type Animation, type Node } from '@gltf-transform/core';
import { flatTracks, KINDS, type FlatTrack, type Reel, type Slot } from 'unspool';
import { refuse } from '../errors.js';
import type { CubicPiece } from '../motion/cubics.js';
import { turnAboutZ, unit } from '../motion/quaternion.js';
import { counted, Notes, pointer, type Converted } from '../report.js';
import { Axes, UPS, type Up } from './axes.js';
import { byProperty, joined, motionOf, stillPiece, type PropertyMotion } from '../motion/channels.js';
import { AnimationPointer, pointChannel } from './pointer-extension.js';
import { clipExtras, reelExtras } from './extras.js';
import { extended, samplerOf, type SamplerData } from './sampler.js';

/** Options of `toGltf`. */
export interface ToGltfOptions {
  /** `'glb'` for one binary file (default), `'gltf'` for JSON that has its numbers in it. */
  readonly format?: 'glb' | 'gltf';
  /** Names of the clips to write. Default: all. */
  readonly clips?: readonly string[];
  /** Which way is up in the reel. Default: `'-y'`, the screen's, for a reel in two dimensions, else `'y'`. */
  readonly up?: Up;
  /** glTF units (meters) for one unit of the reel, greater than 0. Default: 1. */
  readonly scale?: number;
  /**
   * The largest error of a curve that is no cubic, in the units of the property (degrees for rotations), greater than 0.
   * Default: 0.001.
   */
  readonly tolerance?: number;
}

/** What of a property glTF can animate on a node. */
const PATHS: Readonly<Record<string, 'translation' | 'rotation' | 'scale'>> = {
  position: 'translation',
  rotation: 'rotation',
  scale: 'scale',
};
const WEIGHT = 'weights.';
/** The property that a camera's field of view is: degrees, upward. */
export const FIELD_OF_VIEW = 'fov';

interface Job {
  readonly reel: Reel;
  readonly file: Document;
  readonly axes: Axes;
  readonly tolerance: number;
  readonly notes: Notes;
  readonly nodes: ReadonlyMap<string, Node>;
  readonly weights: ReadonlyMap<string, readonly Slot[]>;
  readonly cameras: readonly string[];
}

/**
 * Writes a reel as glTF 2.0: roles as nodes with their rest values, clips as animations. Curves that are cubics of time
 * are written exactly, others by the fewest keys within a tolerance; what glTF does not have is kept in
 * `extras.unspool`, from where `fromGltf` takes it back.
 *
 * @throws UnspoolError for unknown clips and invalid options, and for a reel that was compiled ahead of time
 */
export async function toGltf(reel: Reel, options: ToGltfOptions = {}): Promise<Converted<Uint8Array<ArrayBuffer>>> {
  checkWriting(reel, options);
  const { format = 'glb', up = upOf(reel), scale = 1, tolerance = 1e-3 } = options;
  const clips = options.clips ?? Object.keys(reel.clips);
  if (!UPS.includes(up)) refuse('option', `up is ${quoted(up)}`, `use ${UPS.join(', ')}`);
  if (!(scale > 0 && scale < Infinity)) refuse('option', `scale is ${scale}`, 'use a number greater than 0');
  if (!(tolerance > 0)) refuse('option', `tolerance is ${tolerance}`, 'use a number greater than 0');
  if (format !== 'glb' && format !== 'gltf') refuse('option', `format is ${quoted(format)}`, 'use glb or gltf');
  clips.forEach((name) => reel.clip(name));
  const file = new Document();
  file.getRoot().getAsset().generator = '@unspool/open';
  const notes = new Notes();
  const job = scene({ reel, file, axes: new Axes(up, scale), tolerance, notes });
  const whole: string[] = [];
  for (const name of clips) if (!writeClip(job, name)) whole.push(name);
  file.getRoot().setExtras({ unspool: reelExtras(reel, whole, { up, scale }) });
  if (job.cameras.length > 0) file.createExtension(AnimationPointer);
  const io = new WebIO().registerExtensions([AnimationPointer]);
  if (format === 'glb') return notes.of(await io.writeBinary(file));
  const { json, resources } = await io.writeJSON(file);
  for (const buffer of json.buffers ?? []) {
    buffer.uri = `data:application/octet-stream;base64,${base64(resources[buffer.uri!]!)}`;
  }
  return notes.of(new TextEncoder().encode(`${JSON.stringify(json, undefined, 1)}\n`));
}

/** The screen's way for a reel that has nothing of three dimensions. */
function upOf(reel: Reel): Up {
  return reel.layout.slots.some(({ kind }) => kind === 'vec3' || kind === 'quat') ? 'y' : '-y';
}

function base64(bytes: Uint8Array): string {
  let text = '';
  for (let i = 0; i < bytes.length; i += 0x8000) text += String.fromCharCode(...bytes.subarray(i, i + 0x8000));
  return btoa(text);
}

/** The roles as nodes. */
function scene(job: Omit<Job, 'nodes' | 'weights' | 'cameras'>): Job {
  const { reel, file, axes, notes } = job;
  const root = file.createScene(reel.name || 'reel');
  const nodes = new Map<string, Node>(reel.roles.map((role) => [role, file.createNode(role)]));
  const weights = new Map<string, readonly Slot[]>();
  const cameras: string[] = [];
  for (const role of reel.roles) {
    const node = nodes.get(role)!;
    const { parent } = reel.document.roles?.[role] ?? {};
    const above = parent === undefined ? undefined : nodes.get(parent);
    if (above) above.addChild(node);
    else root.addChild(node);
    const slots = reel.layout.slots.filter((slot) => slot.role === role);
    for (const { property, kind, rest } of slots) {
      if (property === 'position') node.setTranslation(axes.point(rest) as [number, number, number]);
      if (property === 'scale') node.setScale(axes.size(rest) as [number, number, number]);
      if (property === 'rotation') {
        node.setRotation(unit(axes.turn(kind === 'angle' ? turnAboutZ(rest[0]!) : rest)) as [number, number, number, number]); // prettier-ignore
      }
      if (property === FIELD_OF_VIEW && kind === 'number') {
        node.setCamera(
          file
            .createCamera(role)
            .setType('perspective')
            .setYFov(radians(rest[0]!) || 1),
        );
        cameras.push(role);
      }
    }
    const morphs = slots.filter(({ property, kind }) => property.startsWith(WEIGHT) && kind === 'number');
    if (morphs.length === 0) continue;
    weights.set(role, morphs);
    node.setMesh(morphMesh(file, role, morphs));
    notes.kept(
      pointer('roles', role),
      `${counted(morphs.length, 'morph target')} of a mesh of one point, for weights.*`,
    );
  }
  return { ...job, nodes, weights, cameras };
}

const radians = (degrees: number) => (degrees * Math.PI) / 180;

/** The smallest mesh that has morph targets: weights have to be of one. */
function morphMesh(file: Document, role: string, morphs: readonly Slot[]) {
  const buffer = bufferOf(file);
  const point = () => file.createAccessor().setType('VEC3').setArray(new Float32Array(3)).setBuffer(buffer);
  const primitive = file.createPrimitive().setMode(0).setAttribute('POSITION', point());
  const names = morphs.map(({ property }) => property.slice(WEIGHT.length));
  for (const name of names) primitive.addTarget(file.createPrimitiveTarget(name).setAttribute('POSITION', point()));
  return file
    .createMesh(role)
    .addPrimitive(primitive)
    .setWeights(morphs.map(({ rest }) => rest[0]!))
    .setExtras({ targetNames: names });
}

function bufferOf(file: Document) {
  return file.getRoot().listBuffers()[0] ?? file.createBuffer();
}

/** One thing that an animation moves. */
interface Move {
  readonly role: string;
  readonly path: 'translation' | 'rotation' | 'scale' | 'weights' | 'fov';
  readonly pieces: readonly CubicPiece[];
}

/** @returns whether there is anything that glTF can animate */
function writeClip(job: Job, name: string): boolean {
  const { reel, file, notes, weights, cameras } = job;
  const clip = reel.clip(name);
  const properties = byProperty(reel, flatTracks(reel, name));
  const kept: (readonly FlatTrack[])[] = [];
  const moves: Move[] = [];
  const morphs = new Map<string, Map<string, PropertyMotion>>();
  for (const [property, tracks] of properties) {
    const slot = reel.layout.slot(property);
    const { role, kind, rest } = slot;
    const isFactor = slot.property === 'scale' || slot.property === 'opacity';
    const place = { kind, rest, isFactor, duration: clip.duration, tolerance: job.tolerance };
    const path = Object.hasOwn(PATHS, slot.property) ? PATHS[slot.property] : undefined;
    const isMorph = weights.get(role)?.includes(slot) ?? false;
    const isView = slot.property === FIELD_OF_VIEW && cameras.includes(role);
    if (!path && !isMorph && !isView) {
      kept.push(tracks);
      for (const track of tracks) keepTrack(job, name, track);
      continue;
    }
    const motion = motionOf(tracks, place);
    tell(notes, name, motion, kind);
    if (isMorph) {
      const own = morphs.get(role) ?? new Map<string, PropertyMotion>();
      morphs.set(role, own.set(slot.name, motion));
    } else moves.push({ role, path: path ?? 'fov', pieces: motion.pieces });
  }
  for (const [role, own] of morphs) {
    const channels = weights.get(role)!.map((slot) => own.get(slot.name)?.pieces ?? [stillPiece(slot.rest[0]!, clip.duration)]); // prettier-ignore
    moves.push({ role, path: 'weights', pieces: joined(channels) });
  }
  if (moves.length === 0) {
    notes.kept(pointer('clips', name), 'it has nothing that glTF animates, and is kept whole in extras');
    return false;
  }
  const animation = file.createAnimation(name);
  animation.setExtras({ unspool: clipExtras(reel, name, kept.flat(), notes) });
  if (clip.cues.length > 0) notes.kept(pointer('clips', name, 'cues'), `${counted(clip.cues.length, 'cue')} in extras`);
  const samplers = moves.map((move) => samplerOf(turned(move, job.axes)));
  // A viewer repeats an animation when its last key is over.
  const end = Math.fround(clip.duration);
  const isWhole = samplers.some(({ input }) => input.at(-1)! >= end);
  samplers.forEach((data, i) => addChannel(job, animation, moves[i]!, isWhole || i > 0 ? data : extended(data, end)));
  return true;
}

function keepTrack({ notes }: Job, clip: string, { name, kind }: FlatTrack): void {
  const why = KINDS[kind].held ? 'glTF has numbers only' : 'no node has it';
  notes.kept(pointer('clips', clip, 'tracks', name), `${name} in extras: ${why}`);
}

function tell(notes: Notes, clip: string, { tracks, error, isFromRest }: PropertyMotion, kind: string): void {
  const unit = kind === 'angle' || kind === 'quat' ? 'degrees' : 'units';
  for (const track of tracks) {
    const at = pointer('clips', clip, 'tracks', track.name);
    if (track.gain) notes.startsAnew(at, track.name);
    if (error > 0) notes.approximated(at, `${track.name} by cubics of time`, error, unit);
    else if (!isFromRest) notes.kept(at, track.name);
    if (isFromRest)
      notes.approximated(at, `${track.name} is an offset; it is written as it is added to the rest value`);
  }
}

/** The pieces in the axes of glTF. */
function turned({ path, pieces }: Move, axes: Axes): CubicPiece[] {
  const change = (vector: readonly number[]): readonly number[] => {
    if (path === 'translation') return axes.point(vector);
    if (path === 'rotation') return axes.turn(vector);
    if (path === 'scale') return axes.size(vector);
    return path === 'fov' ? vector.map(radians) : vector;
  };
  return pieces.map((piece) => {
    const columns = ([0, 1, 2, 3] as const).map((i) => change(piece.values.map((channel) => channel[i])));
    const values = columns[0]!.map((_, k) => [columns[0]![k]!, columns[1]![k]!, columns[2]![k]!, columns[3]![k]!] as const); // prettier-ignore
    return { ...piece, values };
  });
}

const TYPES = { translation: 'VEC3', rotation: 'VEC4', scale: 'VEC3', weights: 'SCALAR', fov: 'SCALAR' } as const;

function addChannel(
  { file, nodes, cameras }: Job,
  animation: Animation,
  { role, path }: Move,
  data: SamplerData,
): void {
  const accessor = (type: Parameters<Accessor['setType']>[0], array: Float32Array<ArrayBuffer>) =>
    file.createAccessor().setType(type).setArray(array).setBuffer(bufferOf(file));
  const sampler = file
    .createAnimationSampler()
    .setInterpolation(data.interpolation)
    .setInput(accessor('SCALAR', data.input as Float32Array<ArrayBuffer>))
    .setOutput(accessor(TYPES[path], data.output as Float32Array<ArrayBuffer>));
  const channel = file.createAnimationChannel().setSampler(sampler);
  if (path === 'fov') pointChannel(channel, `/cameras/${cameras.indexOf(role)}/perspective/yfov`);
  else channel.setTargetNode(nodes.get(role)!).setTargetPath(path);
  animation.addSampler(sampler).addChannel(channel);
}
