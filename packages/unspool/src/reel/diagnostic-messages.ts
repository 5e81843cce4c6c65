import { FARTHEST, isNumber } from '../value/number.js';
import { list, suggest } from '../errors/nearest.js';
import { show } from '../errors/show.js';

/** A place in a document: member names and list indices from the root. */
export type Path = readonly (string | number)[];

export type Severity = 'error' | 'warning' | 'advice';

/** Every problem a reel can have, with the facts its message needs. Codes are public: add, never rename. */
export interface ProblemArgs {
  'reel/json': { message: string };
  'reel/empty': Record<string, never>;
  'reel/too-large': { bytes: number; limit: number };
  'reel/too-deep': { limit: number };
  'reel/too-many-keys': { count: number; limit: number };
  'reel/too-long': { seconds: number; limit: number };
  'reel/duplicate-member': { name: string };
  'reel/not-data': { value: unknown };
  'reel/not-finite': { value: number };
  'reel/forbidden-name': { name: string };
  'reel/type': { expected: string; value: unknown };
  'reel/choice': { value: unknown; known: readonly string[] };
  'reel/missing': { name: string };
  'reel/unknown-member': { name: string; known: readonly string[] };
  'reel/version': { value: unknown };
  'reel/name': { name: string };
  'reel/time': { value: unknown };
  'reel/negative-time': { value: unknown };
  'reel/positive': { value: unknown };
  'reel/negative': { value: unknown };
  'reel/whole': { value: unknown };
  'reel/unknown-role': { name: string; known: readonly string[] };
  'reel/unknown-sheet': { name: string; known: readonly string[] };
  'reel/unknown-clip': { name: string; known: readonly string[] };
  'reel/unknown-span': { name: string; clip: string; known: readonly string[] };
  'reel/unknown-side': { name: string; known: readonly string[] };
  'reel/unknown-mirror': { name: string; known: readonly string[] };
  'reel/no-direction': Record<string, never>;
  'reel/chain-endless': { clip: string; chain: string };
  'reel/chain-name': { name: string };
  'reel/parent-circle': { roles: readonly string[] };
  'reel/parent-depth': { limit: number };
  'reel/track-name': { name: string };
  'reel/near-property': { property: string; near: string };
  'reel/no-kind': { property: string; value: unknown };
  'reel/kind-conflict': { property: string; kind: string; other: string; place: string };
  'reel/kind-not-allowed': { property: string; kind: string; allowed: readonly string[] };
  'reel/value': { value: unknown; form: string; kind: string };
  'reel/whole-and-channel': { track: string; other: string };
  'reel/no-keys': { track: string };
  'reel/unknown-easing': { message: string; hint: string };
  'reel/key-order': { at: unknown; seconds: number; before: unknown; beforeSeconds: number };
  'reel/same-time': { at: unknown; seconds: number };
  'reel/no-channel': { property: string; channel: string; channels: readonly string[] };
  'reel/no-effect': { option: string; track: string; kind: string };
  'reel/offset-kind': { track: string; kind: string };
  'reel/handle': { value: unknown; width: number };
  'reel/handle-unused': { side: 'in' | 'out' };
  'reel/handle-folds': { side: 'in' | 'out'; dt: number; length: number };
  'reel/frames': { track: string; kind: string };
  'reel/frames-each': { each: unknown };
  'reel/frame-outside': { frame: number; sheet: string; cells: number };
  'reel/key-after-end': { at: unknown; duration: number };
  'reel/unseen-key': { track: string; value: string; at: number; until: number };
  'reel/cue-after-end': { name: string; at: unknown; duration: number };
  'reel/interval-order': { what: string; from: unknown; until: unknown };
  'reel/part-circle': { clips: readonly string[] };
  'reel/part-depth': { limit: number };
  'reel/part-rate': Record<string, never>;
  'reel/part-endless': { clip: string };
  'reel/part-overlap': { property: string; from: number; until: number; other: string };
  'reel/part-differs': { property: string; member: string; value: string; other: string; otherValue: string };
  'reel/part-kind': { property: string; kind: string; other: string; otherKind: string };
  'reel/too-many-cues': { count: number; limit: number };
  'reel/undeclared-shape': { role: string; property: string; kind: string };
  'reel/shape-name': { name: string };
  'reel/key-data': { track: string };
}

