import { GripVertical } from 'lucide-react';

/** Takes something to another place of its list: by dragging, or with the arrow keys. */
export function OrderHandle({
  name,
  type,
  title,
  onMove,
}: {
  readonly name: string;
  /** The type of what is dragged: its data is the name. */
  readonly type: string;
  readonly title: string;
  /** By so many places: −1 or 1. */
  readonly onMove: (by: -1 | 1) => void;
}) {
  return (
    <button
      type="button"
      className="icon order"
      draggable
      aria-label={`Order of ${name}: arrow up and down move it`}
      title={title}
      onDragStart={(event) => event.dataTransfer.setData(type, name)}
      onKeyDown={(event) => {
        if (event.key !== 'ArrowUp' && event.key !== 'ArrowDown') return;
        event.preventDefault();
        event.stopPropagation();
        onMove(event.key === 'ArrowUp' ? -1 : 1);
      }}
    >
      <GripVertical size={13} aria-hidden />
    </button>
  );
}
