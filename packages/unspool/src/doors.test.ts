import fc from 'fast-check';
import { afterEach, expect, test } from 'vitest';
import { anything, damaged } from '../test/mutate.js';
import { randomOperation } from '../test/random-operations.js';
import { randomScene } from '../test/random-reel.js';
import { runs } from '../test/runs.js';
import { edit, type Operation } from './edit/index.js';
import {
  checkReel,
  compileReel,
  easing,
  EASING_NAMES,
  loadReel,
  parseReel,
  Player,
  ReelError,
  startRoutine,
  type Reel,
  UnspoolError,
} from './index.js';

/**
 * The doors of the library, tried with what nobody should bring: random values, and what was sound before it was
 * damaged. They answer with documented errors, soon, and leave prototypes alone.
 */
const DEADLINE = 100;

function isDocumented(error: unknown): boolean {
  if (error instanceof UnspoolError || error instanceof ReelError) return error.code !== '' && error.message !== '';
  return error instanceof RangeError && !/call stack|array length|Invalid/.test(error.message);
}

/** Each call of its own within the deadline: a machine that is busy elsewhere is given another try. */
function soon<T>(call: () => T): T {
  for (let tries = 1; ; tries++) {
    const start = performance.now();
    const result = call();
    if (performance.now() - start <= DEADLINE) return result;
    if (tries === 5) throw new Error(`takes ${performance.now() - start} ms`);
  }
}

function attempt(call: () => unknown): void {
  soon(() => {
    try {
      call();
    } catch (error) {
      if (!isDocumented(error)) throw error;
    }
  });
}

const prototypes = [Object, Array, Function, String, Number, Map, Set].map((one) => one.prototype as object);
const known = prototypes.map((one) => Reflect.ownKeys(one).length);
afterEach(() => expect(prototypes.map((one) => Reflect.ownKeys(one).length)).toEqual(known));

const document = randomScene;

test('checkReel never throws, whatever it is given', () => {
  const texts = fc.oneof(
    fc.string(),
    damaged(document).map((one) => JSON.stringify(one) ?? ''),
  );
  const cut = fc.tuple(texts, fc.nat(400)).map(([text, at]) => text.slice(0, at));
  fc.assert(
    fc.property(fc.oneof({ weight: 6, arbitrary: damaged(document) }, anything, texts, cut), (input) => {
      const found = soon(() => checkReel(input));
      for (const { code, message, hint } of found) expect([code, message, hint].every((one) => one !== '')).toBe(true);
    }),
    runs(300),
  );
});

/** Plays a routine for two seconds, with all of its inputs; one whose times lie outside its clips does not start. */
function tryOut(reel: Reel, name: string): void {
  const player = new Player(reel);
  const act = startRoutine(player, name);
  for (let frame = 0; frame < 20; frame++) {
    for (const { name: input, kind } of reel.routine(name).inputs) {
      if (kind === 'signal') act.signal(input);
      else act.set(input, kind === 'number' ? frame : kind === 'flag' ? frame % 2 === 0 : [frame - 9, 1]);
    }
    player.tick(0.1);
    expect(act.explain().every(({ text }) => text !== '' && !/undefined|NaN/.test(text))).toBe(true);
  }
}

test('a reel without errors plays, with finite numbers', () => {
  fc.assert(
    fc.property(damaged(document), (input) => {
      if (checkReel(input).some(({ severity }) => severity === 'error')) return;
      const reel = parseReel<unknown>(input);
      for (const name of Object.keys(reel.clips)) {
        const clip = reel.clip(name);
        for (const at of [0, 0.37, 1])
          expect([...clip.sample(at * clip.duration).values].every(Number.isFinite)).toBe(true);
      }
      for (const routine of Object.keys(reel.facts.routines)) attempt(() => tryOut(reel, routine));
    }),
    runs(200),
  );
});

