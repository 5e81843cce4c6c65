import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { ReelRequest, ReelMessage } from '@unspool/cli/protocol';
import fc from 'fast-check';
import { formatReel, parseReel, type ReelDocument } from 'unspool';
import { History, patchBetween, type Operation } from 'unspool/edit';
import { describe, expect, it } from 'vitest';
import { SharedReel } from './shared-reel.js';

const text = readFileSync(
  fileURLToPath(new URL('../../../../examples/tidepool/reels/crab.reel.json', import.meta.url)),
  'utf8',
);
const crab = parseReel(text).document;
const keys = crab.clips['snap']!.tracks!['claw.rotation'] as readonly { at: number | string }[];

/** The server, as far as it is about who changes what: one history, and what it tells each of two pages. */
class Server {
  readonly history = new History(crab);
  /** What is on its way to each page. */
  readonly mail: [ReelMessage[], ReelMessage[]] = [[], []];

  get steps() {
    const { done, undone } = this.history;
    return { done, undone, doneCount: done.length, undoneCount: undone.length };
  }

  open(page: 0 | 1): void {
    this.mail[page] = [{ tell: 'open', doc: this.history.doc, steps: this.steps, file: { saved: true } }];
  }

  receive(request: Extract<ReelRequest, { mark: string }>, page: 0 | 1): void {
    const { mark } = request;
    const refused = (code: string) => void this.mail[page].push({ tell: 'refused', mark, code, message: 'no' });
    if (this.history.knows(mark)) return refused('workbench/known');
    const before = this.history.doc;
    const done =
      request.ask === 'apply'
        ? this.history.apply(request.operation, { mark }).ok
        : this.history[request.ask]({ mark }) !== undefined;
    const operation =
      done && request.ask !== 'apply'
        ? patchBetween(before, this.history.doc, 'went')
        : done && request.ask === 'apply'
          ? request.operation
          : null;
    if (!operation) return refused('edit/any');
    for (const mail of this.mail) mail.push({ tell: 'step', mark, operation, steps: this.steps });
  }
}

const operation: fc.Arbitrary<Operation> = fc.oneof(
  fc
    .record({ at: fc.nat(keys.length - 1), value: fc.integer({ min: -90, max: 90 }) })
    .map(({ at, value }): Operation => ({
      do: 'set-keys',
      clip: 'snap',
      keys: { 'claw.rotation': [keys[at]!.at as 0] },
      value,
    })),
  fc.record({ at: fc.nat(keys.length - 1), by: fc.integer({ min: -3, max: 3 }) }).map(({ at, by }): Operation => ({
    do: 'move-keys',
    clip: 'snap',
    keys: { 'claw.rotation': [keys[at]!.at as 0] },
    by: `${by}f`,
  })),
  fc.constantFrom('a', 'b', 'c').map((to): Operation => ({ do: 'copy-clip', clip: 'snap', to })),
  fc.constantFrom('a', 'b', 'c').map((name): Operation => ({ do: 'remove', what: 'clip', name })),
);

type Act =
  | { readonly page: 0 | 1; readonly do: 'apply'; readonly operation: Operation }
  | { readonly page: 0 | 1; readonly do: 'undo' | 'redo' | 'lose' }
  /** So many of the texts that are on their way arrive: at the server, and at the page. */
  | { readonly page: 0 | 1; readonly do: 'arrive'; readonly there: number; readonly back: number };

const page = fc.constantFrom<0 | 1>(0, 1);
const acts: fc.Arbitrary<Act[]> = fc.array(
  fc.oneof(
    { weight: 4, arbitrary: fc.record({ page, do: fc.constant('apply' as const), operation }) },
    {
      weight: 1,
      arbitrary: fc.record({ page, do: fc.constantFrom('undo' as const, 'redo' as const, 'lose' as const) }),
    },
    {
      weight: 4,
      arbitrary: fc.record({ page, do: fc.constant('arrive' as const), there: fc.nat(3), back: fc.nat(4) }),
    },
  ),
  { maxLength: 40 },
);

