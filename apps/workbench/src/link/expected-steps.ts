import type { Steps } from '@unspool/cli/protocol';

/** What was requested of the history: a step with its sentence, or a way back or forward. */
export type StepRequest =
  { readonly ask: 'apply'; readonly said: string | undefined } | { readonly ask: 'undo' | 'redo' };

/**
 * The history as it will be once the server has done what was requested, in this order. An undo can follow so fast
 * that what it undoes is not confirmed yet.
 */
export function expectSteps(steps: Steps, requests: readonly StepRequest[]): Steps {
  if (requests.length === 0) return steps;
  const [done, undone] = [[...steps.done], [...steps.undone]];
  let { doneCount, undoneCount } = steps;
  for (const request of requests) {
    if (request.ask === 'apply') {
      // It does not apply: it will be refused.
      if (request.said === undefined) continue;
      done.push(request.said);
      doneCount++;
      undone.length = undoneCount = 0;
    } else if (request.ask === 'undo' && doneCount > 0) {
      undone.unshift(done.pop() ?? EARLIER);
      doneCount--;
      undoneCount++;
    } else if (request.ask === 'redo' && undoneCount > 0) {
      done.push(undone.shift() ?? EARLIER);
      undoneCount--;
      doneCount++;
    }
  }
  return { done, undone, doneCount, undoneCount };
}

/** A step so far away that the server has not sent its sentence. */
const EARLIER = 'an earlier step';
