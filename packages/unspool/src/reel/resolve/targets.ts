import { KINDS, type Kind, type ShapeKind } from '../../value/kind.js';
import { kindOf, KNOWN_PROPERTIES } from '../../value/property.js';
import { shapePart } from '../../value/shape.js';
import type { ReelDocument, TrackDocument } from '../document/document.js';
import { splitTrackName } from '../document/names.js';
import type { DocumentPath } from '../diagnostics/diagnostic-messages.js';

/** The property that a track's name means. `channel` is −1 for all of it. */
export interface Target {
  readonly role: string;
  /** Of a shape its name. */
  readonly property: string;
  readonly channel: number;
  /** How many channels, where that is neither one nor all: `claw.pincer.center` has two. */
  readonly width?: number;
  /** Of a shape its kind. */
  readonly shape?: ShapeKind;
}

/** The shapes that a role says it has, by name. Tracks whose names begin with one animate it. */
export const shapesOf = (reel: ReelDocument, role: string) => reel.roles?.[role]?.shapes ?? {};

/** Reads a track's name. `position.x` is a channel; `weights.bulge` a property of its own with a dot in its name. */
export function targetOf(reel: ReelDocument, track: string): Target | undefined {
  const split = splitTrackName(track);
  if (!split) return undefined;
  const [role, property] = split;
  const shapes = shapesOf(reel, role);
  const [name, ...path] = property.split('.') as [string, ...string[]];
  if (Object.hasOwn(shapes, name)) {
    const shape = shapes[name]!.kind;
    if (path.length === 0) return { role, property: name, channel: -1, shape };
    const part = shapePart(shape, path.join('.'));
    // What the shape does not have is reported by who asks for it.
    return { role, property: name, channel: part?.first ?? NaN, width: part?.width ?? 0, shape };
  }
  const dot = property.lastIndexOf('.');
  if (dot > 0) {
    const base = property.slice(0, dot);
    const kinds = Object.hasOwn(KNOWN_PROPERTIES, base) ? KNOWN_PROPERTIES[base]! : [restKind(reel, role, base)];
    const channels = kinds.map(keyedChannels);
    const channel = Math.max(...channels.map((names) => names.indexOf(property.slice(dot + 1))));
    if (channel >= 0 && Math.max(...channels.map((names) => names.length)) > 1)
      return { role, property: base, channel };
  }
  return { role, property, channel: -1 };
}

/** The channels of a kind that can be keyed alone: a quaternion's cannot. */
export function keyedChannels(kind: Kind | undefined): readonly string[] {
  return kind && kind !== 'quat' ? KINDS[kind].channels : [];
}

export function restKind(reel: ReelDocument, role: string, property: string): Kind | undefined {
  const rest = reel.roles?.[role]?.rest;
  return rest && Object.hasOwn(rest, property) ? kindOf(property, rest[property]) : undefined;
}

/** A property as described by one place in a reel. */
export interface Draft {
  readonly target: Target;
  readonly kind: Kind;
  readonly path: DocumentPath;
  readonly rest?: unknown;
  readonly tag?: string | undefined;
  readonly data?: unknown;
  readonly track?: TrackDocument;
}
