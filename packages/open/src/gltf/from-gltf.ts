import { checkBytes, checkReading, quoted } from '../given.js';
import type { ClipDocument, ReelDocument, RoleDocument, TrackDocument } from 'unspool';
import { Names } from '../names.js';
import { cubicsOf } from '../motion/cubics.js';
import { keysOf, type WrittenKey } from '../motion/keys.js';
import { angleAboutZ } from '../motion/quaternion.js';
import { reduced } from '../reduce.js';
import { counted, Notes, type Converted } from '../report.js';
import { Accessors } from './accessors.js';
import { Axes, UPS, type Up } from './axes.js';
import { readParts } from './container.js';
import { readClipExtras, readReelExtras, type ClipExtras, type ReelExtras } from './extras.js';
import { angleArcs, changed, exactKeys, readSampler, type Sampled } from './motion.js';
import { shortKeys, shortTime } from './shorten.js';
import { readNodes, type GltfNode } from './nodes.js';
import { Place } from './places.js';
import { refuse } from '../errors.js';

/** Options of `fromGltf`. */
export interface FromGltfOptions {
  /**
   * Returns the bytes of a file beside this one, by its `uri`, a path without `..` that lies in its folder or below.
   * Without it, files with buffers beside them are refused.
   */
  readonly resource?: (uri: string) => Uint8Array | undefined;
  /** Which way is up in the reel. Default: what `toGltf` wrote, else `'y'`, or with `flat` `'-y'`. */
  readonly up?: Up;
  /** glTF units for one unit of the reel. Default: what `toGltf` wrote, else 1. */
  readonly scale?: number;
  /** Makes positions, scales and rotations two-dimensional: x and y, and the turn about z as an angle. */
  readonly flat?: boolean;
  /**
   * Frames per second, greater than 0: times on a frame are written in frames, and numbers with the fewest digits that
   * are the same in 32 bits. Default: that of the reel that `toGltf` wrote, else all digits and seconds.
   */
  readonly fps?: number;
  /** Keeps fewer keys: what is shown changes by at most this, in the units of each property. Default: all keys. */
  readonly reduce?: number;
  /** `false`: does not look at what `toGltf` kept in `extras`. Default: true. */
  readonly extras?: boolean;
}

interface Job {
  readonly nodes: readonly GltfNode[];
  readonly notes: Notes;
  readonly axes: Axes;
  readonly flat: boolean;
  readonly extras: ReelExtras | undefined;
  readonly fps: number | undefined;
  readonly roles: ReadonlyMap<GltfNode, string>;
  /** Valid names of the morph targets of each node. */
  readonly morphs: ReadonlyMap<GltfNode, readonly string[]>;
}

/**
 * Reads the animations of a glTF 2.0 file as a reel: nodes become roles, animations clips, and every interpolation what it
 * is, exactly. What a reel cannot say is a note of the report.
 *
 * @param bytes a `.glb`, or the JSON of a `.gltf` in UTF-8
 * @throws ConversionError for a file that is not what it says, before anything is returned
 */
