import { useEffect, useRef, useState } from 'react';

interface Props {
  readonly caption: string;
  readonly label?: string;
  readonly text: string;
  /** What is wrong with a text is shown while it is typed, and it is not taken. */
  readonly isGood?: (text: string) => boolean;
  readonly hint?: string;
  readonly grows?: boolean;
  /** It is empty again once it was taken: what is typed is done, not kept. */
  readonly clears?: boolean;
  readonly onTake: (text: string) => void;
}

/** A text that is taken with Enter, or when the field is left; Escape leaves it as it was. */
export function TypedField({
  caption,
  label = caption,
  text,
  isGood = () => true,
  hint,
  grows = false,
  clears = false,
  onTake,
}: Props) {
  const [draft, setDraft] = useState(text);
  const [shown, setShown] = useState(text);
  // Another text from elsewhere is shown at once; the field stays the same, and keeps the focus.
  if (shown !== text) {
    setShown(text);
    setDraft(text);
  }
  const good = isGood(draft);
  // Enter accepts the text, and leaving the field after that does not accept it twice; a refused text stays to be
  // fixed.
  const taken = useRef(text);
  useEffect(() => {
    taken.current = text;
  }, [text]);
  const take = () => {
    if (draft === text || draft === taken.current || !good) return;
    taken.current = clears ? '' : draft;
    onTake(draft);
    if (clears) setDraft('');
  };
  return (
    <label className={`field ${grows ? 'grows' : ''}`}>
      <span>{caption}</span>
      <input
        className="text-value"
        aria-label={label}
        aria-invalid={!good}
        placeholder={hint}
        spellCheck={false}
        value={draft}
        onChange={(event) => setDraft(event.currentTarget.value)}
        onBlur={take}
        onKeyDown={(event) => {
          if (event.key === 'Enter') take();
          else if (event.key === 'Escape') {
            // In a dialog the first drops what is typed, the second closes it.
            const isAsked = event.currentTarget.closest('[role="dialog"]') !== null;
            if (isAsked && draft === text) return;
            setDraft(text);
            // Leaving the field takes nothing.
            taken.current = draft;
            if (!isAsked) event.currentTarget.blur();
            taken.current = text;
          } else return;
          event.stopPropagation();
        }}
      />
    </label>
  );
}
