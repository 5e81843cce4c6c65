import { UnspoolError } from '../errors/error.js';
import { suggest } from '../errors/nearest.js';
import { show } from '../errors/show.js';
import type { ReelDocument, SheetDocument } from '../reel/document/document.js';
import type { Routine } from '../reel/document/routines.js';
import type { ChainLink, FacingSide } from '../reel/document/sequences.js';
import type { Clip } from './clip.js';
import type { ReelFacts, ShapeFacts } from './compiled.js';
import { Layout } from './layout.js';
import type { ReelNames } from './names.js';

/** Where a reel has its clips from: a document that is compiled clip by clip, or data that was compiled ahead. */
export interface ReelSource {
  readonly facts: ReelFacts;
  readonly clipNames: readonly string[];
  /** @param name one of `clipNames` */
  clip(name: string): Clip;
  readonly document?: ReelDocument;
}

/** A checked reel. Each clip is compiled on first use. */
export class Reel<N extends ReelNames = ReelNames> {
  /** Only for types: not present at run time. */
  declare readonly types?: N;
  /** The name of the reel; `''` when it has none. */
  readonly name: string;
  /** The roles that the clips animate. */
  readonly roles: readonly N['role'][];
  /** @internal */
  readonly facts: ReelFacts;
  /** Every property that a clip animates or a role has a rest value for. */
  readonly layout: Layout;
  /** The clips by name: `reel.clips.snap`. */
  readonly clips: { readonly [C in N['clip']]: Clip<C, N['values']> };
  /** @internal The names of all clips. */
  readonly clipNames: readonly string[];
  /** @internal Where a running game follows its reels: the players and crowds that use this one. */
  users: Set<WeakRef<object>> | undefined;
  readonly #source: ReelSource;
  readonly #made = new Map<string, Clip>();
  #moments: ReadonlySet<string> | undefined;

  /** @internal use `parseReel`, `trustReel` or `loadReel` */
  constructor(source: ReelSource) {
    const { facts, clipNames } = source;
    this.#source = source;
    this.facts = facts;
    this.name = facts.name;
    this.clipNames = clipNames;
    this.roles = facts.roles;
    this.layout = new Layout(facts.slots, facts.texts);
    const clips = {};
    for (const name of clipNames) {
      Object.defineProperty(clips, name, { enumerable: true, get: () => this.clip(name) });
    }
    this.clips = clips as typeof this.clips;
  }

  /** The tag and data of each shape, by `role.shape`. */
  get shapes(): Readonly<Record<string, ShapeFacts>> {
    return this.facts.shapes;
  }

  /** The document that the reel was parsed from. Throws for a reel that was compiled ahead of time. */
  get document(): ReelDocument {
    const { document } = this.#source;
    if (document) return document;
    throw new UnspoolError(
      'reel/no-document',
      `${this.message} was compiled ahead of time and has no document`,
      'read its source file',
    );
  }

  /** Returns a clip by name. Throws for an unknown name and suggests similar ones. */
  clip<C extends N['clip']>(name: C): Clip<C, N['values']> {
    let clip = this.#made.get(name);
    if (!clip) {
      if (!this.clipNames.includes(name))
        throw this.#unknown('clip', name, [...this.clipNames, ...Object.keys(this.facts.chains)]);
      clip = this.#source.clip(name);
      this.#made.set(name, clip);
    }
    return clip as unknown as Clip<C, N['values']>;
  }

  /** Returns the links of a chain. Throws for an unknown name and suggests similar ones. */
  chain(name: N['chain']): readonly ChainLink[] {
    return this.#named('chain', this.facts.chains, name);
  }

  /** Returns the sides of a facing. Throws for an unknown name and suggests similar ones. */
  facing(name: N['facing']): readonly FacingSide[] {
    return this.#named('facing', this.facts.facings, name);
  }

  /** Returns the inputs and rules of a routine. Throws for an unknown name and suggests similar ones. */
  routine(name: N['routine']): Routine {
    return this.#named('routine', this.facts.routines, name);
  }

  /** @internal Throws unless one of its clips has an interval or span of this name. */
  expectMoment(name: string): void {
    this.#moments ??= new Set(
      Object.values<Clip>(this.clips).flatMap(({ cues, spans }) => [
        ...cues.filter(({ until }) => until !== undefined).map((cue) => cue.name),
        ...Object.keys(spans),
      ]),
    );
    if (!this.#moments.has(name)) throw this.#unknown('moment', name, [...this.#moments]);
  }

  #named<T>(what: string, all: Readonly<Record<string, T>>, name: string): T {
    if (!Object.hasOwn(all, name)) throw this.#unknown(what, name, Object.keys(all));
    return all[name]!;
  }

  #unknown(what: string, name: string, known: readonly string[]): Error {
    return new UnspoolError(
      `reel/unknown-${what}`,
      `${this.message} has no ${what === 'moment' ? 'interval or span' : what} ${show(name)}`,
      suggest(name, known),
    );
  }

  /** @internal its name in messages */
  get message(): string {
    return this.name ? `the reel "${this.name}"` : 'the reel';
  }

  /** Returns the sheet of a role, or `undefined` when it has none. */
  sheetOf(role: N['role']): SheetDocument | undefined {
    const { sheets } = this.facts;
    return Object.hasOwn(sheets, role) ? sheets[role] : undefined;
  }
}
