import fc from 'fast-check';
import { expect, test } from 'vitest';
import { runs } from '../../../test/runs.js';
import { parseReel, Player } from '../../index.js';

/**
 * Queues, interruptions and fallbacks against a slow twin that is written from docs/reference/player.md and docs/reference/laws.md alone:
 * what plays now, what waits, and when each ends or is stopped, worked out from one end to the next.
 */
const CLIPS = {
  half: { duration: 0.5, loop: 'once' },
  one: { duration: 1, loop: 'once' },
  thirds: { duration: 0.3, loop: 'loop' },
  swing: { duration: 0.2, loop: 'ping-pong' },
  twice: { duration: 0.25, loop: { mode: 'loop', count: 2 } },
} as const;
type Name = keyof typeof CLIPS;
const NAMES = Object.keys(CLIPS) as Name[];
const CHAIN: readonly Name[] = ['half', 'twice', 'one'];
const reel = parseReel<unknown>({
  unspool: 1,
  clips: Object.fromEntries(
    Object.entries(CLIPS).map(([name, { duration, loop }]) => [
      name,
      {
        loop,
        tracks: {
          'a.x': [
            { at: 0, value: 0 },
            { at: duration, value: 1 },
          ],
        },
      },
    ]),
  ),
  chains: { all: CHAIN },
});

type Command =
  | { readonly call: 'play'; readonly name: Name | 'all'; readonly back: boolean }
  | { readonly call: 'enqueue'; readonly name: Name | 'all'; readonly wait: 'end' | 'loop' }
  | { readonly call: 'fallback'; readonly name: Name | undefined }
  | { readonly call: 'stop' | 'clear' | 'pause' | 'resume' };
const name = fc.constantFrom<Name | 'all'>(...NAMES, 'all');
const command: fc.Arbitrary<Command> = fc.oneof(
  { weight: 4, arbitrary: fc.record({ call: fc.constant('play' as const), name, back: fc.boolean() }) },
  {
    weight: 5,
    arbitrary: fc.record({
      call: fc.constant('enqueue' as const),
      name,
      wait: fc.constantFrom('end' as const, 'loop' as const),
    }),
  },
  fc.record({
    call: fc.constant('fallback' as const),
    name: fc.option(fc.constantFrom<Name>('thirds', 'swing', 'one'), { nil: undefined }),
  }),
  fc.record({ call: fc.constantFrom('stop' as const, 'clear' as const, 'pause' as const, 'resume' as const) }),
);
const step = fc.record({
  command,
  after: fc.nat(60),
  cuts: fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { maxLength: 3 }),
});

interface Item {
  readonly name: Name;
  readonly wait: 'end' | 'loop';
  /** How much of it was played before, where it goes on after an interruption. */
  readonly done: number;
  readonly returns: boolean;
  readonly isPaused: boolean;
}

class QueueTwin {
  now = 0;
  /** Seconds that the one of now was played, when that was counted last. */
  current: (Item & { at: number; from: number; paused: boolean; over: boolean; isFallback: boolean }) | undefined;
  queue: Item[] = [];
  fallback: Name | undefined;
  readonly emitted: string[] = [];

  whole(item: Name): number {
    const { duration, loop } = CLIPS[item];
    if (loop === 'once') return duration;
    return typeof loop === 'string' ? Infinity : duration * loop.count;
  }

  tell(what: 'end' | 'stop', one: Name, at: number): void {
    this.emitted.push(`${what} ${one} ${at.toFixed(6)}`);
  }

  played(at: number): number {
    const { from, at: since, paused } = this.current!;
    return paused ? from : from + at - since;
  }

  begin(item: Item, at: number, isFallback = false): void {
    this.current = { ...item, at, from: item.done, paused: item.isPaused, over: false, isFallback };
  }

  next(at: number): void {
    const waiting = this.queue.shift();
    if (waiting) this.begin(waiting, at);
    else if (this.fallback)
      this.begin({ name: this.fallback, wait: 'end', done: 0, returns: false, isPaused: false }, at, true);
  }

  items(one: Name | 'all', wait: 'end' | 'loop' = 'end'): Item[] {
    const names = one === 'all' ? CHAIN : [one];
    return names.map((each, i) => ({
      name: each,
      wait: i === 0 ? wait : 'end',
      done: 0,
      returns: false,
      isPaused: false,
    }));
  }

  get isBusy(): boolean {
    return this.current !== undefined && !this.current.over;
  }

