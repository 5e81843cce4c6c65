import { useEffect, useRef, useState, type PointerEvent } from 'react';
import { Button, ToggleButton } from 'react-aria-components';
import { sheetCells, sheetRect, type ReelDocument } from 'unspool';
import { addRoleOf } from '../model/additions.js';
import { apply } from '../model/actions.js';
import { keyCells } from '../model/key-cells.js';
import { shownClip, useStore } from '../model/store.js';
import { timesIn } from '../numbers/expression.js';
import { NumberField } from '../numbers/NumberField.js';
import { askRowClips } from '../commands/sheet-prompts.js';
import { useEscape } from '../use-escape.js';
import { CellFields, FreeCells } from './CellFields.js';
import { usePicture } from './use-picture-size.js';

type Sheet = NonNullable<ReelDocument['sheets']>[string];

/** The most a sheet takes up (px). */
const WIDE = 460;

/** The sheets of the reel: cells are picked by pointing, and become held keys from the playhead on. */
export function SheetsPanel() {
  const doc = useStore((state) => state.doc);
  const role = useStore((state) => state.role);
  // Another role means its own sheet.
  const [[wanted, wantedFor], want] = useState<readonly [sheet?: string, role?: string | undefined]>([]);
  const sheets = Object.keys(doc?.sheets ?? {});
  const own = role === undefined ? undefined : doc?.roles?.[role]?.sheet;
  const name = [wantedFor === role ? wanted : undefined, own, ...sheets].find(
    (one) => one !== undefined && sheets.includes(one),
  );
  if (!doc || name === undefined)
    return (
      <p className="empty">
        No sheets yet. Drop a picture with drawings onto the page, then choose it under “new sheet from …” in the roles
        panel.
      </p>
    );
  const users = Object.entries(doc.roles ?? {}).filter(([, { sheet }]) => sheet === name);
  const user = users.find(([one]) => one === role) ?? users[0];
  return (
    <>
      {sheets.length > 1 && (
        <label className="field sheet-choice">
          <span>sheet</span>
          <select
            aria-label="Sheet that is shown"
            value={name}
            onChange={({ currentTarget }) => want([currentTarget.value, role])}
          >
            {sheets.map((one) => (
              <option key={one}>{one}</option>
            ))}
          </select>
        </label>
      )}
      <SheetOf key={name} name={name} role={user?.[0]} sheet={doc.sheets![name]!} />
    </>
  );
}

function SheetOf({
  name,
  role,
  sheet,
}: {
  readonly name: string;
  readonly role: string | undefined;
  readonly sheet: Sheet;
}) {
  const [picked, setPicked] = useState<readonly number[]>([]);
  const [each, setEach] = useState(3);
  const [isDrawing, setDrawing] = useState(false);
  const fps = useStore((state) => shownClip(state)?.fps ?? 60);
  const hasClip = useStore((state) => state.clip !== undefined);
  const shownFrame = useStore((state) => (role === undefined ? undefined : state.values[`${role}.frame`]));
  const bitmap = usePicture(sheet.image);
  const count = sheetCells(sheet);
  const rects = Array.from({ length: count }, (_, i) => sheetRect(sheet, i));
  const isOutside = (i: number) => {
    const [x, y, w, h] = rects[i] ?? [0, 0, 0, 0];
    return bitmap !== undefined && (x + w > bitmap.width || y + h > bitmap.height);
  };
  const there = picked.filter((i) => i < count);
  const lost = (there.length > 0 ? there : rects.map((_, i) => i)).filter(isOutside);
  return (
    <div className="sheet-panel">
      <div className="panel-bar">
        <strong>{role ?? name}</strong>
        {role === undefined ? (
          <Button className="text-button is-main" onPress={() => addRoleOf(name)}>
            Use it for a new role
          </Button>
        ) : (
          <>
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
              isDisabled={!hasClip || there.length === 0 || lost.length > 0}
              onPress={() => keyCells(role, there, each)}
            >
              Key from the playhead
            </Button>
            {'columns' in sheet && (
              <Button
                className="text-button"
                isDisabled={!bitmap}
                onPress={() => askRowClips(role, sheet, bitmap!, each)}
              >
                Clips from rows …
              </Button>
            )}
          </>
        )}
        <FreeCells name={name} sheet={sheet} bitmap={bitmap} />
        {'cells' in sheet && (
          <ToggleButton className="text-button" isSelected={isDrawing} onChange={setDrawing}>
            Draw cells
          </ToggleButton>
        )}
      </div>
      <p className={`sheet-hint ${lost.length > 0 ? 'is-fault' : ''}`}>{hintOf(lost, there, bitmap, isDrawing)}</p>
      {'cells' in sheet && there.length === 1 && <CellFields name={name} sheet={sheet} index={there[0]!} />}
      <Cells
        {...{ name, role: role ?? name, sheet, rects, bitmap, isDrawing, shownFrame, isOutside }}
        picked={there}
        onPick={setPicked}
      />
    </div>
  );
}

function hintOf(
  lost: readonly number[],
  picked: readonly number[],
  bitmap: ImageBitmap | undefined,
  isDrawing: boolean,
): string {
  if (lost.length > 0) {
    const [what, lies] = lost.length === 1 ? ['Cell', 'lies'] : ['Cells', 'lie'];
    return `${what} ${describeCells(lost)} ${lies} outside the picture, which is ${bitmap!.width} × ${bitmap!.height}.`;
  }
  if (isDrawing) return 'Drag around a drawing to add a cell.';
  if (picked.length === 0) return 'Click cells to pick them. Drag for several, Shift adds more.';
  return `${picked.length} ${picked.length === 1 ? 'cell' : 'cells'}: ${describeCells(picked)}`;
}

