import { expect, test } from 'vitest';
import { Crowd, parseReel, Player } from '../index.js';
import { hotReel, type HotData } from './index.js';

const read = (value: number) => {
  const keys = [{ at: 0, value }, { at: 1, value }]; // prettier-ignore
  return parseReel<unknown>({ unspool: 1, clips: { glow: { loop: 'loop', tracks: { 'crab.glow': keys } } } });
};

test('players and crowds follow the versions of a module, those of each version, and all who read it', () => {
  const data: HotData = {};
  // As modules do it: each version has a variable of its own, which others read.
  const version = (value: number) => {
    const module = { reel: read(value) };
    return Object.assign(module, { follow: hotReel(data, module.reel, (next) => (module.reel = next)) });
  };
  const first = version(1);
  const cast = { crab: { glow: 0 } };
  const one = new Player(first.reel, { cast });
  one.play('glow');
  one.tick(0.25);
  const gone = new Player(first.reel);
  gone.dispose();
  const crowd = new Crowd(first.reel);
  const id = crowd.add('glow');
  crowd.tick(0.25);

  const second = version(2);
  expect([cast.crab.glow, one.reel, first.reel]).toEqual([2, second.reel, second.reel]);
  expect(crowd.values[crowd.offsetOf(id, 'crab.glow')]).toBe(2);
  // Who reads the first version makes players of the second.
  const two = new Player(first.reel);
  two.play('glow');
  two.tick(0.5);

  const third = version(3);
  expect([one, two].map((player) => [player.reel === third.reel, player.pose.get('crab.glow'), player.playback!.time])).toEqual([[true, 3, 0.25], [true, 3, 0.5]]); // prettier-ignore
  expect([first, second, third].every(({ reel }) => reel === third.reel)).toBe(true);

  // A step on the workbench comes without a new version.
  third.follow(read(4));
  expect([one.pose.get('crab.glow'), first.reel === data.reel, gone.reel === third.reel]).toEqual([4, true, false]);
  second.follow(read(5));
  expect([one.pose.get('crab.glow'), third.reel === data.reel, data.reel!.users!.size]).toEqual([5, true, 3]);
});
