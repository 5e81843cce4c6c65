import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { describe, expect, it, onTestFinished } from 'vitest';
import { formatReel, type ReelDocument } from '../index.js';
import { UnspoolError } from '../errors/error.js';
import { checksum } from './checksum.js';
import { History, type Operation } from './index.js';
import { randomOperation } from '../../test/random-operations.js';
import { randomScene } from '../../test/random-reel.js';
import { runs } from '../../test/runs.js';

const crab = {
  unspool: 1,
  clips: { snap: { duration: '18f', tracks: { 'claw.rotation': [{ at: 0, value: 0 }, { at: '6f', value: -40 }] } } },
} as unknown as ReelDocument; // prettier-ignore

const move = (by: number): Operation => ({
  do: 'move-keys',
  clip: 'snap',
  keys: { 'claw.rotation': ['6f'] },
  by: `${by}f`,
});

type Step = { readonly apply: Operation; readonly drag?: string } | 'undo' | 'redo' | 'saved';

/** A reel, and what is done to it: operations (drags among them), undone and done again. */
const work = randomScene.chain((doc) =>
  fc.record({
    doc: fc.constant(doc),
    steps: fc.array(
      fc.oneof(
        {
          weight: 6,
          arbitrary: fc.record(
            { apply: randomOperation(doc), drag: fc.constantFrom('a', 'b') },
            { requiredKeys: ['apply'] },
          ),
        },
        { weight: 2, arbitrary: fc.constantFrom<Step>('undo', 'redo', 'saved') },
      ) as fc.Arbitrary<Step>,
      { minLength: 1, maxLength: 12 },
    ),
  }),
);

function take(history: History, step: Step): void {
  if (step === 'undo') history.undo();
  else if (step === 'redo') history.redo();
  else if (step === 'saved') history.markSaved();
  else history.apply(step.apply, step.drag === undefined ? {} : { drag: step.drag });
}

describe('a history', () => {
  it('knows by their marks what got through, also after a crash, and the document that was saved', () => {
    let journal = '';
    const keep = (line: string) => void (journal += line);
    const history = new History(crab, { journal: keep });
    history.apply(move(2), { mark: 'a1' });
    history.markSaved();
    history.apply(move(99), { mark: 'a2' }); // refused: there is no key at 6f any more
    history.undo({ mark: 'a3' });
    expect(['a1', 'a2', 'a3', 'a4'].map((mark) => history.knows(mark))).toEqual([true, false, true, false]);
    const { history: again } = History.recover(journal);
    expect(['a1', 'a2', 'a3', 'a4'].map((mark) => again.knows(mark))).toEqual([true, false, true, false]);
    expect(formatReel(again.saved)).toContain('"8f"');
    expect(again.doc).toEqual(crab);
  });

  it('describes steps, undoes and redoes them', () => {
    const history = new History(crab);
    expect(history.apply(move(2))).toMatchObject({ ok: true, said: 'moved 1 key of claw.rotation by +2f' });
    expect(history.isSaved).toBe(false);
    expect(history.undo()).toBe('moved 1 key of claw.rotation by +2f');
    expect(history.isSaved).toBe(true);
    expect([history.done, history.undone]).toEqual([[], ['moved 1 key of claw.rotation by +2f']]);
    expect(history.nearest(5)).toEqual({ done: [], undone: history.undone, doneCount: 0, undoneCount: 1 });
    expect(history.nearest(0)).toMatchObject({ undone: [], undoneCount: 1 });
    expect(history.redo()).toBe('moved 1 key of claw.rotation by +2f');
    expect(JSON.stringify(history.doc)).toContain('"8f"');
    expect(history.redo()).toBeUndefined();
  });

  it('folds a drag into one step, the last place winning', () => {
    const history = new History(crab);
    for (const by of [1, 2, 3]) history.apply(move(by), { drag: 'hand' });
    expect(history.done).toEqual(['moved 1 key of claw.rotation by +3f']);
    history.undo();
    expect(history.doc).toBe(crab);
    history.apply(move(1), { drag: 'hand' });
    history.apply(move(0), { drag: 'hand' });
    expect([history.done, history.isSaved]).toEqual([[], true]);
    history.apply(move(1), { drag: 'hand' });
    history.apply({ ...move(1), keys: { 'claw.rotation': ['7f'] } } as Operation, { drag: 'again' });
    expect(history.done).toHaveLength(2);
  });

  it('keeps what can be done again when an operation is refused', () => {
    const history = new History(crab);
    history.apply(move(2));
    history.undo();
    expect(history.apply(move(-6))).toMatchObject({ ok: false, code: 'edit/time-taken' });
    expect(history.undone).toHaveLength(1);
  });

  it('undone to its start is the start, and done again the end; the saved state is known', () => {
    fc.assert(
      fc.property(work, ({ doc, steps }) => {
        const history = new History(doc);
        let saved = doc;
        for (const step of steps) {
          take(history, step);
          if (step === 'saved') saved = history.doc;
          expect(history.isSaved).toBe(history.doc === saved);
        }
        while (history.redo() !== undefined);
        const end = formatReel(history.doc);
        while (history.undo() !== undefined);
        expect(formatReel(history.doc)).toBe(formatReel(doc));
        while (history.redo() !== undefined);
        expect(formatReel(history.doc)).toBe(end);
      }),
      { ...runs(100), endOnFailure: true },
    );
  }, 600_000);
});

