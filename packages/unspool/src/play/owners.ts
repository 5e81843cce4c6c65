import { UnspoolError } from '../wording/error.js';
import { show } from '../wording/show.js';

/** Who writes into an object, for saying so when two do. */
export interface Writer {
  readonly name: string;
  /** How many frames it had; and in which of them it wrote into each role last. */
  readonly frames: number;
  readonly wroteAt: Int32Array;
  /** The properties that it writes of a role, each with the clip that animates it now. */
  written(role: number): ReadonlyMap<string, string>;
  warn(problem: UnspoolError): void;
}

interface Owner {
  writer: Writer;
  role: number;
  /** What was said already. */
  said: Set<string> | undefined;
}

const owners = new WeakMap<object, Owner>();

/** The owner of an object, as yet nobody; nothing for what is no object. */
export function ownerOf(target: unknown, writer: Writer, role: number): Owner | undefined {
  if (typeof target !== 'object' || target === null) return undefined;
  let owner = owners.get(target);
  if (!owner) owners.set(target, (owner = { writer, role, said: undefined }));
  return owner;
}

/**
 * A writer writes into an object. When another has done so since its own last frame, both do: which properties they
 * share is said, once. What is written later wins.
 */
export function claim(owner: Owner, writer: Writer, role: number): void {
  if (owner.writer === writer) return;
  const other = owner.writer;
  const otherRole = owner.role;
  owner.writer = writer;
  owner.role = role;
  if (writer.wroteAt[role] !== writer.frames - 1) return;
  const theirs = other.written(otherRole);
  for (const [property, clip] of writer.written(role)) {
    const theirClip = theirs.get(property);
    if (theirClip === undefined) continue;
    const key = [property, ...[writer.name, other.name].sort()].join('\n');
    owner.said ??= new Set();
    if (owner.said.has(key)) continue;
    owner.said.add(key);
    const said = `two players write ${show(property)} of one object in one frame: ${show(other.name)} (clip ${show(theirClip)}) and ${show(writer.name)} (clip ${show(clip)}); the later one wins`;
    writer.warn(new UnspoolError('play/two-owners', said, 'play both clips in one player, on two layers'));
  }
}

export type { Owner };
