import { piecesAlone, sheetCells, sheetOrigin, sheetRect } from 'unspool';
import type { Clip, Pose, Reel } from 'unspool';
import { RoleMatrices } from 'unspool/cast/matrix';
import { revealed } from 'unspool/hit';
import { frames, round } from '../print/values.js';
import { element, text } from './svg.js';
import { drawTitle, FONT, type DrawOptions } from './sheet.js';
import { THEMES, type Theme } from './theme.js';

/** A picture file. */
export interface Picture {
  readonly bytes: Buffer;
  readonly width: number;
  readonly height: number;
}

/** How a role is drawn: `x-picture`, as in the workbench. */
interface Look {
  readonly image?: string;
  readonly anchor?: readonly [number, number];
  readonly scale?: number;
  readonly at?: readonly [number, number];
}

/** The most poses, and their columns. */
const POSES = 8;
const COLUMNS = 4;
/** Half the side of what stands for a role without a picture. */
const BARE = 16;
const COLORS = ['#2f9fb0', '#e07a5f', '#6a4c93', '#d9a441', '#3d6b4f', '#c25b8c', '#4a6fa5', '#8a6d3b'];

/**
 * The view "poses": the cast at up to eight moments of a clip, evenly from its start to its end, with pictures, order,
 * opacity and what reveals show.
 *
 * @param picture returns a picture by its name, where there is one
 */
export function drawPoses(
  reel: Reel,
  clip: Clip,
  { width, height, theme: name }: DrawOptions,
  picture: (name: string) => Picture | undefined,
): string {
  const theme = THEMES[name];
  const total = Math.round(clip.duration * clip.fps);
  const count = Math.min(POSES, total + 1);
  const times = Array.from({ length: count }, (_, i) =>
    count === 1 ? 0 : Math.min(clip.duration, Math.round((i * total) / (count - 1)) / clip.fps),
  );
  const columns = Math.min(COLUMNS, count);
  const rows = Math.ceil(count / columns);
  const [left, top, gap] = [24, 84, 12];
  const [w, h] = [(width - 2 * left + gap) / columns - gap, (height - top - 24 + gap) / rows - gap - 20];
  const cast = new Cast(reel, picture);
  const box = cast.extent(clip, times);
  const zoom = Math.min((w - 24) / (box.right - box.left), (h - 24) / (box.bottom - box.top));
  const cells = times.map((time, i) => {
    const [x, y] = [left + (i % columns) * (w + gap), top + Math.floor(i / columns) * (h + gap + 20)];
    const [midX, midY] = [(box.left + box.right) / 2, (box.top + box.bottom) / 2];
    const to = `translate(${fixed(x + w / 2 - midX * zoom)} ${fixed(y + h / 2 - midY * zoom)}) scale(${fixed(zoom)})`;
    const clipId = `cell${i}`;
    return [
      element('rect', { x, y, width: w, height: h, fill: theme.panel, rx: 3 }),
      element('clipPath', { id: clipId }, element('rect', { x, y, width: w, height: h })),
      element('g', { 'clip-path': `url(#${clipId})` }, element('g', { transform: to }, cast.draw(clip, time, `p${i}`))),
      caption(time, clip, x, y + h + 14, theme),
    ].join('');
  });
  return element(
    'svg',
    {
      ...{ xmlns: 'http://www.w3.org/2000/svg', width, height, viewBox: `0 0 ${width} ${height}` },
      ...{ 'xmlns:xlink': 'http://www.w3.org/1999/xlink' },
      ...{ 'font-family': FONT, 'font-size': 12, role: 'img', 'aria-label': `${clip.name}, poses` },
    },
    element('title', {}, text(`${clip.name}, poses`, {}).replace(/<\/?text>/g, '')),
    element('rect', { width, height, fill: theme.background }),
    drawTitle({ clip, theme }, 'poses'),
    ...cells,
  );
}