  /** When the one of now is over, by itself or for what waits. */
  get ends(): number {
    const { current } = this;
    if (!current || current.over || current.paused) return Infinity;
    const left = (seconds: number) => current.at + seconds - current.from;
    const whole = left(this.whole(current.name));
    if (this.queue[0]?.wait !== 'loop') return whole;
    // There and back is one round; what waits begins at the end of one, and not at once where one has just begun.
    const { duration, loop } = CLIPS[current.name];
    const round = loop === 'ping-pong' ? 2 * duration : duration;
    const done = this.played(this.now);
    const rounds = Math.floor(done / round + 1e-9) + 1;
    return Math.min(whole, left(rounds * round));
  }

  run(one: Command): void {
    const { now } = this;
    if (one.call === 'play') {
      const [first, ...others] = this.items(one.name);
      const back: Item[] = [];
      const { current } = this;
      if (one.back && current && !current.over && !current.isFallback) {
        back.push({ ...current, done: this.played(now), returns: true, wait: 'end', isPaused: current.paused });
        const place = this.queue.findIndex(({ returns }) => returns);
        if (place >= 0) back.push(...this.queue.slice(place));
      }
      this.queue = [...others, ...back];
      if (this.isBusy) this.tell('stop', current!.name, now);
      this.begin(first!, now);
    } else if (one.call === 'enqueue') {
      const isBusy = this.isBusy && !this.current!.isFallback;
      if (this.current?.isFallback && this.isBusy) this.queue = [];
      this.queue.push(...this.items(one.name, one.wait));
      if (isBusy) return;
      const before = this.isBusy ? this.current : undefined;
      this.next(now);
      if (before) this.tell('stop', before.name, now);
    } else if (one.call === 'fallback') {
      this.fallback = one.name;
      const { current } = this;
      if (current?.isFallback && !current.over) {
        this.tell('stop', current.name, now);
        current.over = true;
        this.next(now);
      } else if (!this.isBusy) this.next(now);
    } else if (one.call === 'clear') this.queue = [];
    else if (one.call === 'stop') {
      this.queue = [];
      const { current } = this;
      if (!current || current.over || current.isFallback) return;
      this.tell('stop', current.name, now);
      current.over = true;
      this.next(now);
    } else if (this.isBusy) {
      const played = this.played(now);
      Object.assign(this.current!, { from: played, at: now, paused: one.call === 'pause' });
    }
  }

  tick(dt: number): void {
    const end = this.now + dt;
    for (;;) {
      const at = this.ends;
      if (at > end + 1e-9) break;
      this.now = Math.max(this.now, at);
      const { current } = this;
      this.tell('end', current!.name, at);
      current!.over = true;
      this.next(at);
    }
    this.now = end;
  }
}

test('queues play what the slow twin plays, with events at the same times', () => {
  fc.assert(
    fc.property(fc.array(step, { minLength: 1, maxLength: 9 }), (steps) => {
      const player = new Player(reel);
      const twin = new QueueTwin();
      const emitted: string[] = [];
      for (const type of ['end', 'stop'] as const)
        player.on(type, ({ clip, time }) => emitted.push(`${type} ${clip} ${time.toFixed(6)}`));
      for (const { command: one, after, cuts } of steps) {
        if (one.call === 'enqueue') {
          const last =
            twin.queue.at(-1)?.name ?? (twin.isBusy && !twin.current!.isFallback ? twin.current!.name : undefined);
          const isRefused = last !== undefined && twin.whole(last) === Infinity && one.wait === 'end';
          if (isRefused) expect(() => player.enqueue(one.name, { wait: 'end' })).toThrow('would never play');
          if (isRefused) continue;
          player.enqueue(one.name, { wait: one.wait });
        } else if (one.call === 'play') player.play(one.name, { back: one.back });
        else if (one.call === 'fallback') player.fallback(one.name);
        else if (one.call === 'clear') player.layer().clear();
        else if (one.call === 'stop') player.stop();
        else player.playback?.[one.call]();
        twin.run(one);
        let last = 0;
        for (const mark of [...cuts.map((cut) => Math.floor(cut * after)).sort((a, b) => a - b), after]) {
          player.tick((mark - last) / 64);
          twin.tick((mark - last) / 64);
          last = mark;
        }
        expect(emitted).toEqual(twin.emitted);
        expect(player.queue.map(({ clip }) => clip.name)).toEqual(twin.queue.map((item) => item.name));
        expect([player.playback?.clip.name, player.isPlaying]).toEqual([twin.current?.name, twin.isBusy]);
      }
    }),
    runs(500),
  );
});
