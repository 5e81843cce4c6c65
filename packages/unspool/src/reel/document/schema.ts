import * as v from 'valibot';
import type { Time } from '../../time/units.js';
import { either, jsonAs, mapOf, members } from './schema-parts.js';
import { LOOP_MODES } from '../../time/iteration.js';
import { KIND_NAMES, SHAPE_KINDS, type Kind, type ShapeKind } from '../../value/kind.js';
import { isTime, NAME } from './names.js';
import { INPUT_KINDS, type InputKind } from './input-kinds.js';

/**
 * The reel format, version 1: the one source of the document's types, of the run-time check and of
 * `reel.schema.json`. What a schema cannot say (names that must exist, keys in order, values by kind) is checked in
 * `resolve.ts`. A validation's message here is the code of the problem that it reports.
 */
const time = jsonAs(v.custom<Time>(isTime, 'reel/time'), {
  description: 'Seconds, or a string with a unit: "9f" frames, "0.15s", "150ms".',
  anyOf: [{ type: 'number' }, { type: 'string', pattern: '^-?\\d{1,15}(\\.\\d{1,15})?(f|s|ms)$' }],
});

/** `about` on everything that has a name: free text for readers. */
const about = v.optional(v.string());
const name = v.pipe(v.string(), v.regex(NAME, 'reel/name'));
/** A map by names, and one by names of tracks or properties, which are checked where they are read. */
const map = <S extends v.GenericSchema>(schema: S) => mapOf(name, schema);
const dotted = <S extends v.GenericSchema>(schema: S) => mapOf(v.string(), schema);
const pair = <S extends v.GenericSchema>(schema: S) => v.strictTuple([schema, schema]);
const positive = v.pipe(v.number(), v.gtValue(0, 'reel/positive'));
const count = v.pipe(v.number(), v.minValue(0, 'reel/negative'));
const number = v.pipe(v.number(), v.finite('reel/not-finite'));
const whole = v.pipe(v.number(), v.integer('reel/whole'));
const cells = v.pipe(v.number(), v.integer('reel/whole'), v.minValue(1, 'reel/positive'));
const pixels = v.pipe(v.number(), v.integer('reel/whole'), v.minValue(0, 'reel/negative'));
const anything = jsonAs(
  v.custom<unknown>(() => true),
  {},
);

const shape = members({
  kind: v.picklist(SHAPE_KINDS as [ShapeKind]),
  tag: v.optional(name),
  data: v.optional(anything),
  about,
});

const role = members({
  about,
  parent: v.optional(name),
  sheet: v.optional(name),
  rest: v.optional(dotted(anything)),
  shapes: v.optional(map(shape)),
});

const gridSheet = members({
  about,
  image: v.string(),
  columns: cells,
  rows: cells,
  cell: pair(cells),
  margin: v.optional(pixels),
  spacing: v.optional(pixels),
});
/** A part of the picture. `origin`: the point of the cell that lies where the object is, in px from its top left corner. */
const freeCell = members({ x: pixels, y: pixels, width: cells, height: cells, origin: v.optional(pair(number)) });
const freeSheet = members({
  about,
  image: v.string(),
  cells: v.pipe(v.array(freeCell), v.minLength(1, 'reel/no-cells')),
});
const sheet = either([gridSheet, freeSheet], (input) => (hasMember(input, 'cells') ? 1 : 0));

const poseKey = members({
  at: time,
  value: anything,
  ease: v.optional(v.string()),
  in: v.optional(anything),
  out: v.optional(anything),
  data: v.optional(anything),
});
const framesKey = members({ at: time, frames: pair(whole), each: time });
const key = either([poseKey, framesKey], (input) => (hasMember(input, 'frames') ? 1 : 0));
const keys = v.pipe(v.array(key), v.minLength(1, 'reel/no-keys'));
const track = either(
  [
    keys,
    members({
      about,
      kind: v.optional(v.picklist(KIND_NAMES as [Kind])),
      space: v.optional(v.picklist(['absolute', 'offset'])),
      turn: v.optional(v.picklist(['literal', 'shortest'])),
      mix: v.optional(v.picklist(['srgb', 'linear', 'oklab'])),
      accumulate: v.optional(v.boolean()),
      keys,
    }),
  ],
  (input) => (Array.isArray(input) ? 0 : 1),
);