function caption(time: number, clip: Clip, x: number, y: number, theme: Theme): string {
  return text(`${frames(time, clip.fps)} · ${round(time)} s`, { x, y, 'font-size': 11, fill: theme.muted });
}

const fixed = (n: number) => String(Math.round(n * 1e5) / 1e5);

interface Box {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

/** The roles of a reel as they are drawn: one in the other. */
class Cast {
  constructor(
    readonly reel: Reel,
    readonly picture: (name: string) => Picture | undefined,
  ) {}

  get #roles() {
    return this.reel.document.roles ?? {};
  }

  /** What all roles take up at some times of a clip, in the world. */
  extent(clip: Clip, times: readonly number[]): Box {
    const matrices = new RoleMatrices(this.reel, clip.name, { size: 3 });
    const out = new Float64Array(matrices.length);
    const [xs, ys]: [number[], number[]] = [[], []];
    for (const time of times) {
      const pose = clip.sample(time);
      matrices.write(pose.values, 0, out, 0);
      matrices.roles.forEach((role, i) => {
        const { x, y, width, height } = this.#drawn(role, pose);
        for (const [px, py] of [
          [x, y],
          [x + width, y],
          [x, y + height],
          [x + width, y + height],
        ] as const) {
          // prettier-ignore
          xs.push(out[i * 9]! * px + out[i * 9 + 3]! * py + out[i * 9 + 6]!);
          ys.push(out[i * 9 + 1]! * px + out[i * 9 + 4]! * py + out[i * 9 + 7]!);
        }
      });
    }
    return { left: Math.min(...xs), right: Math.max(...xs), top: Math.min(...ys), bottom: Math.max(...ys) };
  }

  /** @param id a prefix of names, another for each drawing */
  draw(clip: Clip, time: number, id: string): string {
    const pose = clip.sample(time);
    const isTop = (role: string) => !(this.#roles[role]?.parent !== undefined && this.reel.roles.includes(this.#roles[role].parent)); // prettier-ignore
    return this.#inOrder(this.reel.roles.filter(isTop), pose).map((role) => this.#drawRole(role, pose, id)).join(''); // prettier-ignore
  }

  #inOrder(roles: readonly string[], pose: Pose): readonly string[] {
    const order = (role: string) => (this.#value(role, 'order', pose) as number | undefined) ?? 0;
    return [...roles].sort((a, b) => order(a) - order(b));
  }

  #value(role: string, property: string, pose: Pose): unknown {
    const name = `${role}.${property}`;
    if (pose.layout.find(name)) return pose.get(name);
    const slot = this.reel.layout.find(name);
    return slot && (slot.width === 1 ? slot.rest[0] : slot.rest);
  }

  #drawRole(role: string, pose: Pose, id: string): string {
    const value = (property: string) => this.#value(role, property, pose);
    if (value('visible') === false || value('visible') === 0) return '';
    const pair = (property: string, usual: number) => (value(property) as number[] | undefined) ?? [usual, usual];
    const [[x, y], [sx, sy], [px, py]] = [pair('position', 0), pair('scale', 1), pair('pivot', 0)];
    const turned = value('rotation');
    const angle = typeof turned === 'number' ? turned : Array.isArray(turned) ? turnOf(turned as number[]) : 0;
    const transform = `translate(${fixed(x!)} ${fixed(y!)}) rotate(${fixed(angle)}) scale(${fixed(sx!)} ${fixed(sy!)}) translate(${fixed(-px!)} ${fixed(-py!)})`;
    const children = this.#inOrder(
      this.reel.roles.filter((other) => this.#roles[other]?.parent === role),
      pose,
    );
    const inner = [
      this.#drawOwn(role, pose, `${id}-${role}`),
      ...children.map((child) => this.#drawRole(child, pose, id)),
    ].join('');
    const [cut, clip] = this.#cut(role, pose, `${id}-${role}`);
    return element('g', { transform, opacity: (value('opacity') as number | undefined) ?? 1 }, cut, element('g', { 'clip-path': clip }, inner)); // prettier-ignore
  }

