import type { ClipDocument, ReelDocument, RoleDocument, TrackDocument } from 'unspool';
import { refuse } from '../errors.js';
import { Names } from '../names.js';
import { Notes, pointer, type Converted } from '../report.js';
import { playing, tracksOf, type InKeyframe, type InTiming } from './keyframes-in.js';

/** What `fromWebAnimations` takes: clips by name, their roles by name, as `toWebAnimations` writes them. */
export type WebAnimationsInput = Readonly<
  Record<string, Readonly<Record<string, { readonly keyframes: readonly object[]; readonly timing?: object | number }>>>
>;

type Members = Readonly<Record<string, unknown>>;
const isObject = (value: unknown): value is Members =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** Keyframes of one role. */
const MOST = 20_000;

/** Members of a keyframe that are no properties. */
const FACTS = new Set(['offset', 'computedOffset', 'easing', 'composite']);

/**
 * Reads keyframes of the Web Animations API (also those that `effect.getKeyframes()` returns) as a reel.
 *
 * @throws ConversionError for data of another form, with its place
 */
export function fromWebAnimations(input: WebAnimationsInput): Converted<ReelDocument> {
  const notes = new Notes();
  if (!isObject(input)) refuse('web', 'the data is not an object', 'pass { clip: { role: { keyframes, timing } } }');
  const roles: Record<string, RoleDocument> = {};
  const clips: Record<string, ClipDocument> = {};
  const clipNames = new Names('clip', notes);
  const roleNames = new Map<string, string>();
  const valid = new Names('role', notes);
  for (const [given, members] of Object.entries<unknown>(input)) {
    const at = pointer(given);
    if (!isObject(members)) refuse('web', `${at}: not an object`, 'give it roles by name');
    const name = clipNames.of(given, 'clip');
    let clip: ClipDocument = {};
    let tracks: Record<string, TrackDocument> = {};
    for (const [title, animation] of Object.entries(members)) {
      const role = roleNames.get(title) ?? valid.of(title, 'role');
      roleNames.set(title, role);
      roles[role] = {};
      const place = pointer(given, title);
      if (!isObject(animation)) refuse('web', `${place}: not an object`, 'give it keyframes and timing');
      const timing = timingOf(animation['timing'], `${place}/timing`);
      const keyframes = keyframesOf(animation['keyframes'], `${place}/keyframes`);
      clip = { duration: timing.duration, ...playing(timing, place, notes) };
      const found = tracksOf(role, keyframes, timing.duration, 'linear', {}, notes);
      for (const track of Object.keys(found)) notes.kept(place, track);
      tracks = { ...tracks, ...found };
    }
    clips[name] = { ...clip, tracks };
  }
  return notes.of({ unspool: 1, roles, clips });
}

function timingOf(timing: unknown, at: string): InTiming {
  const {
    duration,
    iterations = 1,
    direction = 'normal',
    fill = 'auto',
  } = isObject(timing) ? timing : { duration: timing };
  const milliseconds = Number(duration);
  const count = Number(iterations);
  if (!(milliseconds > 0 && milliseconds < Infinity))
    refuse('web', `${at}: the duration is ${JSON.stringify(duration)}`, 'use milliseconds greater than 0');
  if (!(count >= 0)) refuse('web', `${at}: iterations is ${JSON.stringify(iterations)}`, 'use a number from 0 on');
  return { duration: milliseconds / 1000, iterations: count, direction: String(direction), fill: String(fill) };
}

function keyframesOf(keyframes: unknown, at: string): InKeyframe[] {
  if (!Array.isArray(keyframes) || !keyframes.every(isObject))
    refuse('web', `${at}: not a list of keyframes`, 'use the form with one object a keyframe');
  if (keyframes.length > MOST) refuse('web', `${at}: ${keyframes.length} keyframes, the limit is ${MOST}`, 'use fewer');
  const given = keyframes.map((one) => one['computedOffset'] ?? one['offset']);
  const offsets = spaced(given.map((offset) => (offset === null || offset === undefined ? undefined : Number(offset))));
  return keyframes.map((one, i) => {
    const offset = offsets[i]!;
    if (!(offset >= 0 && offset <= 1)) refuse('web', `${at}/${i}/offset: ${String(given[i])} is not from 0 to 1`, 'use a share of the duration'); // prettier-ignore
    const easing = one['easing'];
    const members = Object.entries(one).filter(([name]) => !FACTS.has(name));
    return {
      offset,
      easing: typeof easing === 'string' ? easing : undefined,
      declarations: members.map(([name, value]) => [name, String(value)] as const),
      at: `${at}/${i}`,
    };
  });
}

/** Missing offsets lie evenly between their neighbors, as the API computes them. */
function spaced(given: readonly (number | undefined)[]): number[] {
  const last = given.length - 1;
  const known = given.map((offset, i) => offset ?? (i === last ? 1 : i === 0 ? 0 : undefined));
  return known.map((offset, i) => {
    if (offset !== undefined) return offset;
    const before = known.findLastIndex((one, k) => k < i && one !== undefined);
    const after = known.findIndex((one, k) => k > i && one !== undefined);
    return known[before]! + ((known[after]! - known[before]!) * (i - before)) / (after - before);
  });
}