describe('a journal', () => {
  it('cut at any byte loses the last step at most', () => {
    fc.assert(
      fc.property(work, ({ doc, steps }) => {
        let text = '';
        const history = new History(doc, { journal: (line) => (text += line) });
        /** By length of the journal, what the document was then. */
        const states = new Map([[text.length, formatReel(doc)]]);
        for (const step of steps) {
          take(history, step);
          states.set(text.length, formatReel(history.doc));
        }
        const begun = text.indexOf('\n') + 1;
        for (let cut = begun; cut <= text.length; cut += 1 + Math.floor(text.length / 200)) {
          const whole = Math.max(...[...states.keys()].filter((length) => length <= cut));
          const { history: again, dropped } = History.recover(text.slice(0, cut));
          expect(formatReel(again.doc)).toBe(states.get(whole));
          expect(dropped).toBe(cut > whole ? 1 : 0);
        }
        const { history: again } = History.recover(text);
        expect([again.done, again.undone, again.isSaved]).toEqual([history.done, history.undone, history.isSaved]);
      }),
      { ...runs(25), endOnFailure: true },
    );
  }, 600_000);

  it('cut at each single byte of a short one', () => {
    let text = '';
    const history = new History(crab, { journal: (line) => (text += line) });
    for (const by of [1, 2, 3]) history.apply({ ...move(1), keys: { 'claw.rotation': [`${5 + by}f`] } } as Operation);
    history.undo();
    const begun = text.indexOf('\n') + 1;
    for (let cut = 0; cut < begun; cut++)
      expect(() => History.recover(text.slice(0, cut))).toThrow(/first line is damaged/);
    const lengths = text.split('\n').map((_, i, lines) => lines.slice(0, i).join('\n').length + (i > 0 ? 1 : 0));
    for (let cut = begun; cut <= text.length; cut++) {
      const lines = lengths.filter((length) => length <= cut && length > 0).length;
      const { history: again, dropped } = History.recover(text.slice(0, cut));
      expect(again.done.length + again.undone.length).toBe(Math.min(3, lines - 1));
      expect(dropped).toBe(lengths.includes(cut) ? 0 : 1);
    }
  });

  it('is there after the program that writes it was killed', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'unspool-journal-'));
    onTestFinished(() => rmSync(folder, { recursive: true }));
    const file = join(folder, 'journal');
    // Moves a key to and fro forever, and says of each step that it is written down.
    const program = `
      import { appendFileSync } from 'node:fs';
      import { History } from ${JSON.stringify(new URL('../../dist/edit/index.js', import.meta.url).href)};
      const history = new History(${JSON.stringify(crab)}, { journal: (line) => appendFileSync(${JSON.stringify(file)}, line) });
      for (let n = 1; ; n++) {
        const made = history.apply({ do: 'set-keys', clip: 'snap', keys: { 'claw.rotation': ['6f'] }, value: n });
        if (!made.ok) throw new Error(made.said);
        process.stdout.write(String(n) + String.fromCharCode(10));
      }`;
    for (const steps of [1, 7, 60]) {
      rmSync(file, { force: true });
      const child = spawn(process.execPath, ['--input-type=module', '-e', program]);
      let reported = 0;
      child.stdout.on('data', (chunk: Buffer) => {
        reported = Number(chunk.toString().trimEnd().split('\n').at(-1));
        if (reported >= steps) child.kill('SIGKILL');
      });
      await new Promise((resolve) => child.on('close', resolve));
      const { history, dropped } = History.recover(readFileSync(file, 'utf8'));
      // The first of 1000 steps are forgotten; the document is that of the last one written down.
      const value = Number(/"at":"6f","value":(\d+)/.exec(JSON.stringify(history.doc))![1]);
      expect(value).toBeGreaterThanOrEqual(reported);
      expect(history.done).toHaveLength(Math.min(1000, value));
      expect(dropped).toBeLessThanOrEqual(1);
    }
  }, 60_000);

  it('stops at a damaged line, and reports how many are lost', () => {
    let text = '';
    const history = new History(crab, { journal: (line) => (text += line) });
    history.apply(move(1));
    history.apply({ do: 'reverse', clip: 'snap' });
    const { history: again, dropped } = History.recover(text.replace('"1f"', '"2f"'));
    expect([again.done, dropped]).toEqual([[], 2]);
  });

  it('with any flipped bit is recovered up to a line before it, or refused; lost lines are counted', () => {
    fc.assert(
      fc.property(work, fc.nat(), fc.nat({ max: 6 }), ({ doc, steps }, place, bit) => {
        let text = '';
        const history = new History(doc, { journal: (line) => (text += line) });
        const states = [formatReel(doc)];
        for (const step of steps) {
          const before = text.length;
          take(history, step);
          if (text.length > before) states.push(formatReel(history.doc));
        }
        const at = place % text.length;
        const damaged = text.slice(0, at) + String.fromCharCode(text.charCodeAt(at) ^ (1 << bit)) + text.slice(at + 1);
        const line = text.slice(0, at).split('\n').length - 1;
        if (line === 0) {
          expect(() => History.recover(damaged)).toThrow(UnspoolError);
          return;
        }
        const { history: again, dropped } = History.recover(damaged);
        expect(formatReel(again.doc)).toBe(states[line - 1]);
        // A line's end that is gone joins two; one that is new makes two of one.
        expect(Math.abs(dropped - (states.length - line))).toBeLessThanOrEqual(1);
        expect(dropped).toBeGreaterThan(0);
      }),
      { ...runs(200), endOnFailure: true },
    );
  }, 600_000);

  it.each([
    ['no object', '5'],
    ['a reel with errors in the place of one', '{"saved":{"unspool":1,"clips":{"a":5}}}'],
    ['an operation that is none', '{"apply":{"do":"nothing"}}'],
    ['no JSON', '{"apply":'],
    ['a step back where there is none', '{"undo":true}'],
    ['nothing that is known', '{"repeat":true}'],
  ])('takes up nothing from %s on, whatever its checksum says', (_, line) => {
    let text = '';
    new History(crab, { journal: (written) => (text += written) });
    const whole = `${checksum(line)} ${line}\n`;
    const { history, dropped } = History.recover(text + whole + whole);
    expect([history.doc, history.done, dropped]).toEqual([crab, [], 2]);
    const begun = '{"begin":{"unspool":1,"clips":{"a":5}}}';
    expect(() => History.recover(`${checksum(begun)} ${begun}\n`)).toThrow(/first line is damaged/);
  });
});