export function fromGltf(bytes: Uint8Array, options: FromGltfOptions = {}): Converted<ReelDocument> {
  checkReading(options);
  checkBytes(bytes);
  const parts = readParts(bytes);
  const file = new Place(parts.json);
  const notes = new Notes();
  const extras = options.extras === false ? undefined : readReelExtras(parts.json['extras'], notes);
  const flat = options.flat ?? false;
  const up = options.up ?? extras?.up ?? (flat ? '-y' : 'y');
  const scale = options.scale ?? extras?.scale ?? 1;
  if (!UPS.includes(up)) refuse('option', `up is ${quoted(up)}`, `use ${UPS.join(', ')}`);
  if (!(scale > 0 && scale < Infinity)) refuse('option', `scale is ${scale}`, 'use a number greater than 0');
  if (options.reduce !== undefined && !(options.reduce > 0))
    refuse('option', `reduce is ${options.reduce}`, 'use a number greater than 0');
  const fps = options.fps ?? (extras && (extras.reel.fps ?? 60));
  if (fps !== undefined && !(fps > 0 && fps < Infinity))
    refuse('option', `fps is ${fps}`, 'use a number greater than 0');
  const nodes = readNodes(file);
  const animations = file.at('animations').list();
  const axes = new Axes(up, scale);
  const { roles, morphs } = nameRoles(file, nodes, animations, extras, notes);
  const job: Job = { nodes, notes, axes, flat, extras, fps, roles, morphs };
  const accessors = new Accessors(parts, options.resource ?? (() => undefined));
  const clips: Record<string, ClipDocument> = {};
  const names = new Names('clip', notes);
  for (const animation of animations) {
    const name = names.of(animation.at('name').text(), `clip${animation.path.at(-1)! as number + 1}`); // prettier-ignore
    clips[name] = readAnimation(job, animation, accessors);
  }
  for (const [name, clip] of Object.entries(extras?.clips ?? {})) clips[names.of(name, 'clip')] = clip;
  reportRest(file, notes);
  const order = new Map(extras?.order.map((name, i) => [name, i]));
  const place = (name: string) => order.get(name) ?? order.size;
  const inOrder = Object.entries(clips).sort(([a], [b]) => place(a) - place(b));
  const reel = {
    unspool: 1,
    ...(fps !== undefined && fps !== 60 && { fps }),
    ...extras?.reel,
    roles: rolesOf(job),
    clips: Object.fromEntries(inOrder),
  } as ReelDocument;
  return notes.of(options.reduce === undefined ? reel : reduced(reel, options.reduce, notes));
}

/** Nodes that are animated, those above them, cameras, and all that `toGltf` wrote. */
function nameRoles(
  file: Place,
  nodes: readonly GltfNode[],
  animations: readonly Place[],
  extras: ReelExtras | undefined,
  notes: Notes,
): Pick<Job, 'roles' | 'morphs'> {
  const wanted = new Set<GltfNode>();
  for (const animation of animations) {
    for (const channel of animation.at('channels').list()) {
      const target = channel.at('target').at('node');
      const node = target.isThere ? nodes[target.index(nodes.length)] : undefined;
      for (let one = node; one && !wanted.has(one); one = one.parent) wanted.add(one);
    }
  }
  const known = new Set(Object.keys(extras?.reel.roles ?? {}));
  for (const node of nodes) {
    if (!node.camera && !known.has(node.name ?? '')) continue;
    for (let one: GltfNode | undefined = node; one && !wanted.has(one); one = one.parent) wanted.add(one);
  }
  const names = new Names('role', notes);
  const roles = new Map<GltfNode, string>();
  const morphs = new Map<GltfNode, readonly string[]>();
  for (const node of nodes) {
    if (!wanted.has(node)) continue;
    roles.set(node, names.of(node.name, `node${node.index}`));
    const properties = new Names('property', notes);
    if (node.morphs.length > 0)
      morphs.set(
        node,
        node.morphs.map(({ name }, k) => properties.of(name, `target${k + 1}`)),
      );
  }
  const others = nodes.length - wanted.size;
  if (others > 0) notes.dropped('/nodes', `${counted(others, 'node')} that nothing animates`);
  if (file.at('skins').list().length > 0)
    notes.dropped('/skins', 'skins: their joints are roles as all nodes are, meshes are not read');
  return { roles, morphs };
}

const isPlain = (numbers: readonly number[] | undefined, plain: readonly number[]) =>
  !numbers || numbers.every((n, k) => n === plain[k]);

