import { UnspoolError } from '../wording/error.js';
import { suggest } from '../wording/nearest.js';
import type { ReelDocument, SheetDocument } from '../reel/document.js';
import type { Report } from '../reel/problems.js';
import { readProperties, type Properties } from '../reel/properties.js';
import { resolveClip } from '../reel/resolve.js';
import { Clip } from './clip.js';
import { Layout } from './layout.js';
import type { NamesOf, ReelNames } from './names.js';

/** A checked reel: its document, and its clips, each compiled when it is first asked for. */
export class Reel<N extends ReelNames = ReelNames> {
  readonly name: string;
  /** The roles that its clips animate. */
  readonly roles: readonly N['role'][];
  /** Every property that any of its clips animates or any role has a rest value for. */
  readonly layout: Layout;
  /** The clips by name: `reel.clips.snap`. */
  readonly clips: { readonly [C in N['clip']]: Clip<C> };
  readonly #properties: Properties;
  readonly #compiled = new Map<string, Clip>();

  /** @internal use `parseReel`, or `trustReel` for a document that was checked before it was shipped */
  constructor(readonly document: ReelDocument) {
    this.name = document.name ?? '';
    this.#properties = readProperties(document, ignore);
    this.roles = this.#properties.roles;
    this.layout = new Layout(this.#properties.byName.values(), this.#properties.texts.texts);
    const clips = {};
    for (const name of Object.keys(document.clips)) {
      Object.defineProperty(clips, name, { enumerable: true, get: () => this.clip(name) });
    }
    this.clips = clips as typeof this.clips;
  }

  /** The clip of a name. Throws for one that the reel does not have, with the near ones. */
  clip<C extends N['clip']>(name: C): Clip<C> {
    let clip = this.#compiled.get(name);
    if (!clip) {
      if (!Object.hasOwn(this.document.clips, name)) {
        const hint = suggest(name, Object.keys(this.document.clips));
        throw new UnspoolError('reel/unknown-clip', `${this.said} has no clip ${JSON.stringify(name)}`, hint);
      }
      clip = new Clip(resolveClip(this.document, name, this.#properties, ignore), this.#properties);
      this.#compiled.set(name, clip);
    }
    return clip as Clip<C>;
  }

  /** How messages name the reel. */
  get said(): string {
    return this.name ? `the reel "${this.name}"` : 'the reel';
  }

  /** The sheet that a role's frames come from. */
  sheetOf(role: N['role']): SheetDocument | undefined {
    const name = this.document.roles?.[role]?.sheet;
    return name === undefined ? undefined : this.document.sheets?.[name];
  }
}

/**
 * The pixel rectangle of a cell of a sheet. Cells are counted from 0, row by row.
 *
 * @returns x, y, width and height in pixels of the sheet's picture; of the nearest cell when the sheet has none of that number
 */
export function sheetRect(
  sheet: SheetDocument,
  frame: number,
): readonly [x: number, y: number, width: number, height: number] {
  const { columns, rows, cell, margin = 0, spacing = 0 } = sheet;
  const inside = Math.min(Math.max(0, Math.trunc(frame)), columns * rows - 1);
  const column = inside % columns;
  const row = Math.floor(inside / columns);
  const [width, height] = cell;
  return [margin + column * (width + spacing), margin + row * (height + spacing), width, height];
}

/** A document that comes here has been checked; what would be reported is not there. */
const ignore: Report = () => {};

/**
 * A reel from a document that was checked before it was shipped (by `unspool check`, or a build). It is not checked
 * again, and nothing that checks is loaded: an invalid document has undefined results.
 */
export function trustReel<const D>(document: D): Reel<NamesOf<D>> {
  return new Reel<NamesOf<D>>(document as unknown as ReelDocument);
}
