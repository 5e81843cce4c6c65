import * as v from 'valibot';
import type { Frozen, ReelDocument } from '../reel/document/document.js';
import { documents, words } from '../reel/document/schema.js';
import { either, members } from '../reel/document/schema-parts.js';
import type { Time } from '../time/units.js';
import type { Change } from './patch.js';

/**
 * What can be done to a reel. Each operation is plain JSON that names what it does in `do`, and its target by names
 * and times, because indices in lists shift. This schema is the single source of their types and of the check at the
 * entry.
 */
const { time, name, pair, dotted, anything } = words;
const { role, sheet, shape, track, clip, chain, facing, routine, input, rule, loop } = documents;
const flag = v.optional(v.boolean());
/** What moves along that is later: keys of the same tracks, of their roles, or everything. */
/** Whether a key that is put after the end of the clip makes it longer. */
const lengthen = flag;
const ripple = v.optional(v.picklist(['track', 'role', 'clip']));
const text = v.string();
const number = v.pipe(v.number(), v.finite('reel/not-finite'));
const times = v.array(time);

/** Which keys: of all tracks, of the named tracks, or per track. */
const selection = {
  clip: name,
  /** Track names, with `*` for any characters. Default: the whole clip. */
  tracks: v.optional(v.array(text)),
  /** Keys by track: their times, or all of them. Instead of `tracks`. */
  keys: v.optional(dotted(either([v.literal('all'), times], (input) => (Array.isArray(input) ? 1 : 0)))),
  /** Only keys at these times, or between two times, both inclusive. */
  at: v.optional(times),
  from: v.optional(time),
  until: v.optional(time),
  /** Cues, spans and parts of the clip as well. Default: when neither `tracks` nor `keys` is given. */
  cues: flag,
};

/** Things with names, and what contains them. */
const things = {
  role: { what: v.literal('role'), name },
  sheet: { what: v.literal('sheet'), name },
  clip: { what: v.literal('clip'), name },
  chain: { what: v.literal('chain'), name },
  facing: { what: v.literal('facing'), name },
  routine: { what: v.literal('routine'), name },
  input: { what: v.literal('input'), routine: name, name },
  rule: { what: v.literal('rule'), routine: name, name },
  track: { what: v.literal('track'), clip: name, name: text },
  shape: { what: v.literal('shape'), role: name, name },
  span: { what: v.literal('span'), clip: name, name },
  cue: { what: v.literal('cue'), clip: name, name, at: v.optional(time) },
  part: { what: v.literal('part'), clip: name, name, at: v.optional(time) },
};
type What = keyof typeof things;
const WHATS = Object.keys(things) as What[];
const values = {
  ...{ role, sheet, shape, track, clip, chain, facing, routine, input, rule, span: pair(time) },
  // Their names and times are the thing's own.
  cue: members({ until: v.optional(time), data: v.optional(anything), about: v.optional(text) }),
  part: members({
    until: v.optional(time),
    rate: v.optional(number),
    loop: v.optional(loop),
    roles: v.optional(dotted(name)),
    about: v.optional(text),
  }),
};

/** One operation per type of thing, distinguished by `what`. */
function forThing(verb: string, extra: (what: What) => v.ObjectEntries): v.GenericSchema {
  const options = WHATS.map((what) => members({ do: v.literal(verb), ...things[what], ...extra(what) }));
  const unknown = members({ do: v.literal(verb), what: v.picklist(WHATS as ['role']) });
  const place = (input: unknown) => WHATS.indexOf((input as { what: What }).what);
  return either([unknown, ...options], (input) => place(input) + 1);
}

/** Something with a name in a reel: its type (`what`), its name, and what contains it. */
export type Thing =
  | { readonly what: 'role' | 'sheet' | 'clip' | 'chain' | 'facing' | 'routine'; readonly name: string }
  | { readonly what: 'input'; readonly routine: string; readonly name: string }
  | { readonly what: 'rule'; readonly routine: string; readonly name: string }
  | { readonly what: 'track' | 'span'; readonly clip: string; readonly name: string }
  | { readonly what: 'shape'; readonly role: string; readonly name: string }
  /** Without a time, the first of that name. The name of a part is that of the clip that it plays. */
  | { readonly what: 'cue' | 'part'; readonly clip: string; readonly name: string; readonly at?: Time | undefined };

const perChannel = either([number, v.array(number)], (input) => (Array.isArray(input) ? 1 : 0));
const ease = v.optional(text);

