import { withHint } from '../../errors/sentence.js';
import type { CueDocument, ReelDocument, RoutineDocument } from '../../reel/document/document.js';
import { parseTime } from '../../time/units.js';
import { suggest } from '../../errors/nearest.js';
import { show } from '../../errors/show.js';
import { insertMember, renameMembers, setMembers, withoutMember } from '../immutable.js';
import type { Operations, Thing, Applied } from '../operation.js';
import { refuse } from '../refusal.js';
import { formatTime, secondsOf } from '../format-values.js';
import { renameInRoutines } from './routine-references.js';
import { dropReferences, renameReferences, referencesTo } from './references.js';
import { addRule, changeRule, removeRule, renameRule, reorderRule, routineIn, withRoutine } from './rules.js';
import { clipIn, pluralize, fpsIn, isMoment, withClip } from '../document-access.js';

type Members = Readonly<Record<string, unknown>>;
type Part = NonNullable<ReelDocument['clips'][string]['parts']>[number];
type Listed = CueDocument | Part;

/** Where named things are in a reel, except cues and parts, which are in lists. */
const MAPS = {
  role: 'roles',
  sheet: 'sheets',
  clip: 'clips',
  chain: 'chains',
  facing: 'facings',
  routine: 'routines',
} as const;

/** `the track claw.rotation of snap` */
function describe(thing: Thing): string {
  const { what, name } = thing;
  const at = 'at' in thing && thing.at !== undefined ? ` at ${formatTime(thing.at)}` : '';
  const owner =
    'clip' in thing
      ? ` of ${thing.clip}`
      : 'role' in thing
        ? ` of ${thing.role}`
        : 'routine' in thing
          ? ` of ${thing.routine}`
          : '';
  return `the ${what} ${name}${at}${owner}`;
}

/** What has a name in a map, and not a place in a list. */
type Mapped = Exclude<Thing, { readonly what: 'cue' | 'part' | 'rule' }>;

/** Whether its map is a member of the reel itself. */
function isOfReel(thing: Mapped): thing is Mapped & { readonly what: keyof typeof MAPS } {
  return Object.hasOwn(MAPS, thing.what);
}

function mapOf(document: ReelDocument, thing: Mapped): Members {
  if (isOfReel(thing)) return document[MAPS[thing.what]] ?? {};
  switch (thing.what) {
    case 'track':
      return clipIn(document, thing.clip).tracks ?? {};
    case 'span':
      return clipIn(document, thing.clip).spans ?? {};
    case 'shape':
      return roleIn(document, thing.role).shapes ?? {};
    case 'input':
      return routineIn(document, thing.routine).inputs ?? {};
  }
}

function roleIn(document: ReelDocument, name: string) {
  const roles = document.roles ?? {};
  if (Object.hasOwn(roles, name)) return roles[name]!;
  throw refuse('edit/unknown-role', withHint(`unknown role ${show(name)}`, suggest(name, Object.keys(roles))));
}

function withMap(document: ReelDocument, thing: Mapped, map: Members): ReelDocument {
  if (isOfReel(thing)) return { ...document, [MAPS[thing.what]]: map };
  const put = (name: string, clip: object) => withClip(document, name, clip);
  switch (thing.what) {
    case 'track':
      return put(thing.clip, { ...clipIn(document, thing.clip), tracks: map });
    case 'span':
      return put(thing.clip, { ...clipIn(document, thing.clip), spans: map });
    case 'input':
      return withRoutine(document, thing.routine, { inputs: map as RoutineDocument['inputs'] & {} });
    case 'shape': {
      const role = { ...roleIn(document, thing.role), shapes: map } as ReturnType<typeof roleIn>;
      return { ...document, roles: { ...document.roles, [thing.role]: role } };
    }
  }
}

/** Cues and parts: the list, and where in it the one is that is meant. */
function listOf(document: ReelDocument, thing: Thing & { readonly what: 'cue' | 'part' }) {
  const clip = clipIn(document, thing.clip);
  const fps = fpsIn(document, clip);
  const list: readonly Listed[] = (thing.what === 'cue' ? clip.cues : clip.parts) ?? [];
  const nameOf = (one: Listed) => ('clip' in one ? one.clip : one.name);
  const index = list.findIndex((one) => {
    const here = thing.at === undefined || isMoment(parseTime(one.at, fps)!, secondsOf(thing.at, fps));
    return nameOf(one) === thing.name && here;
  });
  const put = (next: readonly Listed[]) =>
    withClip(document, thing.clip, { ...clip, [thing.what === 'cue' ? 'cues' : 'parts']: next });
  const there = list.map((one) => `${nameOf(one)} at ${formatTime(one.at)}`);
  return { list, index, fps, put, there };
}

