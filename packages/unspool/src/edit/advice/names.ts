import type { ReelDocument } from '../../reel/document/document.js';
import { splitTrackName } from '../../reel/document/names.js';
import type { DocumentPath } from '../../reel/diagnostics/diagnostic-messages.js';
import type { Operation, Thing } from '../operation.js';
import { referencesTo } from '../operations/references.js';
import type { Finding } from './advice.js';

interface Named {
  readonly what: string;
  readonly name: string;
  readonly path: DocumentPath;
}

/** All names by kind: names of one kind must not be confused. */
function namesOf(document: ReelDocument): Named[] {
  const { roles = {}, sheets = {}, clips, chains = {}, facings = {}, routines = {} } = document;
  const of = (what: string, map: object, ...path: DocumentPath): Named[] =>
    Object.keys(map).map((name) => ({ what, name, path: [...path, name] }));
  return [
    ...of('role', roles, 'roles'),
    ...Object.entries(roles).flatMap(([role, { shapes = {} }]) =>
      of(`shape of ${role}`, shapes, 'roles', role, 'shapes'),
    ),
    ...of('sheet', sheets, 'sheets'),
    // Clips and chains are played by one call.
    ...of('clip', clips, 'clips'),
    ...of('clip', chains, 'chains'),
    ...of('facing', facings, 'facings'),
    ...of('routine', routines, 'routines'),
    ...Object.entries(clips).flatMap(([clip, { cues = [], spans = {}, tracks = {} }]) => [
      ...cues.map(({ name }, i) => ({ what: 'cue', name, path: ['clips', clip, 'cues', i, 'name'] })),
      ...of(`span of ${clip}`, spans, 'clips', clip, 'spans'),
      ...Object.keys(tracks).map((track) => ({
        what: 'property',
        name: splitTrackName(track)![1],
        path: ['clips', clip, 'tracks', track],
      })),
    ]),
  ];
}

/** Names that differ only in case: one of them is probably misspelled and silently does nothing. */
export function caseOnly(document: ReelDocument): Finding[] {
  const seen = new Map<string, Named>();
  const reported = new Set<string>();
  return namesOf(document).flatMap((one): Finding[] => {
    const key = `${one.what} ${one.name.toLowerCase()}`;
    const first = seen.get(key);
    if (!first) seen.set(key, one);
    if (!first || first.name === one.name || reported.has(`${one.what} ${one.name}`)) return [];
    reported.add(`${one.what} ${one.name}`);
    const message = `the ${one.what} ${JSON.stringify(one.name)} differs from ${JSON.stringify(first.name)} only in case`;
    return [
      {
        code: 'case-only',
        path: one.path,
        of: 'name',
        message,
        hint: 'use one name, or two that cannot be confused',
      },
    ];
  });
}

/**
 * What nothing uses: sheets that no role is drawn from, roles that no clip animates and nothing hangs on, clips that are
 * empty; and, where it is known what a game speaks of, clips, cues and spans that it never does.
 */
export function unused(document: ReelDocument, spoken: ((name: string) => boolean) | undefined): Finding[] {
  const found: Finding[] = [];
  const add = (thing: Thing, path: DocumentPath, message: string, fix = true) => {
    const operation: Operation = { do: 'remove', ...thing };
    const hint = `use the ${thing.what} or remove it`;
    found.push({ code: 'unused', path, of: 'name', message, hint, ...(fix && { fix: [operation] }) });
  };
  const free = (thing: Thing) => referencesTo(document, thing).length === 0;
  for (const name of Object.keys(document.sheets ?? {})) {
    const thing: Thing = { what: 'sheet', name };
    if (free(thing)) add(thing, ['sheets', name], `no role uses the sheet ${JSON.stringify(name)}`);
  }
  for (const [name, { shapes = {} }] of Object.entries(document.roles ?? {})) {
    const thing: Thing = { what: 'role', name };
    if (free(thing)) add(thing, ['roles', name], `no clip animates the role ${JSON.stringify(name)}`);
    else {
      for (const shape of Object.keys(shapes)) {
        const one: Thing = { what: 'shape', role: name, name: shape };
        if (free(one))
          add(
            one,
            ['roles', name, 'shapes', shape],
            `no clip animates the shape ${name}.${shape}, so it is never active`,
          );
      }
    }
  }
  for (const [name, clip] of Object.entries(document.clips)) {
    const { tracks = {}, cues = [], spans = {}, parts = [] } = clip;
    const thing: Thing = { what: 'clip', name };
    const isEmpty = Object.keys(tracks).length + cues.length + parts.length === 0;
    if (isEmpty && !clip.duration)
      add(thing, ['clips', name], `the clip ${JSON.stringify(name)} is empty`, free(thing));
    if (!spoken) continue;
    if (!spoken(name) && free(thing))
      add(thing, ['clips', name], `the game never plays the clip ${JSON.stringify(name)}`);
    cues.forEach((cue, i) => {
      const one: Thing = { what: 'cue', clip: name, name: cue.name, at: cue.at };
      if (!spoken(cue.name) && free(one))
        add(
          one,
          ['clips', name, 'cues', i, 'name'],
          `the game never uses the cue ${JSON.stringify(cue.name)} of ${name}`,
        );
    });
    for (const span of Object.keys(spans)) {
      const one: Thing = { what: 'span', clip: name, name: span };
      if (!spoken(span) && free(one))
        add(one, ['clips', name, 'spans', span], `the game never plays the span ${JSON.stringify(span)} of ${name}`);
    }
  }
  return found;
}
