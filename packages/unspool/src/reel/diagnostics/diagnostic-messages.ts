import { FARTHEST, isNumber } from '../../value/number.js';
import { list, suggest } from '../../errors/nearest.js';
import { show, showRange, showSeconds as seconds } from '../../errors/show.js';

/** A place in a document: member names and list indices from the root. */
export type DocumentPath = readonly (string | number)[];

/** `error`: the reel cannot be played. `warning`: probably a mistake. `advice`: could be better. */
export type Severity = 'error' | 'warning' | 'advice';

/** Every problem a reel can have, with the facts its message needs. Codes are public: add, never rename. */
export interface ProblemArgs {
  'reel/json': { message: string };
  'reel/empty': Record<string, never>;
  'reel/too-large': { bytes: number; limit: number };
  'reel/too-deep': { limit: number };
  'reel/too-many-keys': { count: number; limit: number };
  'reel/too-long': { length: number; limit: number };
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
  'reel/no-cells': { sheet: string };
  'reel/unknown-easing': { message: string; hint: string };
  'reel/key-order': { at: unknown; seconds: number; before: unknown; beforeSeconds: number };
  'reel/same-time': { at: unknown; seconds: number };
  'reel/no-channel': { property: string; channel: string; channels: readonly string[] };
  'reel/no-effect': { option: string; track: string; kind: string };
  'reel/offset-kind': { track: string; kind: string };
  'reel/accumulate-kind': { track: string; kind: string };
  'reel/handle': { value: unknown; width: number };
  'reel/handle-unused': { side: 'in' | 'out' };
  'reel/handle-folds': { side: 'in' | 'out'; dt: number; length: number };
  'reel/frames': { track: string; kind: string };
  'reel/frames-each': { each: unknown };
  'reel/frame-outside': { frame: number; sheet: string; cells: number };
  'reel/key-after-end': { at: number; duration: number };
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
  'reel/no-clips': Record<string, never>;
  'reel/input-value': { value: unknown; kind: string };
  'reel/input-keep': { name: string; kind: string };
  'reel/unknown-input': { name: string; known: readonly string[]; needs: string };
  'reel/condition': { input: string; kind: string; value: unknown };
  'reel/thresholds': { test: string; than: number; until: number };
  'reel/rule-name': { name: string };
  'reel/rule-plays': { rule: string; found: 'nothing' | 'both' };
  'reel/rule-toward': { rule: string };
  'reel/rule-rate': Record<string, never>;
  'reel/rule-time': { member: string; value: unknown; clip: string; low: number; high: number };
  'reel/rule-lands': { clip: string; from: number; until: number };
  'reel/rate': { rate: number };
  'reel/unknown-rule': { name: string; known: readonly string[] };
  'reel/rule-layer': { name: string; layer: string; other: string };
  'reel/unknown-facing': { name: string; known: readonly string[] };
  'reel/unknown-moment': { name: string; clips: readonly string[]; known: readonly string[] };
}

export type ProblemCode = keyof ProblemArgs;

/** Receives a problem while a document is read. `of: 'name'` points at the member's name, not at its value. */
export type Report = <C extends ProblemCode>(
  code: C,
  path: DocumentPath,
  args: ProblemArgs[C],
  severity?: Severity,
  of?: 'name' | 'value',
) => void;

type Message = readonly [message: string, hint: string];

/** A time as written, with its seconds where it was written in another unit. */
const moment = (written: unknown, inSeconds: number) =>
  typeof written === 'string' ? `${show(written)} (${seconds(inSeconds)})` : seconds(inSeconds);

const INPUT_FORMS: Readonly<Record<string, string>> = {
  number: 'a finite number',
  vec2: 'two finite numbers, such as [1, 0]',
  flag: 'true or false',
  signal: 'no value; a signal has none',
};
const CONDITION_FORMS: Readonly<Record<string, string>> = {
  number: 'use { "above": 6, "until": 3 }, { "below": 3 } or { "equals": 2 }',
  vec2: 'use { "above": 6, "until": 3 } or { "below": 3 }; its length is compared',
  flag: 'use true or false, or { "equals": true, "for": "0.2s" }',
};

