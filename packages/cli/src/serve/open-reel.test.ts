import { chmodSync, copyFileSync, existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { formatReel, type ReelDocument } from 'unspool';
import type { Operation } from 'unspool/edit';
import { beforeEach, describe, expect, it, onTestFinished } from 'vitest';
import { REELS, scratchFolder } from '../../test/command.js';
import { turn, valueIn } from '../../test/turn.js';
import { OpenReel } from './open-reel.js';
import type { ServerMessage } from './protocol.js';

const scratch = scratchFolder();
let file: string;
let state: string;
let count = 0;
let printed: string[];

beforeEach(() => {
  count++;
  file = join(scratch, `crab-${count}.reel.json`);
  state = join(scratch, `state-${count}`);
  copyFileSync(join(REELS, 'crab.reel.json'), file);
  process.env['UNSPOOL_STATE'] = state;
  printed = [];
});

async function open(): Promise<{ readonly reel: OpenReel; readonly received: ServerMessage[] }> {
  const { stateFolder } = await import('./state-folder.js');
  const reel = await OpenReel.open('crab', file, stateFolder(), (line) => printed.push(line));
  const received: ServerMessage[] = [];
  reel.join((one) => received.push(one));
  return { reel, received };
}

let marks = 0;
const apply = ({ reel, received }: Awaited<ReturnType<typeof open>>, operation: Operation) =>
  reel.receive({ ask: 'apply', mark: `m${++marks}`, operation }, (one) => received.push(one));
const journals = () => readdirSync(join(state, 'journals'));
const lastFile = (received: readonly ServerMessage[]) => received.findLast((one) => one.tell === 'file')?.file;

describe('an open reel', () => {
  it('sends a new page the document, and every page each step; the file is written automatically', async () => {
    const one = await open();
    onTestFinished(async () => void (await one.reel.close()));
    expect(one.received[0]).toMatchObject({ tell: 'open', file: { saved: true }, steps: { doneCount: 0 } });
    apply(one, turn(-50));
    expect(one.received.at(-2)).toMatchObject({ tell: 'step', steps: { done: ['set 1 key of claw.rotation to -50'] } });
    expect(lastFile(one.received)).toEqual({ saved: false });
    await expect.poll(() => valueIn(readFileSync(file, 'utf8')), { timeout: 10_000 }).toBe(-50);
    await expect.poll(() => lastFile(one.received), { timeout: 10_000 }).toEqual({ saved: true });
  });

  it('leaves a file as it is written until something is done to it', async () => {
    const own = JSON.stringify(JSON.parse(readFileSync(file, 'utf8')));
    writeFileSync(file, own);
    const one = await open();
    await one.reel.save();
    await one.reel.close();
    expect(readFileSync(file, 'utf8')).toBe(own);
    const two = await open();
    apply(two, turn(-50));
    await two.reel.close();
    expect(readFileSync(file, 'utf8')).toBe(formatReel(JSON.parse(readFileSync(file, 'utf8')) as ReelDocument));
  });

  it('undoes without an end', async () => {
    const one = await open();
    const before = formatReel(one.reel.doc);
    for (let i = 0; i < 1500; i++) apply(one, turn(i));
    const last = one.received.findLast((message) => message.tell === 'step')!;
    expect(last.steps.doneCount).toBe(1500);
    expect(last.steps.done).toHaveLength(100);
    for (let i = 0; i < 1500; i++) one.reel.receive({ ask: 'undo', mark: `u${i}` }, () => {});
    expect(formatReel(one.reel.doc)).toBe(before);
    one.reel.receive({ ask: 'undo', mark: 'too many' }, (message) => one.received.push(message));
    expect(one.received.at(-1)).toMatchObject({ tell: 'refused', code: 'workbench/no-step' });
    await one.reel.close();
  });

  it('refuses a request to the page that sent it; the others receive nothing', async () => {
    const one = await open();
    onTestFinished(async () => void (await one.reel.close()));
    const other: ServerMessage[] = [];
    const leave = one.reel.join((message) => other.push(message));
    apply(one, { do: 'remove', what: 'clip', name: 'nobody' });
    expect(one.received.at(-1)).toMatchObject({ tell: 'refused', code: 'edit/unknown-clip' });
    expect(other).toHaveLength(1);
    leave();
    apply(one, turn(-50));
    expect(other).toHaveLength(1);
  });
});

describe('a journal', () => {
  /** What a workbench that is killed leaves behind: its journal, and nothing saved. */
  async function killed(...values: readonly number[]): Promise<string> {
    const one = await open();
    for (const value of values) apply(one, turn(value));
    const name = journals().find((journal) => journal.endsWith('.journal'))!;
    const path = join(state, 'journals', name);
    const text = readFileSync(path, 'utf8');
    chmodSync(file, 0o444); // so that closing saves nothing
    await one.reel.close();
    chmodSync(file, 0o644);
    writeFileSync(path, text);
    printed.length = 0;
    return path;
  }

  it('is recovered with its steps, and removed when everything is saved', async () => {
    await killed(-50, -60);
    const one = await open();
    expect(printed).toEqual([expect.stringContaining('2 steps')]);
    expect(one.received[0]).toMatchObject({ steps: { doneCount: 2 }, file: { saved: false } });
    await one.reel.close();
    expect(valueIn(readFileSync(file, 'utf8'))).toBe(-60);
    expect(journals().filter((name) => name.endsWith('.journal'))).toEqual([]);
  });

  it('that was torn loses its last line at most', async () => {
    const path = await killed(-50, -60);
    writeFileSync(path, readFileSync(path, 'utf8').slice(0, -20));
    const one = await open();
    expect(one.received[0]).toMatchObject({ steps: { doneCount: 1 } });
    await one.reel.close();
    expect(valueIn(readFileSync(file, 'utf8'))).toBe(-50);
  });

  it('that cannot be read is put aside, and said', async () => {
    const path = await killed(-50);
    writeFileSync(path, 'nothing of this is a journal\n');
    const one = await open();
    expect(printed).toEqual([expect.stringContaining('was set aside')]);
    expect(one.received[0]).toMatchObject({ steps: { doneCount: 0 } });
    await one.reel.close();
    expect(journals().some((name) => name.endsWith('.unread'))).toBe(true);
    expect(valueIn(readFileSync(file, 'utf8'))).toBe(-48);
  });

  it('meets a file that has changed since: both are put together', async () => {
    await killed(-50);
    writeFileSync(file, readFileSync(file, 'utf8').replace('"at": "15f", "value": 14', '"at": "15f", "value": 22'));
    const one = await open();
    await one.reel.close();
    const text = readFileSync(file, 'utf8');
    expect(valueIn(text)).toBe(-50);
    expect(text).toContain('"at": "15f", "value": 22');
  });

  it('stays where the file could not be saved', async () => {
    await killed(-50);
    const one = await open();
    chmodSync(file, 0o444);
    await one.reel.close();
    chmodSync(file, 0o644);
    expect(journals().some((name) => name.endsWith('.journal'))).toBe(true);
    const two = await open();
    await two.reel.close();
    expect(valueIn(readFileSync(file, 'utf8'))).toBe(-50);
    expect(existsSync(join(state, 'journals'))).toBe(true);
  });
});