const mode = v.picklist(LOOP_MODES as ['once', 'loop', 'ping-pong']);
const loop = either([mode, members({ mode, count: v.optional(count) })], (input) =>
  typeof input === 'string' ? 0 : 1,
);

const cue = members({ at: time, until: v.optional(time), name, data: v.optional(anything), about });

const part = members({
  clip: name,
  at: time,
  until: v.optional(time),
  rate: v.optional(v.number()),
  loop: v.optional(loop),
  roles: v.optional(map(name)),
  about,
});

const clip = members({
  about,
  fps: v.optional(positive),
  duration: v.optional(time),
  loop: v.optional(loop),
  rate: v.optional(v.number()),
  after: v.optional(v.picklist(['hold', 'rest'])),
  tracks: v.optional(dotted(track)),
  cues: v.optional(v.array(cue)),
  spans: v.optional(map(pair(time))),
  parts: v.optional(v.array(part)),
});

const link = either(
  [
    name,
    members({
      clip: name,
      loop: v.optional(loop),
      rate: v.optional(v.number()),
      span: v.optional(name),
      fade: v.optional(time),
      about,
    }),
  ],
  (input) => (typeof input === 'string' ? 0 : 1),
);

const side = either([name, members({ mirror: name })], (input) => (typeof input === 'string' ? 0 : 1));
const facing = either([v.array(members({ toward: pair(v.number()), clip: name })), map(side)], (input) =>
  Array.isArray(input) ? 0 : 1,
);

/** A moment of a clip: a time, or the name of a cue or span. */
const moment = jsonAs(
  v.custom<string | number>((value) => isTime(value) || (typeof value === 'string' && NAME.test(value)), 'reel/time'),
  { description: 'A time, or the name of a cue or span.', anyOf: [{ type: 'number' }, { type: 'string' }] },
);

const input = members({
  about,
  kind: v.picklist(INPUT_KINDS as [InputKind]),
  value: v.optional(anything),
  keep: v.optional(time),
});
const compare = members({
  above: v.optional(number),
  below: v.optional(number),
  until: v.optional(number),
  equals: v.optional(anything),
  for: v.optional(time),
});
const condition = either([v.boolean(), number, compare], (value) =>
  typeof value === 'boolean' ? 0 : typeof value === 'number' ? 1 : 2,
);
const pick = either([name, members({ clip: name, share: v.optional(positive) })], (value) =>
  typeof value === 'string' ? 0 : 1,
);
const ruleMembers = {
  about,
  on: v.optional(name),
  if: v.optional(map(condition)),
  during: v.optional(members({ rule: name, span: v.optional(name), cue: v.optional(name) })),
  play: v.optional(
    either([name, v.pipe(v.array(pick), v.minLength(1, 'reel/no-clips'))], (value) =>
      typeof value === 'string' ? 0 : 1,
    ),
  ),
  face: v.optional(name),
  toward: v.optional(name),
  rate: v.optional(
    either([number, members({ input: name, at: number })], (value) => (typeof value === 'number' ? 0 : 1)),
  ),
  loop: v.optional(loop),
  span: v.optional(name),
  from: v.optional(moment),
  until: v.optional(moment),
  fade: v.optional(time),
  fadeOut: v.optional(time),
  layer: v.optional(name),
  free: v.optional(name),
};
const rule = members({ name, ...ruleMembers });
const routine = members({ about, inputs: v.optional(map(input)), rules: v.array(rule) });

export const reelSchema = members({
  $schema: v.optional(v.string()),
  unspool: v.literal(1, 'reel/version'),
  name: v.optional(v.string()),
  about,
  fps: v.optional(positive),
  roles: v.optional(map(role)),
  sheets: v.optional(map(sheet)),
  clips: map(clip),
  chains: v.optional(map(v.array(link))),
  facings: v.optional(map(facing)),
  routines: v.optional(map(routine)),
});

/** The parts of the schema, for code that reads less than a whole reel: operations. */
export const documents = {
  role,
  sheet,
  shape,
  track,
  clip,
  cue,
  part,
  chain: v.array(link),
  facing,
  routine,
  input,
  rule: members(ruleMembers),
  key,
  loop,
};
export const words = { time, name, pair, dotted, map, anything, positive };

function hasMember(input: unknown, member: string): boolean {
  return typeof input === 'object' && input !== null && member in input;
}