const schemas = {
  add: forThing('add', (what) => ({ value: v.optional(values[what]), before: v.optional(text) })),
  remove: forThing('remove', () => ({ withUses: flag })),
  rename: forThing('rename', () => ({ to: text })),
  change: forThing('change', () => ({ to: anything })),
  reorder: forThing('reorder', () => ({ before: v.optional(text) })),
  'copy-clip': members({ do: v.literal('copy-clip'), clip: name, to: name }),

  'insert-key': members({
    do: v.literal('insert-key'),
    clip: name,
    track: text,
    at: time,
    value: v.optional(anything),
    ease,
    tolerance: v.optional(number),
    lengthen,
  }),
  'put-key': members({
    do: v.literal('put-key'),
    clip: name,
    track: text,
    at: time,
    value: anything,
    first: v.optional(anything),
    ease,
    lengthen,
  }),
  'remove-keys': members({ do: v.literal('remove-keys'), ...selection }),
  'set-keys': members({
    do: v.literal('set-keys'),
    ...selection,
    value: v.optional(anything),
    ease: v.optional(v.nullable(text)),
    in: v.optional(anything),
    out: v.optional(anything),
    data: v.optional(anything),
  }),
  paste: members({
    do: v.literal('paste'),
    clip: name,
    at: time,
    tracks: dotted(track),
    /** Of the clip that they were copied from: what its frames are. */
    fps: v.optional(number),
    roles: v.optional(dotted(name)),
    lengthen,
  }),

  'move-keys': members({ do: v.literal('move-keys'), ...selection, by: time, ripple, lengthen }),
  'scale-times': members({
    do: v.literal('scale-times'),
    ...selection,
    factor: number,
    about: v.optional(time),
    ripple,
    lengthen,
  }),
  fit: members({ do: v.literal('fit'), clip: name, duration: time }),
  snap: members({ do: v.literal('snap'), ...selection, grid: v.optional(time) }),
  trim: members({
    do: v.literal('trim'),
    clip: name,
    from: v.optional(time),
    until: v.optional(time),
    tolerance: v.optional(number),
  }),
  /** Of the named tracks, or of all that the clip has. */
  'insert-time': members({
    do: v.literal('insert-time'),
    clip: name,
    at: time,
    by: time,
    tracks: v.optional(v.array(text)),
  }),
  'remove-time': members({
    do: v.literal('remove-time'),
    clip: name,
    from: time,
    until: time,
    tracks: v.optional(v.array(text)),
  }),
  extend: members({ do: v.literal('extend'), clip: name, until: time }),
  reverse: members({ do: v.literal('reverse'), clip: name }),
  stagger: members({ do: v.literal('stagger'), clip: name, tracks: v.array(text), by: time, lengthen }),

  'simplify-keys': members({ do: v.literal('simplify-keys'), ...selection, tolerance: number }),
  'add-values': members({ do: v.literal('add-values'), ...selection, by: perChannel }),
  'scale-values': members({
    do: v.literal('scale-values'),
    ...selection,
    factor: perChannel,
    about: v.optional(perChannel),
  }),
  mirror: members({
    do: v.literal('mirror'),
    clip: name,
    axis: v.optional(v.picklist(['x', 'y'])),
    swap: v.optional(v.array(pair(text))),
  }),
  'split-channels': members({ do: v.literal('split-channels'), clip: name, track: text }),
  'join-channels': members({ do: v.literal('join-channels'), clip: name, track: text }),
  'match-ends': members({
    do: v.literal('match-ends'),
    clip: name,
    tracks: v.optional(v.array(text)),
    speed: flag,
  }),
};

export const OPERATION_NAMES = [...Object.keys(schemas), 'group', 'patch'] as readonly OperationName[];

/** The schema of an operation; groups and patches are checked where they are applied. */
export function schemaOf(name: string): v.GenericSchema | undefined {
  return Object.hasOwn(schemas, name) ? schemas[name as keyof typeof schemas] : undefined;
}

type Schemas = typeof schemas;
type Simple = Exclude<keyof Schemas, 'add' | 'remove' | 'rename' | 'change' | 'reorder'>;

/** The operations by name, with their members. */
export type Operations = {
  readonly [N in Simple]: Frozen<v.InferInput<Schemas[N]>>;
} & {
  readonly add: Thing & { readonly do: 'add'; readonly value?: unknown; readonly before?: string };
  readonly remove: Thing & { readonly do: 'remove'; readonly withUses?: boolean };
  readonly rename: Thing & { readonly do: 'rename'; readonly to: string };
  readonly change: Thing & { readonly do: 'change'; readonly to: unknown };
  readonly reorder: Thing & { readonly do: 'reorder'; readonly before?: string };
  /** Several operations as one step: all of them apply, or none. `said` is the text of the step in the history. */
  readonly group: { readonly do: 'group'; readonly said?: string; readonly operations: readonly Operation[] };
  /** Exact changes, such as the inverse of an operation. */
  readonly patch: { readonly do: 'patch'; readonly said: string; readonly changes: readonly Change[] };
};
/** An edit of a reel as plain JSON: `do` names it. See `edit`. */
export type Operation = Operations[keyof Operations];
/** What `do` of an operation can be. */
export type OperationName = keyof Operations;

/** What an operation makes of a document, and its sentence. */
export type Applied = readonly [doc: ReelDocument, summary: string];
