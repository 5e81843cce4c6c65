import type { Easing } from '../../easing/easing.js';
import { nearest } from '../../errors/nearest.js';
import { formOf } from '../../value/forms.js';
import { isShape, KINDS, type Kind } from '../../value/kind.js';
import { kindOf, KNOWN_PROPERTIES } from '../../value/property.js';
import { readValue, TextTable } from '../../value/read.js';
import { shapeProperties } from '../../value/shape.js';
import type { KeyList, ReelDocument, TrackDocument } from '../document/document.js';
import { FORBIDDEN } from '../document/names.js';
import { pointerOf } from '../diagnostics/text-locations.js';
import { addPartProperties } from './part-properties.js';
import { keyedChannels, restKind, shapesOf, targetOf, type Draft, type Target } from './targets.js';
import type { DocumentPath, Report } from '../diagnostics/diagnostic-messages.js';

/** A property of a role, as all clips of a reel agree on it. */
export interface Property {
  /** `role.property` */
  readonly name: string;
  readonly role: string;
  readonly property: string;
  readonly kind: Kind;
  /** The rest value that the reel gives it. */
  readonly rest?: readonly number[];
  /** For a shape: its tag, and the data of its hits. */
  readonly tag?: string | undefined;
  readonly data?: unknown;
}

/** What a reel's tracks animate, and the texts that their keys speak of. */
export interface Properties {
  readonly byName: ReadonlyMap<string, Property>;
  readonly roles: readonly string[];
  readonly texts: TextTable;
  /** Easings that were read, by their texts: keys that share one share its reading. */
  readonly easings: Map<string, Easing>;
  /** Tracks that were found to be unusable here and are not checked again. */
  readonly unusable: ReadonlySet<TrackDocument>;
}

function isKeyList(track: TrackDocument): track is KeyList {
  return Array.isArray(track);
}

export function keysOf(track: TrackDocument): KeyList {
  return isKeyList(track) ? track : track.keys;
}

/** The options of a track; a plain list of keys has none. */
export function optionsOf(track: TrackDocument): Exclude<TrackDocument, KeyList> | undefined {
  return isKeyList(track) ? undefined : track;
}

/**
 * Finds what a reel animates: every property of a rest value or a track, with its one kind. Rest values come first,
 * then the clips in order; the first one decides, and later differences are reported.
 */
export function readProperties(reel: ReelDocument, report: Report): Properties {
  const drafts = new Map<string, Draft>();
  /** Tracks whose values leave the number of channels open: `scale: 2`, or only `position.x`. */
  const open: Draft[] = [];
  const unusable = new Set<TrackDocument>();
  const add = (draft: Draft) => {
    const name = `${draft.target.role}.${draft.target.property}`;
    const first = drafts.get(name);
    if (!first) drafts.set(name, draft);
    else if (first.kind !== draft.kind) {
      const place = pointerOf(first.path);
      report('reel/kind-conflict', draft.path, { property: name, kind: draft.kind, other: first.kind, place });
      if (draft.track) unusable.add(draft.track);
    }
  };

  const declared = Object.keys(reel.roles ?? {});
  for (const role of declared) {
    for (const [property, rest] of Object.entries(reel.roles?.[role]?.rest ?? {})) {
      const path = ['roles', role, 'rest', property];
      const kind = propertyKind(property, rest, path, report);
      if (kind) add({ target: { role, property, channel: -1 }, kind, path, rest });
    }
  }
  const fromTracks = new Set<string>();
  for (const [clip, { tracks = {} }] of Object.entries(reel.clips)) {
    for (const [name, track] of Object.entries(tracks)) {
      const path = ['clips', clip, 'tracks', name];
      const target = readTarget(reel, name, path, report);
      if (!target) unusable.add(track);
      if (!target) continue;
      const { role, property, shape } = target;
      fromTracks.add(role);
      if (shape) {
        const { tag, data } = shapesOf(reel, role)[property]!;
        add({ target: { role, property, channel: -1 }, kind: shape, path, tag, data });
        continue;
      }
      const draft = draftOf(target, track, path, report);
      if (draft === undefined) {
        if (keysOf(track).length > 0) unusable.add(track);
        continue;
      }
      if ('open' in draft) open.push(draft.open);
      else add(draft);
      warnNear(reel, target, track, path, report);
    }
  }
  // An open track goes along with whatever else says more; alone it is two-dimensional, or three with a z.
  for (const draft of open.sort((a, b) => b.target.channel - a.target.channel)) {
    if (!drafts.has(`${draft.target.role}.${draft.target.property}`)) add(draft);
  }

  for (const role of addPartProperties(reel, drafts, report)) fromTracks.add(role);

  const texts = new TextTable();
  const byName = new Map<string, Property>();
  for (const [name, { target, kind, rest, path, tag, data }] of drafts) {
    const numbers = rest === undefined ? undefined : readWhole(target.property, kind, rest, texts);
    if (rest !== undefined && !numbers) report('reel/value', path, { value: rest, form: formOf(kind), kind });
    byName.set(name, {
      name,
      role: target.role,
      property: target.property,
      kind,
      ...(numbers && { rest: numbers }),
      ...(isShape(kind) && { tag, data }),
    });
  }
  return { byName, roles: declared.length > 0 ? declared : [...fromTracks], texts, easings: new Map(), unusable };
}

