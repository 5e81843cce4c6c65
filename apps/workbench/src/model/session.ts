import type { PageRequest, Served, Settlement } from '@unspool/cli/protocol';
import { trustReel } from 'unspool';
import { edit, type Operation } from 'unspool/edit';
import { Connection } from '../link/connection.js';
import { newMark } from '../link/marks.js';
import { storeText, storedJson } from '../link/stored.js';
import { ask, Pictures, type ListedPicture } from '../link/pictures.js';
import { Sounds } from '../link/sounds.js';
import { SharedReel } from '../link/shared-reel.js';
import { Token } from '../link/token.js';
import { connectLive, hearLive, isLive, lookAgain, watch } from './live.js';
import { restoreDisplay } from './stored-display.js';
import { get, setStatus, set, showDocument, type SelectedKeys, type State } from './store.js';

/** Connects the page to the server: the open reel, and unanswered requests. */

const token = new Token();
let shared = new SharedReel();
let connection: Connection | undefined;

const keptAs = (reel: string) => `unspool-unanswered-${reel}`;

export async function begin(): Promise<void> {
  const [reels, names] = await Promise.all([ask('api/reels', token.text), ask('api/pictures', token.text)]);
  if (!reels.ok) {
    setStatus(`Access denied: ${await reels.text()}. Open the address that the terminal shows.`, true);
    return;
  }
  const served = (await reels.json()) as Served[];
  set({ served, pictures: new Pictures(token, (await names.json()) as ListedPicture[]) });
  const wanted = new URLSearchParams(location.search).get('reel');
  openReel(served.find(({ name }) => name === wanted)?.name ?? served[0]!.name);
  void lookForSounds();
  setInterval(() => !document.hidden && void lookForPictures(), PICTURES_EVERY);
}

/** How often (ms) the folders of pictures are looked at. */
const PICTURES_EVERY = 2000;

async function lookForSounds(): Promise<void> {
  const answer = await ask('api/sounds', token.text).catch(() => undefined);
  if (!answer?.ok) return;
  const names = ((await answer.json()) as ListedPicture[]).map(({ name }) => name);
  // What has come is drawn.
  set({ sounds: new Sounds(token, names, () => set({})) });
}

/** Shows pictures that are new or have changed on the disk. */
async function lookForPictures(): Promise<void> {
  const answer = await ask('api/pictures', token.text).catch(() => undefined);
  if (!answer?.ok) return;
  const listed = (await answer.json()) as ListedPicture[];
  const { pictures } = get();
  if (!pictures?.isSame(listed)) set({ pictures: new Pictures(token, listed, pictures) });
}

/** Puts pictures into the folder of the server. */
export async function addPictures(files: readonly File[]): Promise<void> {
  const added: string[] = [];
  for (const file of files) {
    const answer = await ask(`api/pictures/${encodeURIComponent(file.name)}`, token.text, file).catch(() => undefined);
    if (answer?.ok) added.push(file.name);
    else return setStatus(answer ? `${await answer.text()}.` : 'The server is offline.', true);
  }
  await lookForPictures();
  setStatus(`Added ${added.join(', ')} to the folder of pictures. Use it for a role or a sheet in the roles panel.`);
  set({ focusArea: 'roles' });
}

export function openReel(name: string): void {
  if (name === get().reelName) return;
  connection?.close();
  shared = new SharedReel(unansweredOf(name));
  const nothing: Partial<State> = {
    selectedKeys: {},
    selectedMark: undefined,
    trial: {},
    curves: [],
    row: undefined,
    role: undefined,
    recording: false,
  };
  restoreDisplay(name);
  const { players, watched } = get().live;
  if (players.find(({ key }) => key === watched)?.reel !== name) watch(undefined);
  set({ reelName: name, doc: undefined, reel: undefined, clip: undefined, time: 0, playing: false, ...nothing });
  history.replaceState(null, '', `?reel=${name}`);
  connection = new Connection(name, token, {
    onState: (connected) => set({ connected }),
    onMessage: (message) => {
      if (isLive(message)) return hearLive(message);
      if (message.tell === 'open' && message.token !== undefined) token.become(message.token);
      const fault = shared.take(message);
      if (fault !== undefined) setStatus(fault, true);
      if (message.tell === 'open') {
        for (const request of shared.unanswered) connection!.send(request);
        lookAgain();
      }
      refresh();
      const { file } = shared;
      if (file.outside && !get().file.outside) set({ dialog: 'outside' });
      else if (!file.outside && get().dialog === 'outside') set({ dialog: undefined });
      set({ file, before: shared.before });
    },
  });
}

