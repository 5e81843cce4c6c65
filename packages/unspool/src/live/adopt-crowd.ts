import type { Clip } from '../clip/clip.js';
import type { Reel } from '../clip/reel.js';
import type { Crowd } from '../crowd/crowd.js';
import type { Group } from '../crowd/group.js';
import { OVER } from '../crowd/instances.js';
import { handOver } from '../clip/fitted/prepare.js';
import { UnspoolError } from '../errors/error.js';
import { show } from '../errors/show.js';
import { directionOf, type Repeat } from '../time/iteration.js';

/** What a group was before it got another clip, and what it became: see `Before` of players. */
interface Before {
  readonly clip: Clip;
  readonly lists: Lists;
  readonly repeats: readonly Repeat[];
  readonly became: Lists;
}

type Lists = Readonly<Record<string, readonly number[]>>;

const befores = new WeakMap<Group, Before>();

/** See `adopt`. */
export function adoptInCrowd(crowd: Crowd, reel: Reel): readonly UnspoolError[] {
  const lost: UnspoolError[] = [];
  const left = crowd.groups.filter((group) => {
    const { clip, count } = group;
    if (reel.clipNames.includes(clip.name)) return true;
    if (count > 0) {
      const message = `${count} of the clip ${show(clip.name)} in a crowd are gone: ${reel.message} no longer has it`;
      lost.push(new UnspoolError('play/lost', message, 'bring it back, or let the game do without it'));
      leave(crowd, group);
    }
    return false;
  });
  for (const group of left) changeClip(group, reel.clip(group.clip.name));
  crowd.become(reel);
  return lost;
}

/** Its instances go without a word. */
function leave(crowd: Crowd, { ids, lists, count }: Group): void {
  lists.states.fill(OVER);
  for (const id of ids.slice(0, count)) crowd.remove(id);
}

function changeClip(group: Group, clip: Clip): void {
  const known = befores.get(group);
  const now = copyOf(group);
  const isSame = known && Object.entries(known.became).every(([name, list]) => areSame(list, now[name]!));
  if (isSame) put(group, known);
  const before = isSame ? known : { clip: group.clip, lists: now, repeats: [...group.repeats] };
  fitTimes(group, before.clip, clip);
  handOver(group.clip, clip);
  group.become(clip);
  befores.set(group, { ...before, became: copyOf(group) });
}

function copyOf({ lists, count }: Group): Lists {
  return Object.fromEntries(Object.entries(lists).map(([name, list]) => [name, [...list.subarray(0, count)]]));
}

const areSame = (a: readonly number[], b: readonly number[]) =>
  a.length === b.length && a.every((n, i) => Object.is(n, b[i]));

function put(group: Group, { lists, repeats }: Pick<Before, 'lists' | 'repeats'>): void {
  for (const [name, list] of Object.entries(group.lists)) list.set(lists[name]!);
  group.repeats.splice(0, group.repeats.length, ...repeats);
}

/** By the rules of `Playback`. What loops as its clip did loops as its clip does. */
function fitTimes(group: Group, was: Clip, now: Clip): void {
  const { lists, count, repeats } = group;
  const own = repeats.findIndex((one) => areAlike(one, was.repeat));
  if (own >= 0) repeats[own] = now.repeat;
  const { times, starts, velocities, iterations, lost, loops } = lists;
  for (let i = 0; i < count; i++) {
    const repeat = repeats[loops[i]!]!;
    const before = times[i]!;
    const isEnd = group.isOver(i) && before === was.duration;
    times[i] = isEnd ? now.duration : Math.min(before, now.duration);
    if (times[i] !== before) lost[i] = 0;
    starts[i] = Math.min(starts[i]!, now.duration);
    const rate = velocities[i]! * directionOf(loops[i] === own ? was.repeat : repeat, 1, iterations[i]!);
    if (repeat.count <= iterations[i]!) iterations[i] = Math.max(0, Math.ceil(repeat.count) - 1);
    const speed = was.rate === now.rate ? rate : (rate / was.rate) * now.rate;
    velocities[i] = speed * directionOf(repeat, 1, iterations[i]!);
  }
}

const areAlike = (a: Repeat, b: Repeat) => a.mode === b.mode && a.count === b.count;
