import type { Reel, ReelDocument } from 'unspool';
import type { Operation } from 'unspool/edit';
import type { ConversionReport, Converted, Format, ReadOptions, WriteOptions } from '@unspool/open';
import { freeName } from './names.js';
import { apply } from './session.js';
import { get, set, setStatus, showClip } from './store.js';

/** Import and export in open formats. The package that does it is loaded when it is asked for. */
export const loadFormats = () => import('@unspool/open');

/** A file that was chosen or dropped, and the others beside it. */
export interface Chosen {
  readonly file: File;
  readonly format: Format;
  readonly beside: readonly File[];
}

/** The bytes of files by name: a glTF file may have its numbers in another. */
async function bytesOf(files: readonly File[]): Promise<ReadonlyMap<string, Uint8Array>> {
  const entries = files.map(async (file) => [file.name, new Uint8Array(await file.arrayBuffer())] as const);
  return new Map(await Promise.all(entries));
}

/** Adds what a file says to the open reel, as one step, and says what became of it. */
export async function importFile({ file, format, beside }: Chosen, options: ReadOptions): Promise<void> {
  const { readFormat } = await loadFormats();
  const others = await bytesOf(beside);
  let read: Converted<Reel>;
  try {
    read = readFormat(format, new Uint8Array(await file.arrayBuffer()), {
      ...options,
      resource: (uri) => others.get(uri),
    });
  } catch (error) {
    setStatus(`${file.name} was not imported: ${(error as Error).message}`, true);
    return;
  }
  const { doc } = get();
  if (!doc) return;
  const { operations, clips } = merging(doc, read.result.document);
  if (!apply({ do: 'group', said: `imported ${file.name}`, operations })) return;
  const [first] = clips;
  if (first !== undefined) showClip(first);
  setStatus(`Imported ${clips.length === 1 ? `the clip ${first}` : `${clips.length} clips`} from ${file.name}.`);
  await tell(`Imported from ${file.name}`, read.report);
}

/** What adds the roles, sheets and clips of one reel to another. Clips whose names are taken get free ones. */
function merging(doc: ReelDocument, added: ReelDocument): { operations: Operation[]; clips: string[] } {
  const operations: Operation[] = [];
  const clips: string[] = [];
  for (const what of ['sheet', 'role'] as const) {
    for (const [name, value] of Object.entries(added[`${what}s`] ?? {})) {
      if (!Object.hasOwn(doc[`${what}s`] ?? {}, name)) operations.push({ do: 'add', what, name, value });
    }
  }
  const taken: Record<string, unknown> = { ...doc.clips };
  const fps = added.fps ?? 60;
  for (const [name, clip] of Object.entries(added.clips)) {
    const free = freeName(name, taken);
    taken[free] = clip;
    clips.push(free);
    // Times in frames keep their meaning where the reel has another frame rate.
    const value = clip.fps === undefined && fps !== (doc.fps ?? 60) ? { fps, ...clip } : clip;
    operations.push({ do: 'add', what: 'clip', name: free, value });
  }
  return { operations, clips };
}

/** Writes clips in a format and gives the file to the browser, which saves it as it saves downloads. */
export async function exportClips(format: Format, clips: readonly string[] | undefined): Promise<void> {
  const { reel, reelName } = get();
  if (!reel) return;
  const { endingsOf, writeFormat } = await loadFormats();
  const options: WriteOptions = clips ? { clips } : {};
  let written: Converted<Uint8Array | string>;
  try {
    written = await writeFormat(format, reel, options);
  } catch (error) {
    setStatus(`Nothing was exported: ${(error as Error).message}`, true);
    return;
  }
  const title = clips?.length === 1 ? clips[0]! : (reelName ?? 'reel').replace(/\.reel\.json$|\.json$/, '');
  const name = `${title}${endingsOf(format)[0]}`;
  const link = document.createElement('a');
  link.href = URL.createObjectURL(new Blob([written.result as BlobPart]));
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
  setStatus(`Exported ${name}.`);
  await tell(`Exported ${name}`, written.report);
}

/** Lines of a report that a dialog shows. */
const MOST = 40;

/** Says what was approximated, dropped and renamed; nothing when all was kept. */
async function tell(title: string, { kept, approximated, dropped, renamed }: ConversionReport): Promise<void> {
  const { formatNote } = await loadFormats();
  const lines = [
    ...renamed.map(({ what, from, to }) => `Renamed: ${what} ${from} to ${to}`),
    ...dropped.map((note) => `Dropped: ${formatNote(note)}`),
    ...approximated.map((note) => `Approximated: ${formatNote(note)}`),
  ];
  if (lines.length === 0) return;
  const shown = lines.length > MOST ? [...lines.slice(0, MOST), `and ${lines.length - MOST} more`] : lines;
  const counts = `${kept.length} kept, ${approximated.length} approximated, ${dropped.length} dropped`;
  set({ dialog: { title, action: 'Close', fields: [], lines: [counts, ...shown], run: () => true } });
}