function isListed(thing: Thing): thing is Thing & { readonly what: 'cue' | 'part' } {
  return thing.what === 'cue' || thing.what === 'part';
}

function unknown(thing: Thing, known: readonly string[]): Error {
  const found = isListed(thing) ? `Use one of: ${known.join(', ') || 'none'}.` : suggest(thing.name, known);
  return refuse(`edit/unknown-${thing.what}`, `unknown ${describe(thing).slice(4)}. ${found}`);
}

export function addThing(document: ReelDocument, operation: Operations['add']): Applied {
  const { value, before } = operation;
  const sentence = `added ${describe(operation)}`;
  if (isListed(operation)) {
    const { what, name, at } = operation;
    if (at === undefined) throw refuse('edit/operation', `the ${what} ${show(name)} has no time. Set "at".`);
    const { list, put, fps } = listOf(document, operation);
    const named = what === 'cue' ? { at, name } : { clip: name, at };
    const one = { ...named, ...(value as object | undefined) } as Listed;
    const seconds = secondsOf(at, fps);
    const later = list.findIndex((other) => parseTime(other.at, fps)! > seconds);
    return [put(list.toSpliced(later < 0 ? list.length : later, 0, one)), sentence];
  }
  if (operation.what === 'rule') return [addRule(document, operation, value, before), sentence];
  const map = operation.what === 'role' ? rolesOf(document) : mapOf(document, operation);
  if (Object.hasOwn(map, operation.name))
    throw refuse('edit/name-taken', `${describe(operation)} already exists. Use another name.`);
  if (value === undefined && operation.what !== 'role' && operation.what !== 'clip')
    throw refuse('edit/operation', `${describe(operation)} has no "value". Set it.`);
  return [withMap(document, operation, insertMember(map, operation.name, value ?? {}, before)), sentence];
}

/** The roles; of a reel that has none written, those that its tracks speak of, as one that is added must not be alone. */
function rolesOf(document: ReelDocument): Members {
  if (document.roles) return document.roles;
  const tracks = Object.values(document.clips).flatMap(({ tracks = {} }) => Object.keys(tracks));
  return Object.fromEntries(tracks.map((track) => [track.slice(0, track.indexOf('.')), {}]));
}

export function removeThing(document: ReelDocument, operation: Operations['remove']): Applied {
  const sentence = `removed ${describe(operation)}`;
  if (isListed(operation)) {
    const { list, index, put, there } = listOf(document, operation);
    if (index < 0) throw unknown(operation, there);
    return [put(list.toSpliced(index, 1)), sentence];
  }
  if (operation.what !== 'rule') {
    const map = mapOf(document, operation);
    if (!Object.hasOwn(map, operation.name)) throw unknown(operation, Object.keys(map));
  }
  const uses = referencesTo(document, operation);
  if (uses.length === 0) return [withoutThing(document, operation), sentence];
  if (!operation.withUses) {
    const users = uses.slice(0, 3).map((use) => use.summary);
    const more = uses.length > 3 ? ` and ${uses.length - 3} more` : '';
    const hint = 'Remove these first, or set "withUses".';
    throw refuse('edit/in-use', `${describe(operation)} is used by ${users.join(', ')}${more}. ${hint}`);
  }
  const dropped = dropReferences(document, operation);
  return [withoutThing(dropped, operation), `${sentence} and ${pluralize(uses.length, 'use')} of it`];
}

function withoutThing(document: ReelDocument, thing: Exclude<Thing, { readonly what: 'cue' | 'part' }>): ReelDocument {
  if (thing.what === 'rule') return removeRule(document, thing);
  return withMap(document, thing, withoutMember(mapOf(document, thing), thing.name));
}