function rolesOf({ roles, axes, flat, extras, morphs }: Job): Record<string, RoleDocument> {
  const written: Record<string, RoleDocument> = {};
  for (const [node, name] of roles) {
    const known = extras?.reel.roles?.[name];
    const rest: Record<string, unknown> = { ...known?.rest };
    const kind = (property: string, plain: string) => extras?.kinds[`${name}.${property}`] ?? plain;
    const set = (
      property: string,
      numbers: readonly number[] | undefined,
      plain: readonly number[],
      value: () => unknown,
    ) => {
      if (isPlain(numbers, plain) && rest[property] === undefined) return;
      const next = value();
      // As it was written, where the file says the same in 32 bits.
      if (!isNear(rest[property], next)) rest[property] = next;
    };
    const { translation, rotation, scale } = node;
    set('position', translation, [0, 0, 0], () => vector(axes.pointBack(translation ?? [0, 0, 0]), flat || kind('position', 'vec3') === 'vec2')); // prettier-ignore
    set('rotation', rotation, [0, 0, 0, 1], () => {
      const turn = axes.turnBack(rotation ?? [0, 0, 0, 1]);
      if (!flat && kind('rotation', 'quat') === 'quat') return turn;
      const { degrees } = angleAboutZ(turn);
      const known = typeof rest['rotation'] === 'number' ? rest['rotation'] : 0;
      return degrees + 360 * Math.round((known - degrees) / 360);
    });
    set('scale', scale, [1, 1, 1], () => vector(axes.sizeBack(scale ?? [1, 1, 1]), flat || kind('scale', 'vec3') === 'vec2')); // prettier-ignore
    if (node.camera && !isNear(rest['fov'], degreesOf(node.camera.yfov))) rest['fov'] = degreesOf(node.camera.yfov);
    morphs.get(node)?.forEach((morph, k) => {
      const { rest: weight } = node.morphs[k]!;
      const property = `weights.${morph}`;
      if (weight !== 0 && !isNear(rest[property], weight)) rest[property] = weight;
    });
    const parent = node.parent && roles.get(node.parent);
    const { parent: _, rest: __, ...others } = known ?? {};
    written[name] = { ...(parent !== undefined && { parent }), ...others, ...(Object.keys(rest).length > 0 && { rest }) }; // prettier-ignore
  }
  return written;
}

const vector = (numbers: readonly number[], isFlat: boolean) => (isFlat ? numbers.slice(0, 2) : numbers);
const degreesOf = (radians: number) => (radians * 180) / Math.PI;

function isNear(known: unknown, read: unknown): boolean {
  const [a, b] = [[known].flat(), [read].flat()];
  return a.length === b.length && a.every((n, k) => typeof n === 'number' && Math.abs(n - (b[k] as number)) <= 2e-6 * Math.max(1, Math.abs(n))); // prettier-ignore
}

/** One animation as a clip. */
function readAnimation(job: Job, animation: Place, accessors: Accessors): ClipDocument {
  const { notes, nodes } = job;
  const extras = job.extras && readClipExtras(animation.at('extras').value, animation.pointer, notes);
  const samplers = animation.at('samplers').list();
  const tracks: Record<string, TrackDocument> = {};
  let end = 0;
  for (const channel of animation.at('channels').list()) {
    const target = channel.at('target');
    const sampler = samplers[channel.at('sampler').index(samplers.length)]!;
    const path = target.at('path').text() ?? '';
    const node = target.at('node').isThere ? nodes[target.at('node').index(nodes.length)] : undefined;
    const found = path === 'pointer' ? viewOf(job, target) : node && { node, path };
    if (!found) {
      const what = path === 'pointer' ? String(pointerIn(target).value) : `a target without a node`;
      notes.dropped(channel.pointer, `it animates ${what}, which is not a property of a role`);
      continue;
    }
    const width = { translation: 3, rotation: 4, scale: 3, weights: found.node.morphs.length, fov: 1 }[found.path];
    if (width === undefined || width === 0) {
      notes.dropped(channel.pointer, width === 0 ? 'its node has no morph targets' : `unknown path "${path}"`);
      continue;
    }
    const sampled = readSampler(sampler, accessors, width, found.path === 'weights' || found.path === 'fov');
    end = Math.max(end, sampled.times.at(-1)!);
    addTracks(job, tracks, channel, found.node, found.path, sampled, extras);
  }
  const { tracks: kept, ...clip } = extras?.clip ?? {};
  const fps = clip.fps ?? job.fps;
  const duration = fps === undefined ? end : shortTime(end, fps);
  return { duration, ...clip, tracks: { ...tracks, ...kept } };
}

const pointerIn = (target: Place) => target.at('extensions').at('KHR_animation_pointer').at('pointer');

