import { get, setStatus, type Question } from '../model/store.js';
import { addPictures } from '../model/session.js';
import { exportClips, importFile, loadFormats, type Chosen } from '../model/exchange.js';
import { ask } from './prompts.js';
import type { Format, ReadOptions } from '@unspool/open';

/** What is asked before a file is imported, and before one is written. */

const YES = ['no', 'yes'];

/** Opens the browser's choice of files. */
export function chooseImport(): void {
  if (!get().doc) return setStatus('Open a reel first: what is imported is added to it.', true);
  const input = document.createElement('input');
  input.type = 'file';
  input.multiple = true;
  input.accept = '.gltf,.glb,.bin,.css,.json,.vtt,.csv,.svg';
  input.addEventListener('change', () => void takeFiles([...(input.files ?? [])]));
  input.click();
}

/** Files that were dropped or chosen: animations are imported, pictures go to the folder of pictures. */
export async function takeFiles(files: readonly File[]): Promise<void> {
  const { formatOf } = await loadFormats();
  const chosen = files.flatMap((file): Chosen[] => {
    const format = formatOf(file.name);
    return format ? [{ file, format, beside: files.filter((other) => other !== file) }] : [];
  });
  if (chosen.length > 1) return setStatus('Import one file at a time.', true);
  const [one] = chosen;
  if (one) askImport(one);
  else await addPictures(files);
}

function askImport(chosen: Chosen): void {
  const { file, format } = chosen;
  const title = file.name.replace(/\..*$/, '');
  const role = get().role ?? title;
  const start = (options: ReadOptions) => {
    void importFile(chosen, options);
    return true;
  };
  const positive = (text: string, name: string): number | undefined => {
    const n = Number(text);
    if (n > 0 && n < Infinity) return n;
    setStatus(`${name} is ${text || 'empty'}. Use a number greater than 0.`, true);
    return undefined;
  };
  const question = (fields: Question['fields'], run: Question['run']) =>
    ask({ title: `Import ${file.name}`, action: 'Import', fields, run });
  if (format === 'svg') {
    question(
      [
        { label: 'Role', value: role },
        { label: 'Clip', value: title },
        { label: 'Seconds', value: '1' },
        { label: 'Speed', value: 'constant', options: ['constant', 'equal time for each segment'] },
        { label: 'Turn along', value: 'no', options: YES },
        { label: 'Path id', value: '' },
      ],
      (role = '', clip = '', seconds = '', speed = '', turn = '', path = '') => {
        const duration = positive(seconds, 'The duration');
        if (duration === undefined) return false;
        return start({ role, clip, duration, by: speed === 'constant' ? 'length' : 'segments', turn: turn === 'yes', ...(path && { path }) }); // prettier-ignore
      },
    );
  } else if (format === 'csv') {
    question(
      [
        { label: 'Role', value: role },
        { label: 'Clip', value: title },
        { label: 'Largest error', value: '0.01' },
        { label: 'Key each row', value: 'no', options: YES },
      ],
      (role = '', clip = '', error = '', exact = '') => {
        const tolerance = positive(error, 'The error');
        return tolerance !== undefined && start({ role, clip, tolerance, exact: exact === 'yes', fps: get().doc?.fps ?? 60 }); // prettier-ignore
      },
    );
  } else if (format === 'glb' || format === 'gltf') {
    question(
      [
        { label: 'Dimensions', value: 'as written', options: ['as written', 'two: x, y and a turn'] },
        { label: 'Reduce within', value: '' },
      ],
      (dimensions = '', error = '') => {
        const reduce = error === '' ? undefined : positive(error, 'The error');
        if (error !== '' && reduce === undefined) return false;
        return start({ flat: dimensions !== 'as written', ...(reduce !== undefined && { reduce }) });
      },
    );
  } else start({ clip: title });
}

const ALL = 'all clips';

/** Asks for the format and the clips. */
export function askExport(): void {
  const { doc, clip } = get();
  if (!doc) return setStatus('Open a reel first.', true);
  void loadFormats().then(({ formatNames }) => {
    const formats = Object.entries(formatNames).filter(([name]) => name !== 'reel');
    const titles = formats.map(([, title]) => title);
    ask({
      title: 'Export',
      action: 'Export',
      fields: [
        { label: 'Format', value: titles[0]!, options: titles },
        { label: 'Clips', value: clip ?? ALL, options: [ALL, ...Object.keys(doc.clips)] },
      ],
      run: (format, clips) => {
        const [name] = formats.find(([, title]) => title === format)!;
        void exportClips(name as Format, clips === ALL || clips === undefined ? undefined : [clips]);
        return true;
      },
    });
  });
}