interface CellsProps {
  readonly name: string;
  readonly role: string;
  readonly sheet: Sheet;
  readonly rects: readonly (readonly [number, number, number, number])[];
  readonly bitmap: ImageBitmap | undefined;
  readonly picked: readonly number[];
  readonly shownFrame: unknown;
  readonly isDrawing: boolean;
  readonly isOutside: (i: number) => boolean;
  readonly onPick: (cells: readonly number[]) => void;
}

/** The picture with its cells over it. */
function Cells({ name, role, sheet, rects, bitmap, picked, shownFrame, isDrawing, isOutside, onPick }: CellsProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const start = useRef<readonly [x: number, y: number, cell: number, before: readonly number[]]>(undefined);
  const [drawn, setDrawn] = useState<readonly [number, number, number, number]>();
  const wide = Math.max(bitmap?.width ?? 0, ...rects.map(([x, , w]) => x + w));
  const high = Math.max(bitmap?.height ?? 0, ...rects.map(([, y, , h]) => y + h));
  const scale = Math.min(wide < 64 ? 4 : 1, WIDE / wide);
  useEffect(() => {
    const pen = canvas.current?.getContext('2d');
    if (!pen || !bitmap) return;
    pen.clearRect(0, 0, pen.canvas.width, pen.canvas.height);
    pen.imageSmoothingEnabled = scale < 1;
    pen.drawImage(bitmap, 0, 0, bitmap.width * scale, bitmap.height * scale);
  }, [bitmap, scale, wide, high]);
  useEscape(() => {
    if (!start.current) return false;
    onPick(start.current[3]);
    start.current = undefined;
    setDrawn(undefined);
    return true;
  });

  const placeOf = (event: PointerEvent<HTMLElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    return [((event.clientX - box.left) / box.width) * wide, ((event.clientY - box.top) / box.height) * high] as const;
  };
  /** The cell at a place, else the nearest. */
  const cellAt = ([px, py]: readonly [number, number]) => {
    const away = ([x, y, w, h]: (typeof rects)[number]) =>
      Math.hypot(Math.max(x - px, 0, px - x - w), Math.max(y - py, 0, py - y - h));
    return rects.reduce((best, rect, i) => (away(rect) < away(rects[best]!) ? i : best), 0);
  };
  const pick = (from: number, until: number, kept: readonly number[]) => {
    const step = until >= from ? 1 : -1;
    onPick([...kept, ...Array.from({ length: Math.abs(until - from) + 1 }, (_, i) => from + i * step)]);
  };
  const letGo = () => {
    start.current = undefined;
    setDrawn(undefined);
    if (!drawn || !('cells' in sheet) || drawn[2] < 2 || drawn[3] < 2) return;
    const [x, y, width, height] = drawn;
    const to = { cells: [...sheet.cells, { x, y, width, height }] };
    if (apply({ do: 'change', what: 'sheet', name, to })) onPick([sheet.cells.length]);
  };
  return (
    <div
      className={`sheet ${isDrawing ? 'is-drawing' : ''}`}
      data-testid="sheet"
      role="group"
      aria-label={`Cells of the sheet of ${role}`}
      style={{ width: wide * scale, height: high * scale }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        const place = placeOf(event);
        const cell = cellAt(place);
        start.current = [...place, cell, picked];
        if (!isDrawing) pick(cell, cell, event.shiftKey ? picked : []);
      }}
      onPointerMove={(event) => {
        if (!start.current) return;
        const [x, y] = placeOf(event);
        const [sx, sy, cell] = start.current;
        if (isDrawing) setDrawn(boxBetween([sx, sy], [x, y]));
        else if (!event.shiftKey) pick(cell, cellAt([x, y]), []);
      }}
      onPointerUp={letGo}
    >
      <canvas ref={canvas} width={wide * scale} height={high * scale} aria-hidden="true" />
      {rects.map(([x, y, w, h], i) => (
        <button
          key={i}
          type="button"
          className={`cell ${i === shownFrame ? 'is-shown' : ''} ${isOutside(i) ? 'is-outside' : ''}`}
          aria-label={`Cell ${i}`}
          aria-pressed={picked.includes(i)}
          style={{ left: x * scale, top: y * scale, width: w * scale, height: h * scale }}
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
      {drawn && (
        <span
          className="drawn-cell"
          style={{ left: drawn[0] * scale, top: drawn[1] * scale, width: drawn[2] * scale, height: drawn[3] * scale }}
        />
      )}
    </div>
  );
}

/** Whole pixels. */
function boxBetween(a: readonly [number, number], b: readonly [number, number]) {
  const [left, top] = [Math.max(0, Math.floor(Math.min(a[0], b[0]))), Math.max(0, Math.floor(Math.min(a[1], b[1])))];
  return [left, top, Math.ceil(Math.max(a[0], b[0])) - left, Math.ceil(Math.max(a[1], b[1])) - top] as const;
}

function describeCells(cells: readonly number[]): string {
  const step = Math.sign((cells[1] ?? 0) - cells[0]!) || 1;
  const isRun = cells.every((cell, i) => cell === cells[0]! + i * step);
  if (isRun && cells.length > 1) return `${cells[0]}–${cells.at(-1)}`;
  return cells.length > 12 ? `${cells.slice(0, 12).join(', ')} …` : cells.join(', ');
}
