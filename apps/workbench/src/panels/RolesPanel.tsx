import { Eye, EyeOff, Focus, Lock, LockOpen, Plus, X } from 'lucide-react';
import { Button } from 'react-aria-components';
import type { ReelDocument } from 'unspool';
import type { Operation } from 'unspool/edit';
import { apply, switchShape } from '../model/actions.js';
import { addRole, addShape, SHAPE_KINDS, shapeLabel, type ShapeName } from '../model/additions.js';
import { changing } from '../model/session.js';
import { toggleHidden, toggleLocked, toggleSolo } from '../model/role-view.js';
import { rolesOf } from '../model/rows.js';
import { get, set, useStore } from '../model/store.js';
import { LabeledNumber } from '../numbers/LabeledNumber.js';
import { NumberField } from '../numbers/NumberField.js';
import { pictureOf, type PictureDocument } from '../stage/picture.js';
import { NameField } from './NameField.js';
import { OrderHandle } from './OrderHandle.js';
import { SheetMaker } from './SheetMaker.js';

type Role = NonNullable<ReelDocument['roles']>[string];

/** The roles: parent, picture and shapes of each. */
export function RolesPanel() {
  const [doc, reel] = [useStore((state) => state.doc), useStore((state) => state.reel)];
  if (!doc || !reel) return null;
  const roles = rolesOf(doc, reel);
  return (
    <div className="roles-panel">
      <div className="panel-bar">
        <Button className="text-button" onPress={addRole}>
          <Plus size={13} aria-hidden /> New role
        </Button>
        <SheetMaker />
      </div>
      <ul aria-label="Roles">
        {roles.map((name) => (
          <RoleItem
            key={name}
            name={name}
            role={doc.roles?.[name] ?? {}}
            doc={doc}
            others={roles.filter((one) => one !== name)}
          />
        ))}
      </ul>
    </div>
  );
}

function RoleItem({
  name,
  role,
  doc,
  others,
}: {
  readonly name: string;
  readonly role: Role;
  readonly doc: ReelDocument;
  readonly others: readonly string[];
}) {
  const isHere = useStore((state) => state.role === name);
  const names = useStore((state) => state.pictures?.names) ?? [];
  const changed = (to: Readonly<Record<string, unknown>>): Operation => ({ do: 'change', what: 'role', name, to });
  const change = (to: Readonly<Record<string, unknown>>) => apply(changed(to));
  const picture = pictureOf(role);
  const drawn = (next: Partial<PictureDocument>) => changed({ 'x-picture': { ...picture, ...next } });
  const { anchor = [0.5, 0.5], scale = 1 } = picture;
  return (
    <li
      className={isHere ? 'is-here' : ''}
      onFocus={() => set({ role: name })}
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        const role = event.dataTransfer.getData(ROLE);
        if (role !== '' && role !== name) putBefore(role, name);
      }}
    >
      <OrderHandle
        name={name}
        type={ROLE}
        title="Drag it to another place: later roles are drawn in front"
        onMove={(by) => moveRole(name, by)}
      />
      <NameField what="role" name={name} />
      <RoleView name={name} />
      <Select label="under" value={role.parent} options={others} onChange={(parent) => change({ parent })} />
      <Select
        label="sheet"
        value={role.sheet}
        options={Object.keys(doc.sheets ?? {})}
        onChange={(sheet) => change({ sheet })}
      />
      {role.sheet === undefined && (
        <Select
          label="picture"
          value={picture.image}
          options={names}
          onChange={(image) => apply(drawn({ image: image ?? undefined! }))}
        />
      )}
      <label className="field" title="The point of the picture at the role's origin, 0 to 1 of its size">
        <span>anchor</span>
        {([0, 1] as const).map((k) => (
          <NumberField
            key={k}
            label={`Anchor of ${name} ${'xy'[k]}`}
            value={anchor[k]}
            step={0.05}
            {...changing((n) => drawn({ anchor: k === 0 ? [n, anchor[1]] : [anchor[0], n] }))}
          />
        ))}
      </label>
      <LabeledNumber
        caption="size"
        label={`Size of the picture of ${name}`}
        value={scale}
        step={0.1}
        least={0.01}
        {...changing((n) => drawn({ scale: n }))}
      />
      <Button
        className="icon"
        aria-label={`Remove the role ${name}`}
        onPress={() => apply({ do: 'remove', what: 'role', name })}
      >
        <X size={13} aria-hidden />
      </Button>
      <ShapesOf name={name} role={role} />
    </li>
  );
}

