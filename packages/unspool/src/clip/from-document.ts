import type { ReelDocument, SheetDocument } from '../reel/document.js';
import { flattenClip } from '../reel/flatten.js';
import type { Report } from '../reel/problems.js';
import { readProperties, type Properties, type Property } from '../reel/properties.js';
import { widthOf } from '../value/kind.js';
import { defaultRest } from '../value/property.js';
import { authoredTracks } from './authored.js';
import { Clip } from './clip.js';
import { compileTracks } from './compile.js';
import type { CompiledClip } from './compiled.js';
import { Layout, type Slot } from './layout.js';
import type { NamesOf } from './names.js';
import { Reel, type ReelSource } from './reel.js';

/** A document that comes here has been checked; what would be reported is not there. */
const ignore: Report = () => {};

/**
 * A reel from a document that was checked before (by `unspool check`, or a build). It is not checked again: an invalid
 * document has undefined results.
 */
export function trustReel<const D>(document: D): Reel<NamesOf<D>> {
  return new Reel<NamesOf<D>>(sourceOf(document as unknown as ReelDocument));
}

function sourceOf(document: ReelDocument): ReelSource {
  const properties = readProperties(document, ignore);
  const { texts } = properties.texts;
  const sheets: Record<string, SheetDocument> = {};
  for (const [role, { sheet }] of Object.entries(document.roles ?? {})) {
    const found = sheet === undefined ? undefined : document.sheets?.[sheet];
    if (found) sheets[role] = found;
  }
  return {
    document,
    facts: {
      name: document.name ?? '',
      roles: properties.roles,
      slots: slotsOf(properties.byName.values()),
      texts,
      sheets,
    },
    clipNames: Object.keys(document.clips),
    clip(name) {
      const clip: Clip = new Clip(compileClip(document, name, properties), texts, () =>
        authoredTracks(document, properties, clip),
      );
      return clip;
    },
  };
}

function compileClip(document: ReelDocument, name: string, properties: Properties): CompiledClip {
  const { tracks, ...clip } = flattenClip(document, name, properties, ignore)!;
  const animated = new Set(tracks.map(({ role, property }) => `${role}.${property}`));
  const slots = slotsOf(Array.from(animated, (one) => properties.byName.get(one)!));
  return { ...clip, slots, curves: compileTracks(tracks, new Layout(slots, []), clip.duration) };
}

function slotsOf(properties: Iterable<Property>): Slot[] {
  let offset = 0;
  return Array.from(properties, ({ name, role, property, kind, rest }) => {
    const width = widthOf(kind);
    const slot = { name, role, property, kind, offset, width };
    offset += width;
    return { ...slot, rest: rest ?? defaultRest(property, kind), restGiven: rest !== undefined };
  });
}
