import fc from 'fast-check';
import { expect, test } from 'vitest';
import { parseReel, Player, startRoutine, type PlayerState, type RuleEvent } from '../../index.js';
import { documentOf, randomActs, randomRoutine, type Act, type RoutinePlan } from '../../../test/random-routine.js';
import { RoutineTwin, type TwinEvent } from '../../../test/routine-twin.js';
import { isFast, runs } from '../../../test/runs.js';

const UNIT = 1 / 64;

function start(plan: RoutinePlan, heardSignal: number | undefined) {
  const player = new Player(parseReel<unknown>(documentOf(plan)), { cast: { crab: { glow: 0 } }, seed: 3 });
  const act = startRoutine(player, 'main');
  const events: TwinEvent[] = [];
  player.on('rule', ({ name, before, layer, time }: RuleEvent) => {
    events.push({ time: Math.round(time * 64 * 1e6) / 1e6, name, before, layer });
  });
  if (heardSignal !== undefined) player.on('cue', () => act.signal(`s${heardSignal}`));
  return { player, act, events };
}

type Started = ReturnType<typeof start>;

function perform({ player, act }: Started, one: Act): void {
  if ('set' in one) act.set(one.set);
  else if ('signal' in one) act.signal(`s${one.signal}`);
  else if ('play' in one) player.layer(one.layer).play(`c${one.play}`);
  else player.layer(one.stop).stop();
}

const heard = fc.option(fc.nat(2), { nil: undefined, freq: 2 });
const END = 340;

/** Plays a program in frames that end at its acts and at other times; `at` hears of each end. */
function run(one: Started, acts: readonly Act[], cuts: readonly number[], at: (time: number) => void): void {
  let now = 0;
  for (const to of [...new Set([...acts.map((act) => act.at), ...cuts, END])].sort((a, b) => a - b)) {
    one.player.tick((to - now) * UNIT);
    now = to;
    at(to);
  }
}

test('rules begin when a slow twin says so, at any cut of the time, and say why as it does', () => {
  const seen = new Set<string>();
  fc.assert(
    fc.property(randomRoutine, randomActs, heard, fc.array(fc.nat(END)), (plan, acts, signal, cuts) => {
      const twin = new RoutineTwin(plan);
      const one = start(plan, signal);
      run(one, acts, cuts, (time) => {
        twin.run(time, () => signal !== undefined && twin.signal(signal));
        for (const act of acts.filter(({ at }) => at === time)) {
          perform(one, act);
          twin.do(act);
          const why = one.act.explain().map((rule) => rule.why);
          expect(why).toEqual(plan.rules.map((_, place) => twin.why(place)));
          for (const reason of why) seen.add(reason);
        }
        for (const { layer } of plan.rules) {
          const place = twin.force.get(layer);
          expect(one.act.rule(layer)).toBe(place === undefined ? undefined : `r${place}`);
        }
      });
      expect(one.events).toEqual(twin.events);
      for (const what of twin.seen) seen.add(what);
    }),
    runs(300),
  );
  const all = ['in-force', 'game', 'signal', 'condition', 'during', 'floor', 'weaker', 'next', 'the game plays'];
  all.push('a kept signal is used', 'begins during a moment', 'has held for long enough', 'picks again');
  all.push('begins again', 'a stronger one cuts', 'a weaker one cuts');
  if (!isFast) expect([...seen].sort()).toEqual(all.sort());
});

test('a restored player decides, and moves, as the one that was saved', () => {
  fc.assert(
    fc.property(randomRoutine, randomActs, heard, fc.nat(END), fc.boolean(), (plan, acts, signal, saveAt, early) => {
      const one = start(plan, signal);
      let other: Started | undefined;
      const restore = () => {
        other = start(plan, signal);
        other.player.tick(0.3);
        other.player.restore(JSON.parse(JSON.stringify(one.player.save())) as PlayerState);
        one.events.length = other.events.length = 0;
      };
      let before = 0;
      run(one, acts, [saveAt], (time) => {
        other?.player.tick((time - before) * UNIT);
        before = time;
        if (time === saveAt && early) restore();
        for (const act of acts.filter(({ at }) => at === time)) {
          perform(one, act);
          if (other) perform(other, act);
        }
        if (time === saveAt && !early) restore();
        if (!other) return;
        expect(other.act.explain()).toEqual(one.act.explain());
        expect(other.player.pose.values).toEqual(one.player.pose.values);
      });
      expect(other!.events).toEqual(one.events);
    }),
    runs(200),
  );
});
