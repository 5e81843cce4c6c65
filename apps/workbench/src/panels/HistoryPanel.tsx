import { go } from '../model/session.js';
import { useStore } from '../model/store.js';

/** The history: the last step at the end, undone steps below. A click undoes or redoes up to there. */
export function HistoryPanel() {
  const { done, undone, doneCount, undoneCount } = useStore((state) => state.steps);
  const repeat = (which: 'undo' | 'redo', times: number) => {
    for (let i = 0; i < times; i++) go(which);
  };
  if (doneCount + undoneCount === 0)
    return <p className="empty">No steps yet. Each edit is listed here and survives a reload.</p>;
  return (
    <ol className="steps" aria-label={`${doneCount} steps to undo, ${undoneCount} to redo`}>
      {doneCount > done.length && <li className="empty">{doneCount - done.length} earlier steps</li>}
      {done.map((message, i) => (
        <li key={i}>
          <button
            type="button"
            title="Undo everything after this step"
            disabled={i === done.length - 1}
            onClick={() => repeat('undo', done.length - 1 - i)}
          >
            {message}
          </button>
        </li>
      ))}
      {undone.map((message, i) => (
        <li key={`redo ${i}`} className="is-undone">
          <button type="button" title="Redo up to this step" onClick={() => repeat('redo', i + 1)}>
            {message} <em>(undone)</em>
          </button>
        </li>
      ))}
    </ol>
  );
}