/** What is dragged when a role is. */
const ROLE = 'application/x-role';

/** Roles are drawn in their order: the first lies under all others. */
function putBefore(role: string, before: string | undefined): void {
  apply({ do: 'reorder', what: 'role', name: role, ...(before !== undefined && { before }) });
}

/** Takes a role to another place of the list. */
function moveRole(name: string, by: -1 | 1): void {
  const { doc, reel } = get();
  if (!doc || !reel) return;
  const roles = rolesOf(doc, reel);
  const at = roles.indexOf(name);
  const to = at + by;
  if (to < 0 || to >= roles.length) return;
  putBefore(name, by < 0 ? roles[to] : roles[to + 1]);
}

/** Hides, locks or isolates a role on this page. */
function RoleView({ name }: { readonly name: string }) {
  const isHidden = useStore((state) => state.display.hidden.includes(name));
  const isLocked = useStore((state) => state.display.locked.includes(name));
  const isSolo = useStore((state) => state.display.solo === name);
  const buttons = [
    ['Hide', isHidden, toggleHidden, isHidden ? EyeOff : Eye],
    ['Lock', isLocked, toggleLocked, isLocked ? Lock : LockOpen],
    ['Solo', isSolo, toggleSolo, Focus],
  ] as const;
  return buttons.map(([word, is, toggle, Icon]) => (
    <button
      key={word}
      type="button"
      className="icon"
      aria-label={`${word} ${name} on the stage`}
      title={`${word} ${name} on the stage of this page`}
      aria-pressed={is}
      onClick={() => toggle(name)}
    >
      <Icon size={13} aria-hidden />
    </button>
  ));
}

function Select({
  label,
  value,
  options,
  onChange,
}: {
  readonly label: string;
  readonly value: string | undefined;
  readonly options: readonly string[];
  readonly onChange: (value: string | null) => void;
}) {
  return (
    <label className="field">
      <span>{label}</span>
      <select value={value ?? ''} onChange={({ currentTarget }) => onChange(currentTarget.value || null)}>
        <option value="">–</option>
        {options.map((one) => (
          <option key={one}>{one}</option>
        ))}
      </select>
    </label>
  );
}

const TAGS = ['hits', 'hurt', 'push', 'reveal', 'hide'];

function ShapesOf({ name, role }: { readonly name: string; readonly role: Role }) {
  const shapes = Object.entries(role.shapes ?? {});
  return (
    <div className="shapes-of">
      {shapes.map(([shape, { kind, tag }]) => (
        <span key={shape} className="shape">
          {shape} <small>{kind}</small>
          <select
            aria-label={`Tag of ${shape}`}
            value={tag ?? ''}
            onChange={({ currentTarget }) =>
              apply({ do: 'change', what: 'shape', role: name, name: shape, to: { tag: currentTarget.value || null } })
            }
          >
            <option value="">no tag</option>
            {[...new Set([...TAGS, ...(tag ? [tag] : [])])].map((one) => (
              <option key={one}>{one}</option>
            ))}
          </select>
          <Button
            className="icon"
            aria-label={`off: turn off ${shape} from the playhead`}
            onPress={() => switchShape(`${name}.${shape}`, false)}
          >
            off
          </Button>
          <Button
            className="icon"
            aria-label={`Remove the shape ${shape}`}
            onPress={() => apply({ do: 'remove', what: 'shape', role: name, name: shape, withUses: true })}
          >
            <X size={12} aria-hidden />
          </Button>
        </span>
      ))}
      <select
        aria-label={`Add a shape to ${name}`}
        value=""
        onChange={({ currentTarget }) => currentTarget.value && addShape(name, currentTarget.value as ShapeName)}
      >
        <option value="">add a shape …</option>
        {SHAPE_KINDS.map((kind) => (
          <option key={kind} value={kind}>
            {shapeLabel(kind)}
          </option>
        ))}
      </select>
    </div>
  );
}
