import { sheetRect, type ReelDocument } from 'unspool';

type Sheet = NonNullable<ReelDocument['sheets']>[string];

export interface Cell {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** A pixel whose alpha (0–255) is more than this is drawn. */
const DRAWN = 8;

function pixelsOf(bitmap: ImageBitmap): ImageData {
  const canvas = new OffscreenCanvas(bitmap.width, bitmap.height);
  const pen = canvas.getContext('2d')!;
  pen.drawImage(bitmap, 0, 0);
  return pen.getImageData(0, 0, bitmap.width, bitmap.height);
}

/** How many cells of each row of a grid are drawn: what is empty at the end of a row does not count. */
export function drawnCells(
  bitmap: ImageBitmap,
  sheet: Extract<Sheet, { readonly columns: number }>,
): readonly number[] {
  const { data, width, height } = pixelsOf(bitmap);
  const isDrawn = (frame: number) => {
    const [left, top, w, h] = sheetRect(sheet, frame);
    for (let y = top; y < Math.min(height, top + h); y++)
      for (let x = left; x < Math.min(width, left + w); x++) if (data[(y * width + x) * 4 + 3]! > DRAWN) return true;
    return false;
  };
  return Array.from({ length: sheet.rows }, (_, row) => {
    let count = sheet.columns;
    while (count > 0 && !isDrawn(row * sheet.columns + count - 1)) count--;
    return count;
  });
}

/**
 * The cells of a packed picture: boxes around drawn pixels with empty gaps between them, row by row. Parts of a drawing
 * that are at most `gap` pixels from each other are one.
 */
export function findCells(picture: Pick<ImageData, 'data' | 'width' | 'height'>, gap = 2): readonly Cell[] {
  const { data, width, height } = picture;
  const seen = new Uint8Array(width * height);
  const boxes: [left: number, top: number, right: number, bottom: number][] = [];
  for (let start = 0; start < seen.length; start++) {
    if (seen[start] || data[start * 4 + 3]! <= DRAWN) continue;
    const box: (typeof boxes)[number] = [width, height, -1, -1];
    const open = [start];
    seen[start] = 1;
    for (let next = open.pop(); next !== undefined; next = open.pop()) {
      const [x, y] = [next % width, Math.floor(next / width)];
      box[0] = Math.min(box[0], x);
      box[1] = Math.min(box[1], y);
      box[2] = Math.max(box[2], x);
      box[3] = Math.max(box[3], y);
      for (let dy = -gap; dy <= gap; dy++) {
        for (let dx = -gap; dx <= gap; dx++) {
          const [nx, ny] = [x + dx, y + dy];
          if (nx < 0 || ny < 0 || nx >= width || ny >= height) continue;
          const near = ny * width + nx;
          if (seen[near] || data[near * 4 + 3]! <= DRAWN) continue;
          seen[near] = 1;
          open.push(near);
        }
      }
    }
    boxes.push(box);
  }
  return inRows(boxes).map(([left, top, right, bottom]) => {
    return { x: left, y: top, width: right - left + 1, height: bottom - top + 1 };
  });
}

/** Boxes as one reads: those whose heights overlap are one row, from left to right. */
function inRows<B extends readonly [number, number, number, number]>(boxes: readonly B[]): readonly B[] {
  const rows: { bottom: number; readonly boxes: B[] }[] = [];
  for (const box of [...boxes].sort((a, b) => a[1] - b[1])) {
    const row = rows.at(-1);
    if (row && (box[1] + box[3]) / 2 <= row.bottom) {
      row.boxes.push(box);
      row.bottom = Math.max(row.bottom, box[3]);
    } else rows.push({ bottom: box[3], boxes: [box] });
  }
  return rows.flatMap((row) => row.boxes.sort((a, b) => a[0] - b[0]));
}

/** The cells of a picture that has come. */
export const cellsOfPicture = (bitmap: ImageBitmap): readonly Cell[] => findCells(pixelsOf(bitmap));
