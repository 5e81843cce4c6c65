import { useEffect, useRef, useState, type PointerEvent } from 'react';
import { Button } from 'react-aria-components';
import { sheetRect, type ReelDocument } from 'unspool';
import { apply, goTo, shown } from '../model/actions.js';
import { usePictureSize } from './use-picture-size.js';
import { writeAt } from '../model/keys.js';
import { get, setStatus, shownClip, useStore } from '../model/store.js';
import { timesIn } from '../numbers/expression.js';
import { NumberField } from '../numbers/NumberField.js';

type Sheet = NonNullable<ReelDocument['sheets']>[string];

/** The sheets of the reel: cells are picked by pointing, and become held keys from the playhead on. */
export function SheetsPanel() {
  const doc = useStore((state) => state.doc);
  const role = useStore((state) => state.role);
  const withSheets = Object.entries(doc?.roles ?? {}).filter(([, { sheet }]) => sheet !== undefined);
  const own = withSheets.find(([name]) => name === role) ?? withSheets[0];
  if (!doc || !own) return <p className="empty">No role has a sheet. Assign one to a role in the roles panel.</p>;
  const sheet = doc.sheets?.[own[1].sheet!];
  return sheet ? <SheetOf key={own[0]} role={own[0]} sheet={sheet} /> : null;
}

function SheetOf({ role, sheet }: { readonly role: string; readonly sheet: Sheet }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [picked, setPicked] = useState<readonly number[]>([]);
  const [each, setEach] = useState(3);
  const pictures = useStore((state) => state.pictures);
  const fps = useStore((state) => shownClip(state)?.fps ?? 60);
  const shownFrame = useStore((state) => state.values[`${role}.frame`]);
  const start = useRef<number>(undefined);
  const size = usePictureSize(sheet.image);
  const isOutside = (i: number) => {
    const [x, y, w, h] = sheetRect(sheet, i);
    return size !== undefined && (x + w > size[0] || y + h > size[1]);
  };
  const lost = picked.filter(isOutside);
  const { columns, rows } = sheet;
  const [, , cellWidth, cellHeight] = sheetRect(sheet, 0);
  const scale = Math.min(1, 440 / (columns * cellWidth));

  useEffect(() => {
    let isGone = false;
    void pictures?.load(sheet.image).then((bitmap) => {
      const pen = canvas.current?.getContext('2d');
      if (isGone || !pen || !bitmap) return;
      pen.clearRect(0, 0, pen.canvas.width, pen.canvas.height);
      for (let i = 0; i < columns * rows; i++) {
        const [x, y, w, h] = sheetRect(sheet, i);
        pen.drawImage(
          bitmap,
          x,
          y,
          w,
          h,
          (i % columns) * cellWidth * scale,
          Math.floor(i / columns) * cellHeight * scale,
          w * scale,
          h * scale,
        );
      }
    });
    return () => void (isGone = true);
  }, [pictures, sheet, columns, rows, cellWidth, cellHeight, scale]);

  const cellAt = (event: PointerEvent<HTMLElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const column = Math.floor(((event.clientX - box.left) / box.width) * columns);
    const row = Math.floor(((event.clientY - box.top) / box.height) * rows);
    return Math.min(rows - 1, Math.max(0, row)) * columns + Math.min(columns - 1, Math.max(0, column));
  };
  const pick = (from: number, until: number, kept: readonly number[]) => {
    const step = until >= from ? 1 : -1;
    setPicked([...kept, ...Array.from({ length: Math.abs(until - from) + 1 }, (_, i) => from + i * step)]);
  };
  return (
    <div className="sheet-panel">
      <div className="panel-bar">
        <strong>{role}</strong>
        <label className="field">
          <span>each</span>
          <NumberField
            label="Duration of each cell"
            value={each}
            {...timesIn(false, fps)}
            least={0.01}
            onChange={setEach}
          />
        </label>
        <Button
          className="text-button is-main"
          isDisabled={picked.length === 0 || lost.length > 0}
          onPress={() => keyCells(role, picked, each)}
        >
          Key from the playhead
        </Button>
      </div>
      <p className={`sheet-hint ${lost.length > 0 ? 'is-fault' : ''}`}>
        {lost.length > 0
          ? `${lost.length === 1 ? 'Cell' : 'Cells'} ${describeCells(lost)} ${lost.length === 1 ? 'lies' : 'lie'} outside the picture, which is ${size!.join(' × ')}.`
          : picked.length === 0
            ? 'Click cells to pick them. Drag for several, Shift adds more.'
            : `${picked.length} cells: ${describeCells(picked)}`}
      </p>
      <div
        className="sheet"
        data-testid="sheet"
        role="group"
        aria-label={`Cells of the sheet of ${role}`}
        style={{ width: columns * cellWidth * scale, height: rows * cellHeight * scale }}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          start.current = cellAt(event);
          pick(start.current, start.current, event.shiftKey ? picked : []);
        }}
        onPointerMove={(event) =>
          start.current !== undefined && !event.shiftKey && pick(start.current, cellAt(event), [])
        }
        onPointerUp={() => (start.current = undefined)}
      >
        <canvas
          ref={canvas}
          width={columns * cellWidth * scale}
          height={rows * cellHeight * scale}
          aria-hidden="true"
        />
        {Array.from({ length: columns * rows }, (_, i) => (
          <button
            key={i}
            type="button"
            className={`cell ${i === shownFrame ? 'is-shown' : ''} ${isOutside(i) ? 'is-outside' : ''}`}
            aria-label={`Cell ${i}`}
            aria-pressed={picked.includes(i)}
            style={{
              left: `${((i % columns) / columns) * 100}%`,
              top: `${(Math.floor(i / columns) / rows) * 100}%`,
              width: `${100 / columns}%`,
              height: `${100 / rows}%`,
            }}
            onKeyDown={(event) => {
              if (event.key !== 'Enter' && event.key !== ' ') return;
              event.preventDefault();
              event.stopPropagation();
              pick(i, i, event.shiftKey ? picked : []);
            }}
          >
            {picked.includes(i) ? picked.indexOf(i) + 1 : ''}
          </button>
        ))}
      </div>
    </div>
  );
}

