import type { CheckedReel } from '../reel/check/check.js';
import type { ReelDocument, SheetDocument } from '../reel/document/document.js';
import { flattenClip, type FlatClip, type FlatTrack } from '../reel/resolve/flatten.js';
import type { Report } from '../reel/diagnostics/diagnostic-messages.js';
import { readProperties, type Properties, type Property } from '../reel/resolve/properties.js';
import { routinesOf } from '../reel/document/routines.js';
import { chainsOf, facingsOf } from '../reel/document/sequences.js';
import { isActivity, type Activation } from '../reel/resolve/track.js';
import { DEFAULT_FPS } from '../time/units.js';
import { isShape, widthOf } from '../value/kind.js';
import { defaultRest } from '../value/property.js';
import { authoredTracks } from './authored.js';
import { Clip } from './clip.js';
import { compileTracks } from './compile.js';
import type { CompiledClip, ShapeActivation, ShapeFacts } from './compiled.js';
import { inOrder, Layout, type Slot } from './layout.js';
import type { ReelNames } from './names.js';
import type { NamesOf } from './names-of.js';
import { Reel, type ReelSource } from './reel.js';

/** A document that comes here has been checked; what would be reported is not there. */
const ignore: Report = () => {};

/**
 * Creates a reel from a document that was checked before, by `unspool check` or a build. It is not checked again: an
 * invalid document has undefined results.
 */
export function trustReel<const D>(document: D): Reel<NamesOf<D>> {
  const trusted = document as unknown as ReelDocument;
  return reelOf({ document: trusted, properties: readProperties(trusted, ignore), clips: new Map() });
}

/** Creates a reel from a checked document. Each flattened clip is passed to the first call that needs it. */
export function reelOf<N extends ReelNames>({ document, properties, clips }: CheckedReel): Reel<N> {
  const flat = (name: string) => {
    const known = clips.get(name);
    clips.delete(name);
    return known ?? flattenClip(document, name, properties, ignore)!;
  };
  return new Reel<N>(sourceOf(document, properties, flat));
}

function sourceOf(document: ReelDocument, properties: Properties, flat: (name: string) => FlatClip): ReelSource {
  const { texts } = properties.texts;
  const sheets: Record<string, SheetDocument> = {};
  const parents: Record<string, string> = {};
  for (const [role, { sheet, parent }] of Object.entries(document.roles ?? {})) {
    if (parent !== undefined) parents[role] = parent;
    const found = sheet === undefined ? undefined : document.sheets?.[sheet];
    if (found) sheets[role] = found;
  }
  const slots = slotsOf(properties.byName.values());
  const layout = new Layout(slots, texts);
  const facts = {
    name: document.name ?? '',
    fps: document.fps ?? DEFAULT_FPS,
    roles: properties.roles,
    slots,
    texts,
    chains: chainsOf(document),
    facings: facingsOf(document),
    routines: routinesOf(document),
    parents,
    shapes: shapesOf(properties.byName.values()),
    sheets,
  };
  return {
    document,
    facts,
    clipNames: Object.keys(document.clips),
    clip(name) {
      const clip: Clip = new Clip(compileClip(flat(name), layout), facts, () =>
        authoredTracks(document, properties, clip),
      );
      return clip;
    },
  };
}

function compileClip({ tracks, ...clip }: FlatClip, all: Layout): CompiledClip {
  const animated = new Set<string>();
  for (const { role, property } of tracks) animated.add(`${role}.${property}`);
  const slots = inOrder(Array.from(animated, (name) => all.slot(name)));
  const offsets = new Map<string, number>();
  for (const { name, offset } of slots) offsets.set(name, offset);
  const activations = activationsOf(tracks, clip.duration);
  return { ...clip, slots, activations, curves: compileTracks(tracks, offsets, clip.duration) };
}

function shapesOf(properties: Iterable<Property>): Readonly<Record<string, ShapeFacts>> {
  const shapes: Record<string, ShapeFacts> = {};
  for (const { name, kind, tag, data } of properties) if (isShape(kind)) shapes[name] = { tag, data };
  return shapes;
}

/** The intervals in which the shapes of a clip are active; adjacent segments of one activation are joined. */
function activationsOf(tracks: readonly FlatTrack[], duration: number): ShapeActivation[] {
  const found: ShapeActivation[] = [];
  for (const track of tracks) {
    if (!isActivity(track)) continue;
    const { segments, role, property } = track;
    let before: Activation | undefined;
    for (let i = 0; i < segments.length; i++) {
      const { start: at, activation } = segments[i]!;
      if (at > duration) break;
      const until = Math.min(segments[i + 1]?.start ?? duration, duration);
      const last = found.length - 1;
      if (activation && activation === before) found[last] = { ...found[last]!, until };
      else if (activation) found.push({ shape: `${role}.${property}`, at, until, data: activation.data });
      before = activation;
    }
  }
  return found.sort((a, b) => a.at - b.at);
}

function slotsOf(properties: Iterable<Property>): Slot[] {
  return inOrder(
    Array.from(properties, ({ name, role, property, kind, rest }) => ({
      ...{ name, role, property, kind, width: widthOf(kind) },
      rest: rest ?? defaultRest(property, kind),
      restGiven: rest !== undefined || isShape(kind),
    })),
  );
}