/** What is shown is what was confirmed, what is requested, and the current drag. */
function refresh(): void {
  keepUnanswered();
  const { doc } = shared;
  if (!doc) return;
  set({ steps: shared.steps });
  const made = preview && edit(doc, preview);
  showDocument(made?.ok ? made.doc : doc);
}

/** Operations of an unfinished drag: shown now, and requested at its end. */
let preview: Operation | undefined;

export function showPreview(operation: Operation | undefined): void {
  const { doc } = shared;
  if (!doc) return;
  preview = operation;
  const { previewOf } = get();
  if (operation?.do !== 'simplify-keys') {
    if (previewOf) set({ previewOf: undefined });
  } else if (previewOf?.document !== doc) set({ previewOf: trustReel(doc) });
  const made = operation && edit(doc, operation);
  if (made && !made.ok && made.code !== 'edit/no-change') setStatus(made.said, true);
  else if (made) setStatus(made.ok ? made.said : '');
  showDocument(made?.ok ? made.doc : doc, operation !== undefined);
}

/** Shows the selected keys with other members. */
export function previewSelection(
  members: Readonly<Record<string, unknown>>,
  keys: SelectedKeys = get().selectedKeys,
): void {
  showPreview({ do: 'set-keys', clip: get().clip!, keys, ...members });
}

/** Ends the drag. Returns whether something was changed. */
export function finishPreview(): boolean {
  const operation = preview;
  preview = undefined;
  if (get().previewOf) set({ previewOf: undefined });
  return operation ? apply(operation) : false;
}

/** What a number field does to the reel: shown while it is dragged, one step at the end. */
export function changing(make: (value: number) => Operation) {
  return {
    onChange: (value: number) => showPreview(make(value)),
    onDone: () => void finishPreview(),
    onCancel: () => showPreview(undefined),
  };
}

/** Does something to the reel: shown at once, journalled by the server. Returns whether it was not refused. */
export function apply(operation: Operation | null): boolean {
  if (!operation || !shared.doc) return false;
  const mark = newMark();
  const made = shared.apply(operation, mark);
  if (made.ok) connection!.send(shared.unanswered.at(-1)!);
  setStatus(made.said, !made.ok && made.code !== 'edit/no-change');
  refresh();
  return made.ok;
}

export function go(which: 'undo' | 'redo'): void {
  const next = which === 'undo' ? shared.steps.done.at(-1) : shared.steps.undone[0];
  if (next === undefined) {
    setStatus(`There is nothing to ${which}.`);
    return;
  }
  const mark = newMark();
  shared.go(which, mark);
  send({ ask: which, mark });
  set({ steps: shared.steps });
  setStatus(`${which === 'undo' ? 'Undid' : 'Redid'}: ${next}`);
}

export function save(): void {
  send({ ask: 'save' });
  setStatus('Saving …');
}

connectLive((request) => connection?.send(request));

/** Asks for a reel that another workbench may have. */
export function takeBackReel(): void {
  send({ ask: 'take-back' });
}

export function settle(take: Settlement): void {
  send({ ask: 'settle', take });
}

function send(request: PageRequest): void {
  keepUnanswered();
  connection?.send(request);
}

/** A page that is reloaded while the server is away asks again. */
function keepUnanswered(): void {
  const { reelName } = get();
  if (reelName === undefined) return;
  const { unanswered } = shared;
  if (get().unanswered !== unanswered.length) set({ unanswered: unanswered.length });
  const text = unanswered.length > 0 ? JSON.stringify(unanswered) : undefined;
  if (!storeText(sessionStorage, keptAs(reelName), text) && !get().connected)
    setStatus('The server is offline and browser storage is full. Leave the page open until the server is back.', true);
}

function unansweredOf(reel: string): SharedReel['unanswered'] {
  return (storedJson(sessionStorage, keptAs(reel)) ?? []) as SharedReel['unanswered'];
}