/** What is wrong, and what to do: one table for every message about a document. */
export const messages: { readonly [C in ProblemCode]: (args: ProblemArgs[C]) => Message } = {
  'reel/json': ({ message }) => [`invalid JSON: ${message}`, 'fix the text here; look for a comma, bracket or quote'],
  'reel/empty': () => ['the file is empty', 'run `unspool new FILE` to create a small reel'],
  'reel/too-large': ({ bytes, limit }) => [
    `the reel has ${bytes} bytes, the limit is ${limit}`,
    'split it into several reels',
  ],
  'reel/too-deep': ({ limit }) => [`the JSON is nested deeper than ${limit} levels`, 'reduce the nesting'],
  'reel/too-long': ({ length, limit }) => [
    `the clip lasts ${seconds(length)}, the limit is ${limit} s (one day)`,
    'use a shorter time; write frames with an f, such as "30f"',
  ],
  'reel/too-many-keys': ({ count, limit }) => [
    `the reel has ${count} keys, the limit is ${limit}`,
    'split it into several reels',
  ],
  'reel/duplicate-member': ({ name }) => [
    `duplicate member ${show(name)}, only the last would count`,
    'rename or remove one of the two',
  ],
  'reel/not-data': ({ value }) => [`unexpected ${show(value)}`, 'use plain JSON data'],
  'reel/not-finite': ({ value }) => [`the number ${value} is not finite`, 'use a finite number'],
  'reel/forbidden-name': ({ name }) => [`the name ${show(name)} is reserved by JavaScript`, 'use another name'],
  'reel/type': ({ expected, value }) => [`expected ${expected}, found ${show(value)}`, `use ${expected}`],
  'reel/choice': ({ value, known }) => [
    `unknown value ${show(value)}`,
    typeof value === 'string' ? suggest(value, known) : `use one of: ${list(known)}`,
  ],
  'reel/missing': ({ name }) => [`missing member ${show(name)}`, `add ${show(name)}`],
  'reel/unknown-member': ({ name, known }) => [
    `unknown member ${show(name)}`,
    `${suggest(name, known)} (names of custom members start with "x-")`,
  ],
  'reel/version': ({ value }) => [
    `unknown format version ${show(value)}, expected 1`,
    'start the reel with "unspool": 1',
  ],
  'reel/name': ({ name }) => [`invalid name ${show(name)}`, 'use 1 to 64 letters, digits, "-" and "_"'],
  'reel/time': ({ value }) => [
    `invalid time ${show(value)}`,
    'use seconds (0.15), frames ("9f") or milliseconds ("150ms")',
  ],
  'reel/negative-time': ({ value }) => [`the time ${show(value)} is negative`, 'use 0 or later'],
  'reel/positive': ({ value }) => [`${show(value)} is not greater than 0`, 'use a number greater than 0'],
  'reel/negative': ({ value }) => [`${show(value)} is negative`, 'use 0 or more'],
  'reel/whole': ({ value }) => [`${show(value)} is not a valid integer here`, 'use an integer'],
  'reel/unknown-role': ({ name, known }) => [`unknown role ${show(name)}`, suggest(name, known)],
  'reel/unknown-sheet': ({ name, known }) => [`unknown sheet ${show(name)}`, suggest(name, known)],
  'reel/unknown-clip': ({ name, known }) => [`unknown clip ${show(name)}`, suggest(name, known)],
  'reel/unknown-span': ({ name, clip, known }) => [
    `unknown span ${show(name)} of the clip ${show(clip)}`,
    suggest(name, known),
  ],
  'reel/unknown-side': ({ name, known }) => [`unknown side ${show(name)}`, suggest(name, known)],
  'reel/unknown-mirror': ({ name, known }) => [`${show(name)} is not a side with a clip`, suggest(name, known)],
  'reel/no-direction': () => ['[0, 0] is not a direction', 'use [x, y], such as [1, 0]'],
  'reel/chain-endless': ({ clip, chain }) => [
    `${show(clip)} loops forever, so nothing after it in chain ${show(chain)} ever plays`,
    'give it a count, such as { "mode": "loop", "count": 2 }, or move it to the end',
  ],
  'reel/chain-name': ({ name }) => [`a clip and a chain share the name ${show(name)}`, 'rename one of them'],
  'reel/parent-circle': ({ roles }) => [`the parents form a cycle: ${roles.join(' → ')}`, 'remove one of the parents'],
  'reel/parent-depth': ({ limit }) => [
    `the parents are nested deeper than ${limit} levels`,
    'use a parent closer to the root',
  ],
  'reel/track-name': ({ name }) => [`${show(name)} is not a role and property`, 'use a name such as "claw.rotation"'],
  'reel/near-property': ({ property, near }) => [
    `${show(property)} is a custom property, but looks like ${show(near)}`,
    `did you mean ${show(near)}? If not, give the track a "kind"`,
  ],
  'reel/no-kind': ({ property, value }) => [
    `the kind of ${show(property)} cannot be inferred from ${show(value)}`,
    'give the track a "kind", such as { "kind": "color", "keys": […] }',
  ],
  'reel/kind-conflict': ({ property, kind, other, place }) => [
    `${property} is of kind ${kind} here, but ${other} at ${place}`,
    'use one kind for a property throughout the reel',
  ],
  'reel/kind-not-allowed': ({ property, kind, allowed }) => [
    `${property} cannot be of kind ${kind}`,
    `use ${allowed.join(' or ')}`,
  ],
  'reel/value': ({ value, form, kind }) => {
    const isFar = [value].flat().some((n) => typeof n === 'number' && !isNumber(n));
    return [`invalid ${kind} ${show(value)}`, `use ${form}${isFar ? `, within ±${FARTHEST}` : ''}`];
  },
  'reel/whole-and-channel': ({ track, other }) => [
    `${track} and ${other} set the same numbers`,
    'key the whole property or its channels, not both',
  ],
  'reel/no-cells': ({ sheet }) => [`the sheet ${show(sheet)} has no cells`, 'add a cell, or remove the sheet'],
  'reel/no-keys': ({ track }) => [`the track ${track} has no keys`, 'add a key at 0, or remove the track'],
  'reel/unknown-easing': ({ message, hint }) => [message, hint],
  'reel/key-order': ({ at, seconds: now, before, beforeSeconds }) => [
    `the key at ${moment(at, now)} comes after the key at ${moment(before, beforeSeconds)}`,
    'sort the keys by time',
  ],
  'reel/same-time': ({ at, seconds: now }) => [
    `two keys at ${moment(at, now)}`,
    `move or delete one; for a jump, set the previous key's easing to "hold"`,
  ],
  'reel/no-channel': ({ property, channel, channels }) => [
    `unknown channel ${show(channel)} of ${property}`,
    channels.length > 1 ? `use one of: ${channels.join(', ')}` : 'key the whole property',
  ],
  'reel/no-effect': ({ option, track, kind }) => [
    `"${option}" has no effect on ${track}, which is of kind ${kind}`,
    'remove it; "turn" is for angles, "mix" for colors',
  ],
  'reel/offset-kind': ({ track, kind }) => [
    `${track} is of kind ${kind}, which cannot be an offset`,
    'omit "space", or use "absolute"',
  ],
  'reel/accumulate-kind': ({ track, kind }) => [
    `${track} is of kind ${kind}, which cannot accumulate`,
    'omit "accumulate"; numbers, vectors, angles and quaternions can add up',
  ],
  'reel/handle': ({ value, width }) => [
    `invalid handle ${show(value)}, expected ${width === 1 ? 'a pair' : `a list of ${width} pairs`}`,
    width === 1 ? 'use [time, value], such as ["3f", 10]' : 'use [[time, value], …] with one pair per channel',
  ],
  'reel/handle-unused': ({ side }) => [
    `the handle "${side}" has no effect: the segment ${side === 'out' ? 'after' : 'before'} this key is not a curve`,
    side === 'out' ? 'set "ease": "curve" on this key' : 'set "ease": "curve" on the previous key',
  ],
  'reel/handle-folds': ({ side, dt, length }) => [
    `the handle "${side}" spans ${seconds(dt)} of a segment of ${seconds(length)}, so time would run backwards`,
    side === 'out'
      ? `it is shortened; keep its time from 0 to ${seconds(length)}`
      : `it is shortened; keep its time from ${seconds(-length)} to 0`,
  ],
  'reel/frames': ({ track, kind }) => [`${track} is of kind ${kind}, but "frames" needs integers`, 'use "value"'],
  'reel/frames-each': ({ each }) => [`invalid frame duration ${show(each)}`, 'set "each" to a time greater than 0'],
  'reel/frame-outside': ({ frame, sheet, cells }) => [
    `frame ${frame} is outside the sheet ${show(sheet)}, which has cells 0 to ${cells - 1}`,
    'use a cell of the sheet, or correct its cells',
  ],
  'reel/key-after-end': ({ at, duration }) => [
    `the key at ${seconds(at)} is after the end of the clip at ${seconds(duration)}, so it is cut off`,
    'move the key, or increase "duration"',
  ],
  'reel/unseen-key': ({ track, value, at, until }) => [
    `the last key of ${track}, ${value} at ${seconds(at)}, never shows: the loop restarts at that moment`,
    `set "duration" to ${seconds(until)}, or delete the key`,
  ],
  'reel/cue-after-end': ({ name, at, duration }) => [
    `the cue ${show(name)} at ${show(at)} is after the end of the clip at ${seconds(duration)}, so it never fires`,
    'move the cue, or increase "duration"',
  ],
  'reel/interval-order': ({ what, from, until }) => [
    `${what} ends at ${show(until)}, before or at its start at ${show(from)}`,
    'set an end after the start',
  ],
  'reel/part-circle': ({ clips }) => [`the parts form a cycle: ${clips.join(' → ')}`, 'remove one of the parts'],
  'reel/part-depth': ({ limit }) => [`parts are nested deeper than ${limit} levels`, 'reduce the nesting'],
  'reel/part-rate': () => ['a part with rate 0 never moves', 'set another rate, or use a clip with one held pose'],
  'reel/part-endless': ({ clip }) => [
    `the part ${show(clip)} loops forever`,
    'set "until", a loop "count", or the "duration" of the clip that contains it',
  ],
  'reel/part-overlap': ({ property, from, until, other }) => [
    `${property} is animated from ${seconds(from)} to ${seconds(until)} here and by ${other} at the same time`,
    'move one of the two, or end it earlier with "until"',
  ],
  'reel/part-differs': ({ property, member, value, other, otherValue }) => [
    `${property} has "${member}": "${value}" here and "${otherValue}" in ${other}, so the earlier one applies to both`,
    `use the same "${member}" on both tracks, or animate the property in one of the two`,
  ],
  'reel/part-kind': ({ property, kind, other, otherKind }) => [
    `${property} is of kind ${kind}, but would play ${other}, of kind ${otherKind}`,
    'map it to a role whose property has the same kind',
  ],
  'reel/too-many-cues': ({ count, limit }) => [
    `the clip has ${count} cues including those of its parts, the limit is ${limit}`,
    'split the clip',
  ],
  'reel/undeclared-shape': ({ role, property, kind }) => [
    `${role}.${property} is a ${kind}, but the role does not declare that shape`,
    `add "shapes": { "${property}": { "kind": "${kind}" } } to the role ${role}`,
  ],
  'reel/shape-name': ({ name }) => [`the shape ${name} has the name of a property`, 'use another name'],
  'reel/key-data': ({ track }) => [
    `"data" has no effect on ${track}, which is not a whole shape`,
    'remove it; for hits, write it on the key that turns the shape on',
  ],
  'reel/no-clips': () => ['the list has no clip', 'add the name of a clip'],
  'reel/input-value': ({ value, kind }) => [
    `${show(value)} is not a value of an input of kind ${kind}`,
    `use ${INPUT_FORMS[kind] ?? 'another kind'}`,
  ],
  'reel/input-keep': ({ name, kind }) => [
    `"keep" has no effect on ${show(name)}, which is of kind ${kind}`,
    'remove it; only signals are kept',
  ],
  'reel/unknown-input': ({ name, known, needs }) => [
    `${show(name)} is not an input of kind ${needs}`,
    known.length > 0 ? suggest(name, known) : `add one to the inputs of the routine, of kind ${needs}`,
  ],
  'reel/condition': ({ input, kind, value }) => [
    `${show(value)} is not a condition of ${show(input)}, which is of kind ${kind}`,
    CONDITION_FORMS[kind] ?? 'use "on" for a signal',
  ],
  'reel/thresholds': ({ test, than, until }) => [
    `the condition ends at ${until} before it begins at ${than}`,
    `set "until" to ${test === 'above' ? 'at most' : 'at least'} ${than}`,
  ],
  'reel/rule-name': ({ name }) => [`two rules have the name ${show(name)}`, 'rename one of them'],
  'reel/rule-plays': ({ rule, found }) => [
    `the rule ${show(rule)} ${found === 'both' ? 'has "play" and "face"' : 'plays nothing'}`,
    found === 'both' ? 'remove one of the two' : 'set "play" to a clip, or "face" and "toward"',
  ],
  'reel/rule-toward': ({ rule }) => [
    `the rule ${show(rule)} has only one of "face" and "toward"`,
    'set both: a facing, and the vec2 input with its direction',
  ],
  'reel/rule-rate': () => ['the rate never changes: "at" is 0', 'set "at" to the input at which the rate is 1'],
  'reel/rule-time': ({ member, value, clip, low, high }) => [
    `${member} ${show(value)} is outside what is played of the clip ${show(clip)}, ${showRange(low, high)}`,
    'use a time inside it',
  ],
  'reel/rule-lands': ({ clip, from, until }) => [
    `${show(clip)} never arrives: until, at ${seconds(until)}, is behind from, at ${seconds(from)}, in the direction of play`,
    'swap them, or turn the rate around',
  ],
  'reel/rate': ({ rate }) => [`the rate ${show(rate)} is not within ±1e6`, 'use a number within ±1e6, such as 1'],
  'reel/unknown-rule': ({ name, known }) => [`unknown rule ${show(name)}`, suggest(name, known)],
  'reel/rule-layer': ({ name, layer, other }) => [
    `the rule ${show(name)} is on layer ${show(other)}, which is decided after layer ${show(layer)}`,
    `move a rule of layer ${show(other)} above the first rule of layer ${show(layer)}`,
  ],
  'reel/unknown-facing': ({ name, known }) => [`unknown facing ${show(name)}`, suggest(name, known)],
  'reel/unknown-moment': ({ name, clips, known }) => [
    `${clips.length === 1 ? `the clip ${show(clips[0])} has` : `the clips ${list(clips)} have`} no cue or span ${show(name)}`,
    suggest(name, known),
  ],
};