describe('a reel that two pages share', () => {
  it('is the same on both, and as the server has it, once everything has arrived; nothing is done twice', () => {
    fc.assert(
      fc.property(acts, (list) => {
        const server = new Server();
        const pages = [new SharedReel(), new SharedReel()] as const;
        const sent: [Extract<ReelRequest, { mark: string }>[], Extract<ReelRequest, { mark: string }>[]] = [[], []];
        let count = 0;
        const asks = (who: 0 | 1) => {
          const last = pages[who].unanswered.at(-1)!;
          sent[who].push(last);
        };
        const arrive = (who: 0 | 1, there: number, back: number) => {
          for (const request of sent[who].splice(0, there)) server.receive(request, who);
          for (const message of server.mail[who].splice(0, back)) {
            pages[who].take(message);
            // A new connection: what was not answered is asked again.
            if (message.tell === 'open') sent[who].push(...pages[who].unanswered);
          }
        };
        for (const who of [0, 1] as const) {
          server.open(who);
          arrive(who, 0, 1);
        }
        for (const act of list) {
          const one = pages[act.page];
          if (act.do === 'arrive') arrive(act.page, act.there, act.back);
          else if (act.do === 'lose') {
            // The connection is lost with all that was on its way.
            sent[act.page] = [];
            server.open(act.page);
          } else if (act.do === 'apply') {
            if (one.doc && one.apply(act.operation, `m${++count}`).ok) asks(act.page);
          } else {
            one.go(act.do, `m${++count}`);
            asks(act.page);
          }
        }
        for (let i = 0; i < 200; i++) for (const who of [0, 1] as const) arrive(who, 9, 9);
        const there = formatReel(server.history.doc);
        expect(pages.map(({ doc }) => formatReel(doc as ReelDocument))).toEqual([there, there]);
        expect(pages.flatMap(({ unanswered }) => unanswered)).toEqual([]);
        expect(pages.map(({ steps }) => steps)).toEqual([server.steps, server.steps]);
      }),
      { numRuns: Number(process.env.UNSPOOL_CASES ?? 150), seed: 20261126 },
    );
  });

  it('knows what can be undone and redone before the server has answered', () => {
    fc.assert(
      fc.property(acts, (list) => {
        const server = new Server();
        server.open(0);
        const page = new SharedReel();
        page.take(server.mail[0].shift()!);
        let count = 0;
        for (const act of list) {
          // Some answers are under way all the time.
          if (act.do === 'arrive') for (const message of server.mail[0].splice(0, act.back)) page.take(message);
          else if (act.do === 'apply') {
            if (!page.apply(act.operation, `m${++count}`).ok) continue;
            server.receive(page.unanswered.at(-1)!, 0);
          } else if (act.do !== 'lose') {
            page.go(act.do, `m${++count}`);
            server.receive(page.unanswered.at(-1)!, 0);
          }
          // Where what was shown still applies: an undo that is under way may take what an edit was made on.
          if (server.mail[0].every(({ tell }) => tell === 'step')) expect(page.steps).toEqual(server.steps);
        }
      }),
      { numRuns: Number(process.env.UNSPOOL_CASES ?? 150), seed: 20261202 },
    );
  });

  it('shows requests at once, and reports when one is refused', () => {
    const one = new SharedReel();
    expect(one.doc).toBeUndefined();
    one.take({ tell: 'open', doc: crab, steps: one.steps, file: { saved: true } });
    expect(one.apply({ do: 'remove', what: 'clip', name: 'nobody' }, 'm1')).toMatchObject({
      ok: false,
      code: 'edit/unknown-clip',
    });
    expect(one.apply({ do: 'copy-clip', clip: 'snap', to: 'a' }, 'm2').ok).toBe(true);
    expect(Object.keys(one.doc!.clips)).toContain('a');
    expect(one.take({ tell: 'refused', mark: 'm2', code: 'edit/name-taken', message: 'a already exists' })).toBe(
      'a already exists',
    );
    expect(one.doc).toBe(crab);
  });

  it('refuses what the server would not take, and does not ask for it again and again', () => {
    const one = new SharedReel();
    one.take({ tell: 'open', doc: crab, steps: one.steps, file: { saved: true } });
    const add = (letters: number): Operation => ({
      do: 'add',
      what: 'clip',
      name: 'long',
      value: { duration: 1, tracks: {}, 'x-note': 'ü'.repeat(letters) },
    });
    const refused = one.apply(add(2 ** 23), 'm1');
    expect(refused).toMatchObject({ ok: false, code: 'workbench/too-large' });
    expect(refused.said).toMatch(/^This change has 16,777,\d{3} bytes, and the server takes 16,777,216 at most/);
    expect([one.doc, one.unanswered]).toEqual([crab, []]);
    expect(one.apply(add(2 ** 23 - 200), 'm2').ok).toBe(true);
    expect(one.unanswered).toHaveLength(1);
  });

  it('that was reloaded repeats unanswered requests', () => {
    const left = [{ ask: 'apply', mark: 'm7', operation: { do: 'copy-clip', clip: 'snap', to: 'a' } }] as const;
    const one = new SharedReel(left);
    one.take({ tell: 'open', doc: crab, steps: one.steps, file: { saved: true } });
    expect(one.unanswered).toEqual(left);
    expect(Object.keys(one.doc!.clips)).toContain('a');
  });
});