test('easings are read or refused, and give numbers', () => {
  const mangled = fc
    .tuple(
      fc.constantFrom(...EASING_NAMES, 'cubic-bezier(0.1, 0, 1, 1)', 'linear(0, 0.5 20%, 1)'),
      fc.nat(40),
      fc.string(),
    )
    .map(([text, at, more]) => text.slice(0, at) + more + text.slice(at));
  const long = fc
    .tuple(
      fc.constantFrom('ease', 'cubic-bezier(', 'linear(0', 'steps(1'),
      fc.constantFrom(' ', ' 0,', ', 0', '(', '9'),
    )
    .map(([head, part]) => head + part.repeat(30_000) + 'x');
  const input = fc.oneof({ weight: 20, arbitrary: mangled }, { weight: 5, arbitrary: anything }, long);
  fc.assert(
    fc.property(input, fc.double(), (text, x) =>
      attempt(() => {
        const y = easing(text as string)(x);
        expect(Number.isFinite(y) || Math.abs(x) > 1e6).toBe(true);
      }),
    ),
    runs(400),
  );
});

test('loadReel refuses what was not compiled, or changed since', () => {
  const packed = document.map((one) => compileReel(parseReel<unknown>(one)));
  fc.assert(
    fc.property(fc.oneof({ weight: 5, arbitrary: damaged(packed) }, anything), (input) =>
      attempt(() => {
        const reel = loadReel<unknown>(input);
        for (const clip of Object.values(reel.clips)) clip.sample(0.1);
      }),
    ),
    runs(200),
  );
});

test('restore refuses what save did not return, and has changed nothing then', () => {
  const states = document.map((one) => {
    const reel = parseReel<unknown>(one);
    const player = new Player(reel);
    const names = Object.keys(reel.clips);
    player.play(names[0]!, { fade: 0.5 });
    player.play(names.at(-1)!, { layer: 'top', loop: 'loop' });
    player.tick(0.2);
    return { reel, state: player.save() };
  });
  fc.assert(
    fc.property(
      states.chain(({ reel, state }) =>
        fc.oneof({ weight: 5, arbitrary: damaged(fc.constant(state)) }, anything).map((input) => ({ reel, input })),
      ),
      ({ reel, input }) => {
        const player = new Player(reel);
        player.tick(0.3);
        const before = JSON.stringify(player.save());
        let refused = false;
        soon(() => {
          try {
            player.restore(input as never);
          } catch (error) {
            if (!isDocumented(error)) throw error;
            refused = true;
          }
        });
        if (refused) expect(JSON.stringify(player.save())).toBe(before);
        player.tick(0.1);
        expect(Number.isFinite(player.time)).toBe(true);
        expect([...player.pose.values].every(Number.isFinite)).toBe(true);
      },
    ),
    runs(200),
  );
});

test('edit never throws: an operation applies, or is refused', () => {
  const tried = document.chain((doc) =>
    fc.tuple(fc.constant(doc), fc.oneof({ weight: 8, arbitrary: damaged(randomOperation(doc)) }, anything)),
  );
  fc.assert(
    fc.property(tried, ([doc, operation]) => {
      const made = soon(() => edit(doc, operation as Operation));
      if (!made.ok) {
        expect([made.code, made.said].every((one) => typeof one === 'string' && one !== '')).toBe(true);
        return;
      }
      expect(checkReel(made.doc).filter(({ severity }) => severity === 'error')).toEqual([]);
      // What it gives to take it back does so, patches too, and damaged patches are refused.
      expect(JSON.stringify((edit(made.doc, made.inverse) as { doc: unknown }).doc)).toBe(JSON.stringify(doc));
    }),
    runs(300),
  );
});

test('damaged patches and groups are refused', () => {
  const tried = document.chain((doc) =>
    randomOperation(doc).chain((operation) => {
      const made = edit(doc, operation);
      const patch = made.ok ? made.inverse : operation;
      const group = { do: 'group', operations: [operation, patch] };
      return fc.tuple(fc.constant(made.ok ? made.doc : doc), damaged(fc.constantFrom<object>(patch, group)));
    }),
  );
  fc.assert(
    fc.property(tried, ([doc, operation]) => {
      const made = soon(() => edit(doc, operation as Operation));
      if (made.ok) expect(checkReel(made.doc).filter(({ severity }) => severity === 'error')).toEqual([]);
    }),
    runs(300),
  );
});

test.each([0, null])('a patch whose key is %s is refused', (key) => {
  const was = [{ at: 0, value: 1 }];
  const doc = { unspool: 1, clips: { a: { tracks: { 'b.x': was } } } };
  const operation = { do: 'patch', said: 'x', changes: [{ path: '/clips/a/tracks/b.x', at: 0, was, now: [key] }] };
  expect(edit(doc as never, operation as never)).toMatchObject({ ok: false });
});