export type ProblemCode = keyof ProblemArgs;

/** Receives a problem while a document is read. `of: 'name'` points at the member's name, not at its value. */
export type Report = <C extends ProblemCode>(
  code: C,
  path: Path,
  args: ProblemArgs[C],
  severity?: Severity,
  of?: 'name' | 'value',
) => void;

type Message = readonly [message: string, hint: string];

const seconds = (n: number) => `${Number(n.toPrecision(6))} s`;

/** A time as written, with its seconds where it was written in another unit. */
const moment = (written: unknown, inSeconds: number) =>
  typeof written === 'string' ? `${show(written)} (${seconds(inSeconds)})` : seconds(inSeconds);

/** What is wrong, and what to do: one table for every message about a document. */
export const messages: { readonly [C in ProblemCode]: (args: ProblemArgs[C]) => Message } = {
  'reel/json': ({ message }) => [
    `this is not JSON: ${message}`,
    'mend the text here; commas, brackets and quotes are the usual suspects',
  ],
  'reel/empty': () => ['the file is empty', 'run `unspool new FILE` for a small reel to start from'],
  'reel/too-large': ({ bytes, limit }) => [
    `the text has ${bytes} bytes, more than the limit of ${limit}`,
    'split it into several reels',
  ],
  'reel/too-deep': ({ limit }) => [`the JSON is nested deeper than ${limit} levels`, 'flatten what is inside'],
  'reel/too-long': ({ seconds, limit }) => [
    `the clip lasts ${seconds} seconds, more than the limit of ${limit}, which is a day`,
    'write a shorter time; frames have an f behind them: "30f"',
  ],
  'reel/too-many-keys': ({ count, limit }) => [
    `the reel has ${count} keys, more than the limit of ${limit}`,
    'split it into several reels',
  ],
  'reel/duplicate-member': ({ name }) => [
    `${show(name)} is given twice here, and only the last would count`,
    'rename or remove one of the two',
  ],
  'reel/not-data': ({ value }) => [`${show(value)} cannot stand in a reel`, 'a reel is plain JSON data'],
  'reel/not-finite': ({ value }) => [`the number ${value} is not finite`, 'numbers in a reel are finite'],
  'reel/forbidden-name': ({ name }) => [`the name ${show(name)} belongs to JavaScript itself`, 'take another name'],
  'reel/type': ({ expected, value }) => [`here stands ${show(value)} instead of ${expected}`, `write ${expected}`],
  'reel/choice': ({ value, known }) => [
    `${show(value)} is none of the words that can stand here`,
    typeof value === 'string' ? suggest(value, known) : `there are: ${list(known)}`,
  ],
  'reel/missing': ({ name }) => [`the member ${show(name)} is missing`, `add ${show(name)}`],
  'reel/unknown-member': ({ name, known }) => [
    `no member is called ${show(name)} here`,
    `${suggest(name, known)} (members of your own begin with "x-")`,
  ],
  'reel/version': ({ value }) => [
    `the format version is ${show(value)}; this program reads version 1`,
    'begin the reel with "unspool": 1',
  ],
  'reel/name': ({ name }) => [`${show(name)} is no name`, 'use 1 to 64 letters, digits, "-" and "_"'],
  'reel/time': ({ value }) => [`${show(value)} is no time`, 'write seconds (0.15), or "9f", "0.15s", "150ms"'],
  'reel/negative-time': ({ value }) => [`the time ${show(value)} lies before 0`, 'a clip begins at 0'],
  'reel/positive': ({ value }) => [`${show(value)} is not greater than 0`, 'write a number greater than 0'],
  'reel/negative': ({ value }) => [`${show(value)} is less than 0`, 'write 0 or more'],
  'reel/whole': ({ value }) => [`${show(value)} is not a whole number that fits here`, 'write a whole number'],
  'reel/unknown-role': ({ name, known }) => [`no role is called ${show(name)}`, suggest(name, known)],
  'reel/unknown-sheet': ({ name, known }) => [`no sheet is called ${show(name)}`, suggest(name, known)],
  'reel/unknown-clip': ({ name, known }) => [`no clip is called ${show(name)}`, suggest(name, known)],
  'reel/unknown-span': ({ name, clip, known }) => [
    `the clip ${show(clip)} has no span ${show(name)}`,
    suggest(name, known),
  ],
  'reel/unknown-side': ({ name, known }) => [`no side is called ${show(name)}`, suggest(name, known)],
  'reel/unknown-mirror': ({ name, known }) => [`no side with a clip is called ${show(name)}`, suggest(name, known)],
  'reel/no-direction': () => ['[0, 0] is no direction', 'give [x, y], as [1, 0]'],
  'reel/chain-endless': ({ clip, chain }) => [
    `${show(clip)} loops for ever: the chain ${show(chain)} never goes on behind it`,
    'give it a count, as { "mode": "loop", "count": 2 }, or put it last',
  ],
  'reel/chain-name': ({ name }) => [`both a clip and a chain are called ${show(name)}`, 'rename one of them'],
  'reel/parent-circle': ({ roles }) => [
    `the parents go in a circle: ${roles.join(' → ')}`,
    'take one of the parents out',
  ],
  'reel/parent-depth': ({ limit }) => [`the parents go deeper than ${limit} levels`, 'hang the role higher up'],
  'reel/track-name': ({ name }) => [`${show(name)} names no role and property`, 'write it like "claw.rotation"'],
  'reel/near-property': ({ property, near }) => [
    `${show(property)} is read as a property of your own`,
    `did you mean ${show(near)}? if not, give the track a "kind"`,
  ],
  'reel/no-kind': ({ property, value }) => [
    `the value ${show(value)} does not tell of which kind ${show(property)} is`,
    'give the track a "kind", as { "kind": "color", "keys": […] }',
  ],
  'reel/kind-conflict': ({ property, kind, other, place }) => [
    `${property} is of kind ${kind} here, but ${other} at ${place}`,
    'a property has one kind throughout a reel',
  ],
  'reel/kind-not-allowed': ({ property, kind, allowed }) => [
    `${property} cannot be of kind ${kind}`,
    `it is ${allowed.join(' or ')}`,
  ],
  'reel/value': ({ value, form, kind }) => {
    const isFar = [value].flat().some((n) => typeof n === 'number' && !isNumber(n));
    return [`the value ${show(value)} is no ${kind}`, `write ${form}${isFar ? `, within ±${FARTHEST}` : ''}`];
  },
  'reel/whole-and-channel': ({ track, other }) => [
    `${track} and ${other} both set the same numbers`,
    'key the property whole or channel by channel, not both',
  ],
  'reel/no-keys': ({ track }) => [`the track ${track} has no keys`, 'give it a key at 0, or take it out'],
  'reel/unknown-easing': ({ message, hint }) => [message, hint],
  'reel/key-order': ({ at, seconds: now, before, beforeSeconds }) => [
    `the key at ${moment(at, now)} is written after the key at ${moment(before, beforeSeconds)}`,
    'put the keys in order of time',
  ],
  'reel/same-time': ({ at, seconds: now }) => [
    `two keys stand at ${moment(at, now)}`,
    'move or remove one; for a jump, let the key before it hold',
  ],
  'reel/no-channel': ({ property, channel, channels }) => [
    `${property} has no channel ${show(channel)} that could be keyed alone`,
    channels.length > 1 ? `it has ${channels.join(', ')}` : 'key the property whole',
  ],
  'reel/no-effect': ({ option, track, kind }) => [
    `"${option}" says nothing about ${track}, which is of kind ${kind}`,
    `take it out; "turn" is for angles, "mix" for colours`,
  ],
  'reel/offset-kind': ({ track, kind }) => [
    `${track} is of kind ${kind}, to which nothing can be added`,
    'leave "space" out, or write "absolute"',
  ],
  'reel/handle': ({ value, width }) => [
    `the handle ${show(value)} is not ${width === 1 ? 'a pair' : `a list of ${width} pairs`}`,
    width === 1 ? 'write [time, value], as ["3f", 10]' : 'write [[time, value], …] with a pair for each channel',
  ],
  'reel/handle-unused': ({ side }) => [
    `the handle "${side}" is not used: the segment ${side === 'out' ? 'after' : 'before'} this key is no curve`,
    side === 'out' ? 'write "ease": "curve" in this key' : 'write "ease": "curve" in the key before',
  ],
  'reel/handle-folds': ({ side, dt, length }) => [
    `the handle "${side}" reaches ${seconds(dt)} in a segment of ${seconds(length)}, and time would fold`,
    side === 'out'
      ? `it is used shortened; keep its time between 0 and ${seconds(length)}`
      : `it is used shortened; keep its time between ${seconds(-length)} and 0`,
  ],
  'reel/frames': ({ track, kind }) => [`${track} is of kind ${kind}, and "frames" are for integers`, 'write "value"'],
  'reel/frames-each': ({ each }) => [`each frame would last ${show(each)}`, 'give "each" a time greater than 0'],
  'reel/frame-outside': ({ frame, sheet, cells }) => [
    `frame ${frame} lies outside the sheet ${show(sheet)}, which has the cells 0 to ${cells - 1}`,
    'name a cell of the sheet, or correct its columns and rows',
  ],
  'reel/key-after-end': ({ at, duration }) => [
    `the key at ${show(at)} lies after the end of the clip at ${seconds(duration)} and is cut off`,
    'move the key, or lengthen "duration"',
  ],
  'reel/unseen-key': ({ track, value, at, until }) => [
    `the last key of ${track}, ${value} at ${seconds(at)}, is never shown: the loop starts again at that moment`,
    `give it time of its own: set "duration" to ${seconds(until)}, or delete the key`,
  ],
  'reel/cue-after-end': ({ name, at, duration }) => [
    `the cue ${show(name)} at ${show(at)} lies after the end of the clip at ${seconds(duration)} and never fires`,
    'move the cue, or lengthen "duration"',
  ],
  'reel/interval-order': ({ what, from, until }) => [
    `${what} ends at ${show(until)}, not after its start at ${show(from)}`,
    'let it end later than it starts',
  ],
  'reel/part-circle': ({ clips }) => [`the parts go in a circle: ${clips.join(' → ')}`, 'take one of the parts out'],
  'reel/part-depth': ({ limit }) => [`parts stand in parts deeper than ${limit} levels`, 'flatten what is inside'],
  'reel/part-rate': () => ['a part at rate 0 would never move', 'give it a rate, or a clip with one held pose'],
  'reel/part-endless': ({ clip }) => [
    `the part ${show(clip)} loops for ever`,
    'give it an "until" or a loop with a "count", or the clip around it a "duration"',
  ],
  'reel/part-overlap': ({ property, from, until, other }) => [
    `${property} is animated from ${seconds(from)} to ${seconds(until)} here, and in that time by ${other} too`,
    'move one of the two, or end it earlier with "until"',
  ],
  'reel/part-differs': ({ property, member, value, other, otherValue }) => [
    `${property} has "${member}": "${value}" here, and "${otherValue}" in ${other}; the earlier one's counts for both`,
    `give both tracks the same "${member}", or animate the property in one of the two`,
  ],
  'reel/part-kind': ({ property, kind, other, otherKind }) => [
    `${property} is of kind ${kind}, and would play ${other}, of kind ${otherKind}`,
    'let a role play it whose property has the same kind',
  ],
  'reel/too-many-cues': ({ count, limit }) => [
    `the clip has ${count} cues, those of its parts counted in, more than the limit of ${limit}`,
    'split the clip',
  ],
  'reel/undeclared-shape': ({ role, property, kind }) => [
    `${role}.${property} is a ${kind}, and the role has no such shape`,
    `add "shapes": { "${property}": { "kind": "${kind}" } } to the role ${role}`,
  ],
  'reel/shape-name': ({ name }) => [`a shape is called ${name}, as a property is`, 'give it a name of its own'],
  'reel/key-data': ({ track }) => [
    `"data" says nothing about ${track}, which is no whole shape`,
    'take it out; of hits, write it at a key that a shape becomes active with',
  ],
};
