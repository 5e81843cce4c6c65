import { Matrix, type Rectangle } from 'pixi.js';
import { isShape, type ReelDocument, type ShapeKind, type ShapeValue, type Value } from 'unspool';
import type { Values } from '../model/pose.js';
import type { State } from '../model/store.js';
import { outlineOf, type Point } from './outline.js';
import { SHAPE_HANDLES } from './shape-handles.js';
import { worldOf } from './puppet.js';

/** A handle on the stage, in world coordinates. */
export interface Handle {
  readonly at: Point;
  readonly form: 'origin' | 'turn' | 'pivot' | 'size' | 'point';
  readonly label: string;
  /** Returns the values for a position of the pointer in the world. `free`: without keeping proportions. */
  readonly drag: (to: Point, start: Point, free: boolean) => Readonly<Record<string, Value>>;
}

/** A handle and where it lies on the screen. */
export interface Placed {
  readonly handle: Handle;
  readonly x: number;
  readonly y: number;
}

const DEGREES = 180 / Math.PI;
/** Distance of the rotation handle from the origin of a role, in screen pixels. */
const ARM = 52;
/** Distance of the pivot handle on the other side. */
const SHORT_ARM = 30;

const round = (n: number, digits = 2) => Number(n.toFixed(digits));
const to = (matrix: Matrix, x: number, y: number): Point => {
  const point = matrix.apply({ x, y });
  return [point.x, point.y];
};
const back = (matrix: Matrix, [x, y]: Point): Point => {
  const point = matrix.applyInverse({ x, y });
  return [point.x, point.y];
};

/** From the coordinates of a role's parent to those of the world. */
function parentWorld(doc: ReelDocument, role: string, values: Values): Matrix {
  const parent = doc.roles?.[role]?.parent;
  return parent === undefined ? new Matrix() : worldOf(doc, parent, values);
}

/** The role moved so that what was at `start` is at `to`. */
export function moveRole(
  doc: ReelDocument,
  role: string,
  values: Values,
  start: Point,
  end: Point,
): Readonly<Record<string, Value>> {
  const parent = parentWorld(doc, role, values);
  const [from, until] = [back(parent, start), back(parent, end)];
  const position = values[`${role}.position`] as number[];
  return {
    [`${role}.position`]: [
      round(position[0]! + until[0] - from[0]),
      round(position[1]! + until[1] - from[1]),
      ...position.slice(2),
    ],
  };
}

/** The handles of the selected role: to rotate and scale it about its pivot, and those of its shapes. */
export function handlesOf(state: State, bounds: Rectangle | undefined, zoom: number): Handle[] {
  const { doc, role, values, reel } = state;
  if (!doc || role === undefined || !values[`${role}.position`]) return [];
  const world = worldOf(doc, role, values);
  const pivot = (values[`${role}.pivot`] as number[] | undefined) ?? [0, 0];
  const origin = to(world, pivot[0]!, pivot[1]!);
  const handles: Handle[] = [
    {
      at: origin,
      form: 'origin',
      label: `${role}: position`,
      drag: (end, start) => moveRole(doc, role, values, start, end),
    },
  ];
  const rotation = values[`${role}.rotation`];
  if (typeof rotation === 'number') handles.push(turnHandle(doc, role, values, origin, rotation, zoom));
  handles.push(pivotHandle(doc, role, values, origin, pivot as [number, number], zoom));
  const scale = values[`${role}.scale`] as number[] | undefined;
  if (scale && bounds) handles.push(sizeHandle(role, world, bounds, scale, pivot as [number, number]));
  for (const slot of reel?.layout.slots ?? []) {
    if (slot.role !== role || !isShape(slot.kind)) continue;
    const value = values[slot.name];
    if (value !== null && typeof value === 'object' && !Array.isArray(value))
      handles.push(...shapeHandles(slot.name, slot.kind, value, world));
  }
  return handles;
}

