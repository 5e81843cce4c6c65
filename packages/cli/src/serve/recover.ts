import { setImmediate } from 'node:timers/promises';
import { UnspoolError } from 'unspool';
import { History, type HistoryOptions } from 'unspool/edit';
import type { JournalFile } from './journal-file.js';

/** The time (ms) for which it runs without a break: a long journal takes seconds, in which the lock must be renewed. */
const SLICE = 50;

/**
 * Recovers the journal of a workbench that was killed. A damaged or unreadable one is kept beside it, and reported.
 *
 * @param say called with what was recovered, and what was not
 * @returns `undefined` when there is none that could be read
 */
export async function recover(
  journal: JournalFile,
  file: string,
  options: HistoryOptions,
  say: (message: string) => void,
): Promise<History | undefined> {
  const left = journal.read();
  if (!left) return undefined;
  if ('aside' in left) {
    say(`${file}: its journal cannot be read (${left.why}). It was set aside: ${left.aside}`);
    return undefined;
  }
  try {
    const { history, dropped } = await inSlices(History.recoverByStep(left.text, options));
    const count = history.done.length;
    const steps = `${count} ${count === 1 ? 'step' : 'steps'}`;
    const isTorn = dropped === 1 && !left.text.endsWith('\n');
    if (count > 0 || dropped > 0) say(`${file}: recovered ${steps} from the journal`);
    if (isTorn) say(`${file}: the last line was cut off by the crash; its step is lost`);
    else if (dropped > 0) {
      const lines = dropped === 1 ? 'its last line' : `its last ${dropped} lines`;
      say(`${file}: the journal is damaged; ${lines} could not be recovered. All of it is kept: ${journal.putAside()}`);
    }
    return history;
  } catch (error) {
    if (!(error instanceof UnspoolError)) throw error;
    say(`${file}: its journal cannot be read (${error.message}). It was set aside: ${journal.putAside()}`);
    return undefined;
  }
}

async function inSlices<T>(steps: Generator<void, T, void>): Promise<T> {
  let since = performance.now();
  for (let step = steps.next(); ; step = steps.next()) {
    if (step.done) return step.value;
    if (performance.now() - since < SLICE) continue;
    await setImmediate();
    since = performance.now();
  }
}