/** A value of all channels; one number of `scale` applies to each of them. */
export function readWhole(property: string, kind: Kind, value: unknown, texts: TextTable): number[] | undefined {
  if (property === 'scale' && typeof value === 'number') {
    return readValue(
      kind,
      KINDS[kind].channels.map(() => value),
      texts,
    );
  }
  return readValue(kind, value, texts);
}

function readTarget(reel: ReelDocument, name: string, path: DocumentPath, report: Report): Target | undefined {
  if (name.split('.').some((segment) => (FORBIDDEN as readonly string[]).includes(segment))) {
    report('reel/forbidden-name', path, { name }, 'error', 'name');
    return undefined;
  }
  const target = targetOf(reel, name);
  if (!target) {
    report('reel/track-name', path, { name }, 'error', 'name');
    return undefined;
  }
  if (Number.isNaN(target.channel)) {
    const channel = name.slice(target.role.length + target.property.length + 2);
    const channels = [...shapeProperties(target.shape!), 'active'];
    report('reel/no-channel', path, { property: target.property, channel, channels }, 'error', 'name');
    return undefined;
  }
  const [base = '', ...channel] = target.property.split('.');
  const kinds = Object.hasOwn(KNOWN_PROPERTIES, base) ? KNOWN_PROPERTIES[base]! : [restKind(reel, target.role, base)];
  if (target.channel < 0 && channel.length > 0 && kinds[0] !== undefined) {
    const channels = kinds.map(keyedChannels).sort((a, b) => b.length - a.length)[0]!;
    report('reel/no-channel', path, { property: base, channel: channel.join('.'), channels }, 'error', 'name');
    return undefined;
  }
  const known = Object.keys(reel.roles ?? {});
  if (reel.roles && !known.includes(target.role)) {
    report('reel/unknown-role', path, { name: target.role, known }, 'error', 'name');
    return undefined;
  }
  return target;
}

function draftOf(
  target: Target,
  track: TrackDocument,
  path: DocumentPath,
  report: Report,
): Draft | { open: Draft } | undefined {
  const keys = keysOf(track);
  const message = optionsOf(track)?.kind;
  const undeclared = (kind: Kind) => {
    report('reel/undeclared-shape', path, { ...target, kind }, 'error', 'name');
    return undefined;
  };
  const known = KNOWN_PROPERTIES[target.property];
  if (message !== undefined) {
    if (known && !known.includes(message)) {
      const facts = { property: target.property, kind: message, allowed: known };
      report('reel/kind-not-allowed', [...path, 'kind'], facts);
      return undefined;
    }
    return isShape(message) ? undeclared(message) : { target, kind: message, path, track };
  }
  if (target.channel >= 0) {
    const first = known?.[0];
    const kind = first === 'color' ? first : target.channel === 2 ? 'vec3' : 'vec2';
    return { open: { target, kind, path, track } };
  }
  const values = keys.map((key) => ('frames' in key ? key.frames[0] : key.value));
  const telling = target.property === 'scale' ? values.find(Array.isArray) : values[0];
  if (target.property === 'scale' && telling === undefined) return { open: { target, kind: 'vec2', path, track } };
  if (keys.length === 0) return undefined; // reported by the schema
  const kind = keys.some((key) => 'frames' in key) && !known ? 'integer' : undefined;
  const at = [...keyPath(path, track, values.indexOf(telling)), 'value'];
  const found = kind ?? propertyKind(target.property, telling, at, report);
  if (found && isShape(found)) return undeclared(found);
  return found && { target, kind: found, path, track };
}

/**
 * The kind that a track on its own gives its property; `'open'` when others decide; `undefined` for an invalid track.
 */
export function kindImpliedBy(reel: ReelDocument, name: string, track: TrackDocument): Kind | 'open' | undefined {
  const ignore: Report = () => {};
  const target = readTarget(reel, name, [], ignore);
  if (!target || target.shape) return target?.shape;
  const draft = draftOf(target, track, [], ignore);
  return draft && ('open' in draft ? 'open' : draft.kind);
}

/** A value that fits none of the kinds of a known property is read as the first, and reported with its key. */
function propertyKind(property: string, value: unknown, path: DocumentPath, report: Report): Kind | undefined {
  const known = Object.hasOwn(KNOWN_PROPERTIES, property) ? KNOWN_PROPERTIES[property]! : undefined;
  const kind = kindOf(property, value) ?? known?.[0];
  if (!kind) report('reel/no-kind', path, { property, value });
  return kind;
}

/** The path of a key, whether its track is a plain list or an object. */
export function keyPath(path: DocumentPath, track: TrackDocument, index: number): DocumentPath {
  return isKeyList(track) ? [...path, index] : [...path, 'keys', index];
}

/** An undeclared property that is similar to a known one is probably misspelled. */
function warnNear(reel: ReelDocument, target: Target, track: TrackDocument, path: DocumentPath, report: Report): void {
  const { role, property } = target;
  if (Object.hasOwn(KNOWN_PROPERTIES, property) || optionsOf(track)?.kind || restKind(reel, role, property)) return;
  const near = nearest(property.split('.', 1)[0]!, [
    ...Object.keys(KNOWN_PROPERTIES),
    ...Object.keys(shapesOf(reel, role)),
  ]);
  if (near !== undefined) report('reel/near-property', path, { property, near }, 'warning', 'name');
}
