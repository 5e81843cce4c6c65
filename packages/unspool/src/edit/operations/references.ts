import type { ReelDocument } from '../../reel/document/document.js';
import { splitTrackName } from '../../reel/document/names.js';
import type { DocumentPath } from '../../reel/diagnostics/diagnostic-messages.js';
import { mapList, mapMembers, renameMembers, setMembers } from '../immutable.js';
import type { Thing } from '../operation.js';
import { dropFromRoutines, renameInRoutines, usesInRoutines, type Reference } from './routine-references.js';

/** Whether a track animates a role, or one of its shapes. */
const isOfRole = (track: string, role: string) => splitTrackName(track)?.[0] === role;
const isOfShape = (track: string, role: string, shape: string) => {
  const property = splitTrackName(track)?.[1];
  return isOfRole(track, role) && (property === shape || property?.startsWith(`${shape}.`) === true);
};

type Facing = NonNullable<ReelDocument['facings']>[string];
type Listed = Extract<Facing, readonly unknown[]>;
const isListed = (sides: Facing): sides is Listed => Array.isArray(sides);

/** Everywhere that a reel speaks of a thing. Tracks are spoken of by games alone. */
export function referencesTo(document: ReelDocument, thing: Thing): Reference[] {
  const uses: Reference[] = [];
  const add = (path: DocumentPath, summary: string) => uses.push({ path, summary });
  const { name } = thing;
  for (const [role, { parent, sheet }] of Object.entries(document.roles ?? {})) {
    if (thing.what === 'role' && parent === name) add(['roles', role, 'parent'], `the parent of the role ${role}`);
    if (thing.what === 'sheet' && sheet === name) add(['roles', role, 'sheet'], `the role ${role}`);
  }
  for (const [clip, { tracks = {}, parts = [] }] of Object.entries(document.clips)) {
    for (const track of Object.keys(tracks)) {
      const is =
        thing.what === 'role' ? isOfRole(track, name) : thing.what === 'shape' && isOfShape(track, thing.role, name);
      if (is) add(['clips', clip, 'tracks', track], `the track ${track} of ${clip}`);
    }
    parts.forEach((part, i) => {
      const roles = Object.entries(part.roles ?? {}).flat();
      const is = thing.what === 'clip' ? part.clip === name : thing.what === 'role' && roles.includes(name);
      if (is) add(['clips', clip, 'parts', i], `a part of ${clip}`);
    });
  }
  for (const [chain, links] of Object.entries(document.chains ?? {})) {
    links.forEach((link, i) => {
      const { clip, span = undefined } = typeof link === 'string' ? { clip: link } : link;
      const is = thing.what === 'clip' ? clip === name : thing.what === 'span' && clip === thing.clip && span === name;
      if (is) add(['chains', chain, i], `the chain ${chain}`);
    });
  }
  for (const [facing, sides] of Object.entries(document.facings ?? {})) {
    const list = isListed(sides) ? sides.map(({ clip }, i) => [i, clip] as const) : Object.entries(sides);
    for (const [side, clip] of list) {
      if (thing.what === 'clip' && clip === name) add(['facings', facing, side], `the facing ${facing}`);
    }
  }
  uses.push(...usesInRoutines(document, thing));
  return uses;
}

