import type { Operation } from 'unspool/edit';
import { apply, shown } from './actions.js';
import { FIRST_SHAPES } from './first-shapes.js';
import { writeAt } from './keys.js';
import { freeName } from './names.js';
import { rolesOf } from './rows.js';
import { get, set, setStatus } from './store.js';

/** Adds roles, shapes, sheets, chains, facings and parts with a free name. For the panels and the command list. */

export type ShapeName = keyof typeof FIRST_SHAPES;
export const SHAPE_KINDS = Object.keys(FIRST_SHAPES) as readonly ShapeName[];

/** The name of a kind of shape on the screen: `polygon with 5 corners`. */
export const shapeLabel = (kind: ShapeName) => kind.replace(/(\d)$/, ' with $1 corners');

export function addRole(): void {
  const { doc, reel } = get();
  if (!doc || !reel) return;
  const name = freeName('role', Object.fromEntries(rolesOf(doc, reel).map((role) => [role, 0])));
  if (apply({ do: 'add', what: 'role', name, value: {} })) set({ role: name });
}

/** Adds a role that is drawn from a sheet. */
export function addRoleOf(sheet: string): void {
  const { doc, reel } = get();
  if (!doc || !reel) return;
  const name = freeName(sheet, Object.fromEntries(rolesOf(doc, reel).map((role) => [role, 0])));
  if (apply({ do: 'add', what: 'role', name, value: { sheet } })) set({ role: name });
}

/** Adds a shape to a role, and turns it on at the playhead. */
export function addShape(role: string | undefined, kind: ShapeName): void {
  if (role === undefined) return setStatus('Select a role first.', true);
  const shape = freeName(kind, get().doc?.roles?.[role]?.shapes ?? {});
  const make: Operation = { do: 'add', what: 'shape', role, name: shape, value: { kind, tag: 'hits' } };
  const now = shown();
  if (!now) return void apply(make);
  const at = writeAt(get().time, now.fps, now.clip);
  const track = `${role}.${shape}`;
  const key: Operation = { do: 'put-key', clip: now.name, track, at, value: FIRST_SHAPES[kind] };
  if (apply({ do: 'group', said: `added the shape ${shape} to ${role}`, operations: [make, key] }))
    set({ role, row: track });
}

/** Adds a chain that plays the current clip. */
export function addChain(): void {
  const { doc, clip } = get();
  if (clip === undefined) return;
  apply({ do: 'add', what: 'chain', name: freeName('chain', doc?.chains ?? {}), value: [clip] });
}

/** Adds a facing with the current clip to the right, mirrored to the left. */
export function addFacing(): void {
  const { doc, clip } = get();
  if (clip === undefined) return;
  const name = freeName('facing', doc?.facings ?? {});
  apply({ do: 'add', what: 'facing', name, value: { right: clip, left: { mirror: 'right' } } });
}

/** Adds a routine that plays the current clip. Returns its name. */
export function addRoutine(): string | undefined {
  const { doc, clip } = get();
  if (clip === undefined) return undefined;
  const name = freeName('routine', doc?.routines ?? {});
  const value = { rules: [{ name: 'idle', play: clip }] };
  return apply({ do: 'add', what: 'routine', name, value }) ? name : undefined;
}

/** Adds a rule above all others: it plays the current clip when its signal or conditions say so. */
export function addRule(routine: string): string | undefined {
  const { doc, clip } = get();
  const rules = doc?.routines?.[routine]?.rules;
  if (clip === undefined || !rules) return undefined;
  const name = freeName(clip, Object.fromEntries(rules.map((rule) => [rule.name, 0])));
  const input = freeName(name, doc.routines[routine]!.inputs ?? {});
  const operations: Operation[] = [
    { do: 'add', what: 'input', routine, name: input, value: { kind: 'signal' } },
    { do: 'add', what: 'rule', routine, name, value: { on: input, play: clip }, before: rules[0]!.name },
  ];
  const said = `added the rule ${name}, which the signal ${input} begins`;
  return apply({ do: 'group', said, operations }) ? name : undefined;
}

/** Adds another clip to the current clip as a part that starts at the playhead. */
export function addPart(clip: string): void {
  const now = shown();
  if (!now) return;
  const { time } = get();
  const at = writeAt(time, now.fps, now.clip);
  if (apply({ do: 'add', what: 'part', clip: now.name, name: clip, at, value: {} }))
    set({ selectedMark: { what: 'part', name: clip, at: time }, selectedKeys: {} });
}

/** Adds a sheet from a picture, divided into square cells. */
export async function addSheet(image: string): Promise<void> {
  const bitmap = await get().pictures?.load(image);
  const { doc } = get();
  if (!bitmap || !doc) return;
  const base = image
    .replace(/^.*\//, '')
    .replace(/\.\w+$/, '')
    .replace(/[^\w-]+/g, '-');
  // A guess: the largest of these divisions of the width that also divides the height.
  const side =
    [8, 5, 4, 6, 2, 1].map((n) => bitmap.width / n).find((one) => Number.isInteger(one) && bitmap.height % one === 0) ??
    bitmap.height;
  const value = {
    image,
    columns: Math.max(1, Math.floor(bitmap.width / side)),
    rows: Math.max(1, Math.floor(bitmap.height / side)),
    cell: [side, side] as [number, number],
  };
  apply({ do: 'add', what: 'sheet', name: freeName(base, doc.sheets ?? {}), value });
}