function turnHandle(
  doc: ReelDocument,
  role: string,
  values: Values,
  origin: Point,
  rotation: number,
  zoom: number,
): Handle {
  const parent = parentWorld(doc, role, values);
  // Under a mirror a turn goes the other way.
  const sense = parent.a * parent.d - parent.b * parent.c < 0 ? -1 : 1;
  const angle = (sense * rotation) / DEGREES + Math.atan2(parent.b, parent.a) - Math.PI / 2;
  const angleOf = ([x, y]: Point) => Math.atan2(y - origin[1], x - origin[0]) * DEGREES;
  // How far the pointer has rotated since the start of the drag, the shorter way from one position to the next.
  let hold: Point | undefined;
  let [last, turned] = [0, 0];
  return {
    at: [origin[0] + (Math.cos(angle) * ARM) / zoom, origin[1] + (Math.sin(angle) * ARM) / zoom],
    form: 'turn',
    label: `${role}: rotation`,
    drag: (end, start, free) => {
      if (start !== hold) [hold, last, turned] = [start, angleOf(start), 0];
      const by = angleOf(end) - last;
      turned += by - 360 * Math.round(by / 360);
      last = angleOf(end);
      const next = rotation + sense * turned;
      return { [`${role}.rotation`]: free ? round(next, 1) : Math.round(next) };
    },
  };
}

/** Moves the point about which a role turns, and its place with it: what is seen stays where it is. */
function pivotHandle(
  doc: ReelDocument,
  role: string,
  values: Values,
  origin: Point,
  pivot: readonly [number, number],
  zoom: number,
): Handle {
  const world = worldOf(doc, role, values);
  const [x, y] = to(world, pivot[0], pivot[1] + 1);
  const [dx, dy] = [x - origin[0], y - origin[1]];
  const arm = SHORT_ARM / zoom / (Math.hypot(dx, dy) || 1);
  return {
    at: [origin[0] + dx * arm, origin[1] + dy * arm],
    form: 'pivot',
    label: `${role}: pivot`,
    drag: (end, start) => {
      const next = back(world, [origin[0] + end[0] - start[0], origin[1] + end[1] - start[1]]).map((n) => round(n));
      const moved = moveRole(doc, role, values, origin, to(world, next[0]!, next[1]!));
      return { ...moved, [`${role}.pivot`]: next };
    },
  };
}

function sizeHandle(
  role: string,
  world: Matrix,
  bounds: Rectangle,
  scale: readonly number[],
  [px, py]: readonly [number, number],
): Handle {
  const corner: Point = [bounds.x + bounds.width, bounds.y + bounds.height];
  return {
    at: to(world, ...corner),
    form: 'size',
    label: `${role}: scale`,
    drag: (end, _, free) => {
      const [x, y] = back(world, end);
      const factors = [safe((x - px) / (corner[0] - px)), safe((y - py) / (corner[1] - py))] as const;
      const both = (factors[0] + factors[1]) / 2;
      const [fx, fy] = free ? factors : [both, both];
      return { [`${role}.scale`]: [round(scale[0]! * fx), round(scale[1]! * fy), ...scale.slice(2)] };
    },
  };
}

const safe = (n: number) => (Number.isFinite(n) ? n : 1);

function shapeHandles(name: string, kind: ShapeKind, value: ShapeValue, world: Matrix): Handle[] {
  const local = (point: Point): Point => back(world, point).map((n) => round(n)) as unknown as Point;
  const give = (members: object) => ({ [name]: { ...value, ...members } as ShapeValue });
  return SHAPE_HANDLES[kind](value as never).map(([label, at, drag]) => ({
    at: to(world, ...at),
    form: 'point',
    label: `${name}: ${label}`,
    drag: (end) => give(drag(local(end))),
  }));
}

/** The shapes that are there, as they are drawn. */
export function shapesOf({ doc, reel, values }: State): {
  readonly name: string;
  readonly role: string;
  readonly tag: string | undefined;
  readonly points: Point[];
}[] {
  if (!doc || !reel) return [];
  return reel.layout.slots.flatMap(({ name, role, property, kind }) => {
    const value = values[name];
    if (!isShape(kind) || value === null || typeof value !== 'object' || Array.isArray(value)) return [];
    const tag = doc.roles?.[role]?.shapes?.[property]?.tag;
    return [{ name, role, tag, points: outlineOf(kind, value, worldOf(doc, role, values)) }];
  });
}
