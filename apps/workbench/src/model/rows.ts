import { KINDS, type Kind, type Reel, type ReelDocument } from 'unspool';
import { fpsOf, isList, keysOf, type KeyView } from './keys.js';

/** A line of the right leaf: the summary of the clip or of a role, or one of its properties or channels. */
export type Row = SummaryRow | TrackRow;

/** When anything of a role, or of the whole clip, has a key. */
export interface SummaryRow {
  readonly is: 'clip' | 'role';
  /** `undefined` for the clip. */
  readonly role: string | undefined;
  readonly name: string;
  /** In seconds, in order. */
  readonly times: readonly number[];
}

export interface TrackRow {
  readonly is: 'track';
  readonly role: string;
  /** `role.property`, or `role.property.channel`. */
  readonly name: string;
  /** `role.property`: what the value at the playhead belongs to. */
  readonly property: string;
  /** The number of the value that it shows, or −1 for all. */
  readonly channel: number;
  readonly kind: Kind;
  /** None where the clip does not animate it. */
  readonly keys: readonly KeyView[];
  readonly isOffset: boolean;
}

/** What every role has, whether or not it is animated: so that there is a place to type the first value into. */
const USUAL: readonly (readonly [string, Kind])[] = [
  ['position', 'vec2'],
  ['rotation', 'angle'],
  ['scale', 'vec2'],
  ['opacity', 'number'],
  ['tint', 'color'],
  ['visible', 'flag'],
  ['pivot', 'vec2'],
];

/** The roles of a reel in their order: those that are written, or those that its tracks speak of. */
export function rolesOf(doc: ReelDocument, reel: Reel): readonly string[] {
  return doc.roles ? Object.keys(doc.roles) : reel.roles;
}

/**
 * The rows of a clip: under each role the properties that the clip animates, in the clip's order; for expanded roles
 * also those that it could animate.
 */
export function rowsOf(
  doc: ReelDocument,
  reel: Reel,
  clipName: string,
  open: ReadonlySet<string>,
  folded: ReadonlySet<string> = new Set(),
): Row[] {
  const clip = doc.clips[clipName];
  if (!clip) return [];
  const fps = fpsOf(doc, clip);
  const tracks = Object.entries(clip.tracks ?? {});
  const roles = rolesOf(doc, reel).map((role): readonly Row[] => {
    const own = tracks.filter(([name]) => name.startsWith(`${role}.`));
    const animated = own.flatMap(([name, track]): TrackRow[] => {
      const place = placeOf(reel, role, name.slice(role.length + 1));
      const isOffset = !isList(track) && track.space === 'offset';
      return place ? [asBefore({ is: 'track', role, name, ...place, keys: keysOf(track, fps), isOffset })] : [];
    });
    const rows = open.has(role) ? withUnanimated(doc, reel, role, animated) : animated;
    const summary = summaryOf(
      'role',
      role,
      animated.map(({ keys }) => keys),
    );
    return folded.has(role) ? [summary] : [summary, ...rows];
  });
  const all = roles.map(([summary]) => (summary as SummaryRow).times);
  return [summaryOf('clip', clipName, all), ...roles.flat()];
}

const summaries = new Map<string, { readonly of: readonly unknown[]; readonly row: SummaryRow }>();

/** The summary of lists of keys or times; the previous one if none of them has changed. */
function summaryOf(is: SummaryRow['is'], name: string, lists: readonly (readonly (KeyView | number)[])[]): SummaryRow {
  const was = summaries.get(`${is} ${name}`);
  if (was && was.of.length === lists.length && lists.every((list, i) => list === was.of[i])) return was.row;
  const sorted = new Float64Array(lists.reduce((sum, { length }) => sum + length, 0));
  let filled = 0;
  for (const list of lists) for (const one of list) sorted[filled++] = typeof one === 'number' ? one : one.at;
  sorted.sort();
  const times: number[] = [];
  for (const at of sorted) if (times.length === 0 || at - times.at(-1)! > 1e-9) times.push(at);
  const row: SummaryRow = { is, role: is === 'role' ? name : undefined, name, times };
  summaries.set(`${is} ${name}`, { of: lists, row });
  return row;
}

/** Which property a track animates, and which number of it; −1 for all. */
export function placeOf(
  reel: Reel,
  role: string,
  rest: string,
): Pick<TrackRow, 'property' | 'channel' | 'kind'> | undefined {
  // A custom property may have a dot in it, so the longest name that is one counts.
  for (let end = rest.length; end > 0; end = rest.lastIndexOf('.', end - 1)) {
    const property = `${role}.${rest.slice(0, end)}`;
    const slot = reel.layout.find(property);
    if (!slot) continue;
    const channels: readonly string[] = KINDS[slot.kind].channels;
    return { property, kind: slot.kind, channel: end === rest.length ? -1 : channels.indexOf(rest.slice(end + 1)) };
  }
  return undefined;
}

const NO_KEYS: readonly KeyView[] = [];
const last = new Map<string, TrackRow>();

/** The previous row of this name if nothing about it has changed, so that its view is not rendered again. */
function asBefore(row: TrackRow): TrackRow {
  const was = last.get(row.name);
  const isSame = was && (Object.keys(row) as (keyof TrackRow)[]).every((name) => was[name] === row[name]);
  if (isSame) return was;
  last.set(row.name, row);
  return row;
}

/** All that a role has, in an order that does not change when something of it is keyed for the first time. */
function withUnanimated(doc: ReelDocument, reel: Reel, role: string, animated: readonly TrackRow[]): TrackRow[] {
  const { sheet, shapes = {} } = doc.roles?.[role] ?? {};
  const all = new Map<string, Kind>(USUAL.map(([name, kind]) => [`${role}.${name}`, kind]));
  if (sheet !== undefined) all.set(`${role}.frame`, 'integer');
  for (const [shape, { kind }] of Object.entries(shapes)) all.set(`${role}.${shape}`, kind);
  for (const slot of reel.layout.slots) if (slot.role === role) all.set(slot.name, slot.kind);
  return [...all].flatMap(([name, kind]): TrackRow[] => {
    const own = animated.filter(({ property }) => property === name);
    if (own.length > 0) return own;
    const still = { property: name, channel: -1, kind, keys: NO_KEYS, isOffset: false } as const;
    return [asBefore({ is: 'track', role, name, ...still })];
  });
}