export function renameThing(document: ReelDocument, operation: Operations['rename']): Applied {
  const { to, name } = operation;
  const sentence = `renamed ${describe(operation)} to ${to}`;
  if (isListed(operation)) {
    const { list, index, put, there } = listOf(document, operation);
    if (index < 0) throw unknown(operation, there);
    const one = list[index]!;
    if ('clip' in one) return [put(list.with(index, { ...one, clip: to })), sentence];
    const routines = renameInRoutines(document, operation, to);
    return [setMembers(put(list.with(index, { ...one, name: to })), { routines }), sentence];
  }
  if (operation.what === 'rule') {
    const used = renameReferences(document, operation, to);
    return [renameRule(used, operation, to), sentence];
  }
  // A role that only tracks speak of has no member of its own.
  const spoken = operation.what === 'role' && !document.roles;
  const map = spoken ? rolesOf(document) : mapOf(document, operation);
  if (!Object.hasOwn(map, name)) throw unknown(operation, Object.keys(map));
  if (to !== name && Object.hasOwn(map, to))
    throw refuse('edit/name-taken', `${describe({ ...operation, name: to })} already exists. Use another name.`);
  const used = renameReferences(document, operation, to);
  if (spoken) return [used, sentence];
  const renamed = renameMembers(mapOf(used, operation), (other) => (other === name ? to : other));
  return [withMap(used, operation, renamed), sentence];
}

export function changeThing(document: ReelDocument, operation: Operations['change']): Applied {
  const { to, name, what } = operation;
  const isWhole = what === 'chain' || what === 'facing' || what === 'span';
  if (!isWhole && (typeof to !== 'object' || to === null || Array.isArray(to)))
    throw refuse(
      'edit/operation',
      `expected an object in "to", found ${show(to)}. Pass the members to change, and null for those to remove.`,
    );
  const members = isWhole ? {} : fromNull(to as object);
  const sentence = `changed ${isWhole ? '' : `${Object.keys(members).join(', ')} of `}${describe(operation)}`;
  if (isListed(operation)) {
    const { list, index, put, there } = listOf(document, operation);
    if (index < 0) throw unknown(operation, there);
    return [put(list.with(index, setMembers(list[index]!, members))), sentence];
  }
  if (operation.what === 'rule') return [changeRule(document, operation, members), sentence];
  const map = mapOf(document, operation);
  if (!Object.hasOwn(map, name)) throw unknown(operation, Object.keys(map));
  const value = map[name] as object;
  // A track that is a plain list has room for options in the longer form only.
  const owner = what === 'track' && Array.isArray(value) ? { keys: value } : value;
  const next: unknown = isWhole ? to : setMembers(owner, members);
  const only = what === 'track' && Object.keys(next as object).join() === 'keys';
  return [withMap(document, operation, { ...map, [name]: only ? (next as { keys: unknown }).keys : next }), sentence];
}

/** Puts something before another of its kind, or last. The order of roles is that in which they are drawn. */
export function reorderThing(document: ReelDocument, operation: Operations['reorder']): Applied {
  const { name, before } = operation;
  if (isListed(operation))
    throw refuse('edit/operation', `${describe(operation)} has its place by its time. Change "at" instead.`);
  if (operation.what === 'rule') {
    const next = reorderRule(document, operation, before);
    return [next, `put ${describe(operation)} ${before === undefined ? 'last' : `before ${before}`}`];
  }
  const map = operation.what === 'role' ? rolesOf(document) : mapOf(document, operation);
  if (!Object.hasOwn(map, name)) throw unknown(operation, Object.keys(map));
  if (before !== undefined && !Object.hasOwn(map, before))
    throw unknown({ ...operation, name: before }, Object.keys(map));
  const others = withoutMember(map, name);
  const made = insertMember(others, name, map[name], before === name ? undefined : before);
  const where = before === undefined ? 'last' : `before ${before}`;
  return [withMap(document, operation, made), `put ${describe(operation)} ${where}`];
}

/** `null` takes a member out. */
function fromNull(to: object): Record<string, unknown> {
  return Object.fromEntries(
    Object.entries(to).map(([name, value]) => [name, value === null ? undefined : (value as unknown)]),
  );
}

/** Duplicates a clip under another name, after the original. */
export function copyClip(document: ReelDocument, { clip: name, to }: Operations['copy-clip']): Applied {
  const clip = clipIn(document, name);
  if (Object.hasOwn(document.clips, to))
    throw refuse('edit/name-taken', `the clip ${show(to)} already exists. Use another name.`);
  const names = Object.keys(document.clips);
  const clips = insertMember(document.clips, to, clip, names[names.indexOf(name) + 1]);
  return [{ ...document, clips }, `copied ${name} to ${to}`];
}
