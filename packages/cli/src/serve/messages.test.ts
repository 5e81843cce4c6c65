import { copyFileSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { formatReel, parseReel, type ReelDocument } from 'unspool';
import { expect, it } from 'vitest';
import { REELS, scratchFolder } from '../../test/command.js';
import { Served, type PageOn } from '../../test/served.js';
import { damaged } from '../../../unspool/test/mutate.js';
import { randomOperation } from '../../../unspool/test/random-operations.js';
import { runs } from '../../../unspool/test/runs.js';

/**
 * Whatever pages send, and however they go: the server neither dies nor is silent for a second, what is on the disk is a
 * reel, and all that was acknowledged is there.
 */

const scratch = scratchFolder();
const file = join(scratch, 'crab.reel.json');
copyFileSync(join(REELS, 'crab.reel.json'), file);
const crab = JSON.parse(readFileSync(file, 'utf8')) as ReelDocument;

let marks = 0;
const mark = fc.constant(null).map(() => `f${++marks}`);
const request = fc.oneof(
  { weight: 6, arbitrary: fc.record({ ask: fc.constant('apply'), mark, operation: randomOperation(crab) }) },
  { weight: 2, arbitrary: fc.record({ ask: fc.constantFrom('undo', 'redo'), mark }) },
  { weight: 1, arbitrary: fc.constantFrom({ ask: 'save' }, { ask: 'take-back' }, { ask: 'settle', take: 'ours' }) },
);
/** What cannot be written as JSON, as a circle, is not sent. */
function jsonOf(value: unknown): string {
  try {
    return JSON.stringify(value) ?? 'null';
  } catch {
    return 'null';
  }
}

/** As pages send it, changed somewhere, or anything at all. */
const message = fc.oneof(
  { weight: 3, arbitrary: request.map((one) => JSON.stringify(one)) },
  { weight: 5, arbitrary: damaged(request).map(jsonOf) },
  { weight: 1, arbitrary: fc.string({ maxLength: 60 }) },
  { weight: 1, arbitrary: fc.json() },
);
/** A few messages at once, and how the page goes then. */
const visit = fc.record({
  messages: fc.array(message, { minLength: 1, maxLength: 30 }),
  end: fc.constantFrom('stays', 'stays', 'stays', 'closes', 'resets'),
});

it('outlives whatever pages send, and loses nothing that it has acknowledged', async () => {
  const served = await Served.start([file], join(scratch, 'state'));
  const witness = await served.page();
  let page: PageOn = await served.page();
  let slowest = 0;
  let sent = 0;
  const { numRuns } = runs(20);
  await fc.assert(
    fc.asyncProperty(visit, async ({ messages, end }) => {
      if (page.socket.readyState !== page.socket.OPEN) page = await served.page();
      for (const one of messages) page.socket.send(one);
      sent += messages.length;
      if (end === 'closes') page.socket.close();
      if (end === 'resets') page.socket.terminate();
      // Another page is answered meanwhile, and soon.
      const begun = performance.now();
      const answer = await witness.apply({ do: 'nothing' } as never);
      slowest = Math.max(slowest, (performance.now() - begun) / messages.length);
      expect(answer).toMatchObject({ tell: 'refused', code: 'edit/operation' });
      expect(served.isAlive, served.output).toBe(true);
      witness.received.splice(0, witness.received.length - 1);
    }),
    { numRuns, endOnFailure: true },
  );
  expect(slowest).toBeLessThan(1000);
  expect(sent).toBeGreaterThan(numRuns);
  expect(served.output).not.toContain('a fault of the workbench');
  // What pages see at the end is what stands in the file, and what the next one takes up after a crash.
  const last = await served.page();
  const [opened] = last.received;
  const seen = opened?.tell === 'open' ? formatReel(opened.doc) : '';
  await served.end('SIGKILL');
  const again = await Served.start([file], join(scratch, 'state'));
  const [taken] = (await again.page()).received;
  expect(taken?.tell === 'open' && formatReel(taken.doc)).toBe(seen);
  expect(await again.end()).toBe(0);
  expect(formatReel(parseReel<unknown>(readFileSync(file, 'utf8')).document)).toBe(seen);
}, 3_600_000);
