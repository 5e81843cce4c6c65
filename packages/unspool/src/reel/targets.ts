import { isPlayable, KINDS, type Kind } from '../value/kind.js';
import { kindOf, KNOWN_PROPERTIES } from '../value/property.js';
import type { ReelDocument, TrackDocument } from './document.js';
import { splitTrackName } from './names.js';
import type { Path } from './problems.js';

/** The property that a track's name means. `channel` is −1 for all of it. */
export interface Target {
  readonly role: string;
  readonly property: string;
  readonly channel: number;
}

/** Names that shape tracks may begin with: they animate shapes, not properties. */
export const shapesOf = (reel: ReelDocument, role: string) => Object.keys(reel.roles?.[role]?.shapes ?? {});

/** True for a track of one of its role's shapes. */
export function isShapeTrack(reel: ReelDocument, { role, property }: Target): boolean {
  const first = property.split('.', 1)[0]!;
  return shapesOf(reel, role).includes(first);
}

/** Reads a track's name. `position.x` is a channel; `weights.bulge` a property of its own with a dot in its name. */
export function targetOf(reel: ReelDocument, name: string): Target | undefined {
  const split = splitTrackName(name);
  if (!split) return undefined;
  const [role, property] = split;
  const dot = property.lastIndexOf('.');
  if (dot > 0) {
    const base = property.slice(0, dot);
    const kinds = Object.hasOwn(KNOWN_PROPERTIES, base) ? KNOWN_PROPERTIES[base]! : [restKind(reel, role, base)];
    const channels = kinds.map(channelsOf);
    const channel = Math.max(...channels.map((names) => names.indexOf(property.slice(dot + 1))));
    if (channel >= 0 && Math.max(...channels.map((names) => names.length)) > 1)
      return { role, property: base, channel };
  }
  return { role, property, channel: -1 };
}

/** The channels of a kind that can be keyed alone: a quaternion's cannot. */
export function channelsOf(kind: Kind | undefined): readonly string[] {
  return kind && kind !== 'quat' && isPlayable(kind) ? KINDS[kind].channels : [];
}

export function restKind(reel: ReelDocument, role: string, property: string): Kind | undefined {
  const rest = reel.roles?.[role]?.rest;
  return rest && Object.hasOwn(rest, property) ? kindOf(property, rest[property]) : undefined;
}

/** A property as one place in a reel tells of it. */
export interface Draft {
  readonly target: Target;
  readonly kind: Kind;
  readonly path: Path;
  readonly rest?: unknown;
  readonly track?: TrackDocument;
}