function describeCells(cells: readonly number[]): string {
  return isRun(cells) && cells.length > 1 ? `${cells[0]}–${cells.at(-1)}` : cells.join(', ');
}

/** Whether they follow each other, forwards or backwards. */
function isRun(cells: readonly number[]): boolean {
  const step = Math.sign((cells[1] ?? 0) - cells[0]!) || 1;
  return cells.every((cell, i) => cell === cells[0]! + i * step);
}

/** Cells as held keys from the playhead on: those in a run as one row of frames. */
function keyCells(role: string, cells: readonly number[], each: number): void {
  const now = shown();
  if (!now) return;
  const { time } = get();
  const at = writeAt(time, now.fps, now.clip);
  const keys =
    isRun(cells) && cells.length > 1
      ? [{ at: 0, frames: [cells[0]!, cells.at(-1)!] as const, each: `${each}f` as const }]
      : cells.map((value, i) => ({ at: i === 0 ? 0 : (`${Number((i * each).toFixed(3))}f` as const), value }));
  const until = time + (cells.length * each) / now.fps;
  const long = until > now.duration + 1e-9;
  const paste = { do: 'paste', clip: now.name, at, tracks: { [`${role}.frame`]: keys }, fps: now.fps } as const;
  const summary = `put ${cells.length} frames of ${role} at ${at}`;
  const grow = {
    do: 'change',
    what: 'clip',
    name: now.name,
    to: { duration: writeAt(until, now.fps, now.clip) },
  } as const;
  if (
    !apply({
      do: 'group',
      said: summary,
      operations: long && now.clip.duration !== undefined ? [paste, grow] : [paste],
    })
  )
    return;
  goTo(time);
  if (long && now.clip.duration !== undefined) setStatus(`${summary}; the clip now ends with them`);
}
