import { go } from '../model/session.js';
import { useStore } from '../model/store.js';

/** What was done, the last step at the end; what was undone stands below. A press takes back, or does again, to there. */
export function HistoryPanel() {
  const { done, undone, doneCount, undoneCount } = useStore((state) => state.steps);
  const repeat = (which: 'undo' | 'redo', times: number) => {
    for (let i = 0; i < times; i++) go(which);
  };
  if (doneCount + undoneCount === 0)
    return (
      <p className="empty">Nothing was done yet. Every step will stand here, also after the page is loaded anew.</p>
    );
  return (
    <ol className="steps" aria-label={`${doneCount} steps that can be undone, ${undoneCount} that can be done again`}>
      {doneCount > done.length && <li className="empty">and {doneCount - done.length} before these</li>}
      {done.map((message, i) => (
        <li key={i}>
          <button
            type="button"
            title="Take back what came after this"
            disabled={i === done.length - 1}
            onClick={() => repeat('undo', done.length - 1 - i)}
          >
            {message}
          </button>
        </li>
      ))}
      {undone.map((message, i) => (
        <li key={`redo ${i}`} className="is-undone">
          <button type="button" title="Do again up to this" onClick={() => repeat('redo', i + 1)}>
            {message} <em>(taken back)</em>
          </button>
        </li>
      ))}
    </ol>
  );
}