/** The node whose camera's field of view a pointer is, or a node's own property. */
function viewOf({ nodes, roles }: Job, target: Place): { node: GltfNode; path: string } | undefined {
  if (!target.at('extensions').isThere || !target.at('extensions').at('KHR_animation_pointer').isThere)
    return undefined;
  const text = pointerIn(target).text() ?? '';
  const camera = /^\/cameras\/(\d+)\/perspective\/yfov$/.exec(text);
  if (camera) {
    const node = nodes.find((one) => one.camera?.index === Number(camera[1]));
    return node && { node, path: 'fov' };
  }
  const own = /^\/nodes\/(\d+)\/(translation|rotation|scale|weights)$/.exec(text);
  const node = own ? nodes[Number(own[1])] : undefined;
  return node && roles.has(node) ? { node, path: own![2]! } : undefined;
}

function addTracks(
  { notes, axes, flat, extras, fps: reelFps, roles, morphs }: Job,
  tracks: Record<string, TrackDocument>,
  channel: Place,
  node: GltfNode,
  path: string,
  sampled: Sampled,
  clip: ClipExtras | undefined,
): void {
  const role = roles.get(node)!;
  const kindOf = (property: string, plain: string) => extras?.kinds[`${role}.${property}`] ?? plain;
  const put = (property: string, keys: readonly WrittenKey[], kind?: string) => {
    const name = `${role}.${property}`;
    if (Object.hasOwn(tracks, name)) channel.refuse(`${name} is animated twice in one animation`);
    const fps = clip?.clip.fps ?? reelFps;
    const written = fps === undefined ? keys : shortKeys(keys, fps, property === 'position' ? 1e-9 : 1e-12);
    tracks[name] = (kind ? { kind, keys: written } : written) as TrackDocument;
  };
  if (path === 'weights') {
    morphs.get(node)!.forEach((morph, k) => {
      put(`weights.${morph}`, exactKeys(changed(sampled, (numbers) => [numbers[k]!])));
    });
    notes.kept(channel.pointer, `${role}.weights`);
    return;
  }
  if (path === 'fov') {
    put('fov', exactKeys(changed(sampled, ([n]) => [degreesOf(n!)])));
    notes.kept(channel.pointer, `${role}.fov`);
    return;
  }
  if (path === 'rotation') {
    const turns = changed(sampled, (turn) => axes.turnBack(turn));
    if (!flat && kindOf('rotation', 'quat') === 'quat') {
      put('rotation', exactKeys(turns), 'quat');
      notes.kept(channel.pointer, `${role}.rotation`);
      return;
    }
    const name = `${role}.rotation`;
    const { arcs, off } = angleArcs(turns, clip?.angles?.[name]);
    const { pieces, error } = cubicsOf(arcs, 1e-4);
    put('rotation', keysOf(pieces));
    if (error > 0) notes.approximated(channel.pointer, `${name}: angles in place of quaternions`, error, 'degrees');
    else notes.kept(channel.pointer, name);
    if (off > 1e-6) notes.dropped(channel.pointer, `${name}: what turns about other axes than z`);
    return;
  }
  const property = path === 'translation' ? 'position' : 'scale';
  const back = (numbers: readonly number[]) => (path === 'scale' ? axes.sizeBack(numbers) : axes.pointBack(numbers));
  const isFlat = flat || kindOf(property, 'vec3') === 'vec2';
  const depth = isFlat && sampled.values.some((one) => Math.abs(back(one)[2]! - (path === 'scale' ? 1 : 0)) > 1e-6);
  put(property, exactKeys(changed(sampled, (numbers) => vector(back(numbers), isFlat))));
  notes.kept(channel.pointer, `${role}.${property}`);
  if (depth) notes.dropped(channel.pointer, `${role}.${property}: its z`);
}

/** What of a file has no place in a reel. */
function reportRest(file: Place, notes: Notes): void {
  const counts = (['materials', 'textures', 'images'] as const).map((member) => [member, file.at(member).list().length] as const); // prettier-ignore
  for (const [member, count] of counts) if (count > 0) notes.dropped(`/${member}`, `${count} ${member}`);
}
