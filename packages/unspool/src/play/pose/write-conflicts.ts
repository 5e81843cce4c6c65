import { UnspoolError } from '../../errors/error.js';
import { show } from '../../errors/show.js';

/** Who writes into an object, for the warning when two do. */
export interface Writer {
  readonly name: string;
  /** How many frames it had, and in which of them it wrote last. */
  readonly frames: number;
  readonly wroteAt: number;
  /** The properties that it writes of a role, each with the clip that animates it now. */
  written(role: number): ReadonlyMap<string, string>;
  /** As which of its roles an object is in its cast. */
  roleOf(target: object): number;
  /** Another has the object of a role in its cast too. */
  shares(role: number, object: SharedObject): void;
  warn(problem: UnspoolError): void;
}

/** An object in the casts of several players. */
export class SharedObject {
  /** Conflicts that were already reported. */
  readonly #reported = new Set<string>();

  /** @param writer who last wrote into it, and as which role */
  constructor(
    public writer: Writer,
    public role: number,
  ) {}

  /**
   * Records that a writer writes into it. When another writer has done so since its own last frame, the shared properties
   * are reported once. The later write wins.
   */
  claim(writer: Writer, role: number): void {
    const other = this.writer;
    if (other === writer) return;
    const theirs = other.written(this.role);
    this.writer = writer;
    this.role = role;
    if (writer.wroteAt !== writer.frames - 1) return;
    for (const [property, clip] of writer.written(role)) {
      const theirClip = theirs.get(property);
      const key = [property, ...[writer.name, other.name].sort()].join('\n');
      if (theirClip === undefined || this.#reported.has(key)) continue;
      this.#reported.add(key);
      // It is found by the one that writes first: the other has written since, so it comes later in a frame.
      const [one, two] = [`${show(writer.name)} (clip ${show(clip)})`, `${show(other.name)} (clip ${show(theirClip)})`];
      const message = `two players write ${show(property)} of the same object in one frame: ${one} and ${two}; the later one wins`;
      writer.warn(new UnspoolError('play/two-owners', message, 'play both clips in one player on two layers'));
    }
  }
}

/** The player that has an object in its cast; or what several share. */
const owners = new WeakMap<object, SharedObject | Writer>();

/** An object comes into the cast of a player. */
export function own(target: unknown, writer: Writer, role: number): void {
  if (typeof target !== 'object' || target === null) return;
  const known = owners.get(target);
  if (!known) owners.set(target, writer);
  else if (known instanceof SharedObject) writer.shares(role, known);
  else {
    const first = known.roleOf(target);
    const shared = new SharedObject(known, first);
    owners.set(target, shared);
    known.shares(first, shared);
    writer.shares(role, shared);
  }
}

/** And leaves it: nothing of the player is kept with the object. */
export function disown(target: unknown, writer: Writer): void {
  if (typeof target === 'object' && target !== null && isOf(owners.get(target), writer)) owners.delete(target);
}

function isOf(known: SharedObject | Writer | undefined, writer: Writer): boolean {
  return known === writer || (known instanceof SharedObject && known.writer === writer);
}