  /** What reveals show of a role: a clip path, and its reference. */
  #cut(role: string, pose: Pose, id: string): readonly [string, string | undefined] {
    const region = revealed(this.#roles[role]?.shapes ?? {}, (name) => this.#value(role, name, pose));
    if (!region) return ['', undefined];
    const points = (piece: readonly (readonly [number, number])[]) => `M${piece.map(([x, y]) => `${fixed(x)} ${fixed(y)}`).join('L')}Z`; // prettier-ignore
    const d = piecesAlone(region).map(points).join('');
    // Without a path all would be shown.
    return [element('clipPath', { id }, element('path', { d: d === '' ? 'M0 0Z' : d })), `url(#${id})`];
  }

  /** What is drawn of a role, in its own coordinates. */
  #drawn(
    role: string,
    pose: Pose,
    id = '',
  ): { x: number; y: number; width: number; height: number; image: string | undefined } {
    const { anchor = [0.5, 0.5], scale = 1, at = [0, 0], image } = this.#look(role);
    const sheet = this.#sheet(role);
    const name = sheet?.image ?? image ?? `${role}.png`;
    // A sheet that happens to have the name of a role is not its picture.
    const isSheet = !sheet && Object.values(this.reel.document.sheets ?? {}).some((one) => one.image === name);
    const picture = isSheet ? undefined : this.picture(name);
    if (!picture) return { x: -BARE, y: -BARE, width: 2 * BARE, height: 2 * BARE, image: undefined };
    const frame = Math.min(Number(this.#value(role, 'frame', pose) ?? 0), sheet ? sheetCells(sheet) - 1 : 0);
    const [cx, cy, w, h] = sheet ? sheetRect(sheet, frame) : [0, 0, picture.width, picture.height];
    const [ox, oy] = (sheet && sheetOrigin(sheet, frame)) ?? [anchor[0] * w, anchor[1] * h];
    const [x, y] = [at[0] - ox * scale, at[1] - oy * scale];
    const whole = element('image', {
      ...{ x: -cx, y: -cy, width: picture.width, height: picture.height },
      'xlink:href': `data:image/png;base64,${picture.bytes.toString('base64')}`,
    });
    const only = element('clipPath', { id: `${id}-cell` }, element('rect', { width: w, height: h }));
    const transform = `translate(${fixed(x)} ${fixed(y)}) scale(${fixed(scale)})`;
    const shown = element('g', { transform }, only, element('g', { 'clip-path': `url(#${id}-cell)` }, whole));
    return { x, y, width: w * scale, height: h * scale, image: shown };
  }

  #drawOwn(role: string, pose: Pose, id: string): string {
    const { image, x, y, width, height } = this.#drawn(role, pose, id);
    if (image !== undefined) return image;
    // One that only carries others is not seen.
    if (Object.values(this.#roles).some(({ parent }) => parent === role)) return '';
    const fill = COLORS[this.reel.roles.indexOf(role) % COLORS.length];
    return element('rect', { x, y, width, height, rx: 6, fill, 'fill-opacity': 0.75 });
  }

  #look(role: string): Look {
    const look = (this.#roles[role] as Record<string, unknown> | undefined)?.['x-picture'];
    return typeof look === 'object' && look !== null ? look : {};
  }

  #sheet(role: string) {
    const name = this.#roles[role]?.sheet;
    return name === undefined ? undefined : this.reel.document.sheets?.[name];
  }
}

function turnOf([x, y, z, w]: readonly number[]): number {
  return (Math.atan2(2 * (w! * z! + x! * y!), 1 - 2 * (y! * y! + z! * z!)) * 180) / Math.PI;
}

/** The size of a PNG: what its header says. */
export function pngOf(bytes: Buffer | undefined): Picture | undefined {
  if (!bytes || bytes.length < 24 || bytes.toString('latin1', 1, 4) !== 'PNG') return undefined;
  return { bytes, width: bytes.readUInt32BE(16), height: bytes.readUInt32BE(20) };
}