/** The document with every use of a thing's name made one of another. */
export function renameReferences(document: ReelDocument, thing: Thing, to: string): ReelDocument {
  const { name } = thing;
  const rename = (what: Thing['what']) => (summary: string) => (thing.what === what && summary === name ? to : summary);
  const [role, sheet, clip] = [rename('role'), rename('sheet'), rename('clip')];
  const track = (summary: string) => {
    if (thing.what === 'role') return isOfRole(summary, name) ? to + summary.slice(name.length) : summary;
    if (thing.what !== 'shape' || !isOfShape(summary, thing.role, name)) return summary;
    return `${thing.role}.${to}${summary.slice(thing.role.length + 1 + name.length)}`;
  };
  const roles = mapMembers(document.roles, (one) => {
    const { parent, sheet: summary } = one;
    const named = { ...(parent !== undefined && { parent: role(parent) }), ...(summary && { sheet: sheet(summary) }) };
    return named.parent === parent && named.sheet === summary ? one : { ...one, ...named };
  });
  const clips = mapMembers(document.clips, (one) => {
    const tracks = one.tracks && renameMembers(one.tracks, track);
    const parts =
      one.parts &&
      mapList(one.parts, (part) => {
        const inner = part.roles && mapMembers(renameMembers(part.roles, role), (summary) => role(summary));
        if (inner === part.roles && clip(part.clip) === part.clip) return part;
        return { ...part, clip: clip(part.clip), ...(inner && { roles: inner }) };
      });
    return tracks === one.tracks && parts === one.parts ? one : setMembers(one, { tracks, parts });
  });
  const chains = mapMembers(document.chains, (links) =>
    mapList(links, (link) => {
      if (typeof link === 'string') return clip(link);
      const span = thing.what === 'span' && link.clip === thing.clip && link.span === name ? to : link.span;
      return clip(link.clip) === link.clip && span === link.span
        ? link
        : { ...link, clip: clip(link.clip), ...(span !== undefined && { span }) };
    }),
  );
  const facings = mapMembers(document.facings, (sides): Facing => {
    if (!isListed(sides)) return mapMembers(sides, (side) => (typeof side === 'string' ? clip(side) : side));
    return mapList(sides, (side) => (clip(side.clip) === side.clip ? side : { ...side, clip: clip(side.clip) }));
  });
  return setMembers(document, { roles, clips, chains, facings, routines: renameInRoutines(document, thing, to) });
}

/** The document without anything that speaks of a thing: tracks, links, sides, parts and other mentions. */
export function dropReferences(document: ReelDocument, thing: Thing): ReelDocument {
  const { name } = thing;
  const isClip = (summary: string) => thing.what === 'clip' && summary === name;
  const roles = mapMembers(document.roles, (one) => {
    const parent = thing.what === 'role' && one.parent === name;
    const sheet = thing.what === 'sheet' && one.sheet === name;
    return parent || sheet
      ? setMembers(one, { ...(parent && { parent: undefined }), ...(sheet && { sheet: undefined }) })
      : one;
  });
  const paths = referencesTo(document, thing).map(({ path }) => path);
  const drops = (...path: DocumentPath) =>
    paths.some((one) => one.length === path.length && one.every((s, i) => s === path[i]));
  const clips = mapMembers(document.clips, (one, clip) => {
    const tracks = Object.keys(one.tracks ?? {}).filter((track) => drops('clips', clip, 'tracks', track));
    const parts = (one.parts ?? []).flatMap((part, i) => {
      if (!drops('clips', clip, 'parts', i)) return [part];
      if (thing.what === 'clip') return [];
      const kept = Object.entries(part.roles ?? {}).filter((pair) => !pair.includes(name));
      return [setMembers(part, { roles: kept.length > 0 ? Object.fromEntries(kept) : undefined })];
    });
    const rest = Object.entries(one.tracks ?? {}).filter(([track]) => !tracks.includes(track));
    return setMembers(one, {
      ...(tracks.length > 0 && { tracks: Object.fromEntries(rest) }),
      ...(one.parts && {
        parts:
          parts.every((part, i) => part === one.parts![i]) && parts.length === one.parts.length ? one.parts : parts,
      }),
    });
  });
  const chains = mapMembers(document.chains, (links, chain) =>
    links.flatMap((link, i) => {
      if (!drops('chains', chain, i)) return [link];
      return thing.what === 'clip' || typeof link === 'string' ? [] : [setMembers(link, { span: undefined })];
    }),
  );
  const facings = mapMembers(document.facings, (sides): Facing => {
    if (isListed(sides))
      return sides.some(({ clip }) => isClip(clip)) ? sides.filter(({ clip }) => !isClip(clip)) : sides;
    const named = Object.entries(sides);
    const gone = new Set(named.filter(([, side]) => typeof side === 'string' && isClip(side)).map(([side]) => side));
    const kept = named.filter(
      ([side, summary]) => !gone.has(side) && !(typeof summary === 'object' && gone.has(summary.mirror)),
    );
    return gone.size === 0 ? sides : Object.fromEntries(kept);
  });
  return setMembers(document, { roles, clips, chains, facings, routines: dropFromRoutines(document, thing) });
}
