import { UnspoolError } from '../errors/error.js';
import { show } from '../errors/show.js';
import { checkOptions } from '../errors/check-options.js';
import { isShape } from '../value/kind.js';
import type { CastAdapter, OtherSlot, RoleBinding } from './cast.js';
import { byteOf } from './flat.js';
import { EVERYTHING, isActive, LastReveals, piecesAlone, regionOf } from './region.js';

/** The members of a web element that are written: HTML and SVG elements have them. */
export interface DomTarget {
  readonly style: DomStyle;
  /** Its text: of a property `text`. */
  textContent: string | null;
}

/** The members of an element's style that are used. */
export interface DomStyle {
  setProperty(name: string, value: string): void;
  removeProperty(name: string): unknown;
  getPropertyValue(name: string): string;
}

/** Options of `domCast`. */
export interface DomCastOptions {
  /**
   * The point of an element that is the origin of its role, as shares of its box: where its `position` puts it, and
   * what it turns and grows about. Default: `[0.5, 0.5]`, its center, as in CSS.
   */
  readonly origin?: readonly [x: number, y: number];
}

/** What was written last, so that the page is touched only for what is new. */
interface Written {
  readonly numbers: Map<string, number>;
  readonly reveals: LastReveals;
  /** Whether a reveal has cut it. */
  isCut: boolean;
}

const memories = new WeakMap<DomTarget, Written>();

/** A number as CSS reads it, to a millionth. */
const css = (n: number) => String(Math.round(n * 1e6) / 1e6 + 0);

/**
 * Returns an adapter for web elements. Position, rotation and scale become `translate` (in pixels), `rotate` (of a
 * quaternion in space) and `scale`; a pivot becomes `transform`, `order` the `z-index`, `tint` the `color`, `size` the
 * `width` and `height` in pixels, `visible` the `visibility`, a reveal the `clip-path`. A property `text` becomes the
 * text of the element. Every other property, `frame` too, becomes the custom property of its name: `glow` is `--glow`,
 * `weights.bulge` is `--weights-bulge`.
 *
 * Only what has changed is written, each at most once per frame, and nothing is read from the layout of the page.
 */
export function domCast(options: DomCastOptions = {}): CastAdapter<DomTarget> {
  checkOptions(options, ['origin'], 'domCast');
  const { origin = [0.5, 0.5] } = options;
  if (!Array.isArray(origin) || origin.length !== 2 || !origin.every(Number.isFinite))
    throw new UnspoolError(
      'play/cast',
      `the origin ${show(origin)} is not [x, y]`,
      'use two numbers, such as [0.5, 1]',
    );
  const [left, top] = origin.map((share) => `${css(share * 100)}%`) as [string, string];
  return {
    write(target, values, binding) {
      const { style } = target;
      let memory = memories.get(target);
      if (!memory) {
        memories.set(target, (memory = { numbers: new Map(), reveals: new LastReveals(), isCut: false }));
        style.setProperty('transform-origin', `${left} ${top}`);
      }
      const { numbers } = memory;
      const { position, rotation, scale, pivot, size, opacity, visible, order, tint, frame } = binding;
      if (position >= 0 && isNew(numbers, 'position', values, position, binding.positionWidth))
        style.setProperty('translate', list(values, position, binding.positionWidth, 'px'));
      if (rotation >= 0 && isNew(numbers, 'rotation', values, rotation, binding.rotationWidth))
        style.setProperty('rotate', turned(values, rotation, binding.rotationWidth));
      if (scale >= 0 && isNew(numbers, 'scale', values, scale, binding.scaleWidth))
        style.setProperty('scale', list(values, scale, binding.scaleWidth));
      if (pivot >= 0 && isNew(numbers, 'pivot', values, pivot, 2))
        style.setProperty('transform', `translate(${css(-values[pivot]!)}px, ${css(-values[pivot + 1]!)}px)`);
      if (size >= 0 && isNew(numbers, 'size', values, size, 2)) {
        style.setProperty('width', `${css(values[size]!)}px`);
        style.setProperty('height', `${css(values[size + 1]!)}px`);
      }
      if (opacity >= 0 && isNew(numbers, 'opacity', values, opacity, 1))
        style.setProperty('opacity', css(values[opacity]!));
      if (visible >= 0 && isNew(numbers, 'visible', values, visible, 1))
        style.setProperty('visibility', values[visible] === 0 ? 'hidden' : 'visible');
      if (order >= 0 && isNew(numbers, 'order', values, order, 1))
        style.setProperty('z-index', css(Math.round(values[order]!)));
      if (tint >= 0 && isNew(numbers, 'tint', values, tint, 4)) style.setProperty('color', color(values, tint));
      if (frame >= 0 && isNew(numbers, 'frame', values, frame, 1)) style.setProperty('--frame', css(values[frame]!));
      const { others } = binding;
      for (let i = 0; i < others.length; i++) writeOther(target, numbers, others[i]!, values, binding);
      const { reveals } = binding;
      if (reveals.length > 0 && memory.reveals.isNew(values, reveals)) cut(style, memory, values, binding, left, top);
    },

    refuse(target, { property }) {
      const { style } = target as Partial<DomTarget>;
      if (typeof style?.setProperty !== 'function') return 'it is not an element of a page';
      if (property === 'text' && !('textContent' in target)) return 'it has no text';
      return undefined;
    },

    forget(target) {
      const memory = memories.get(target);
      memory?.numbers.clear();
      memory?.reveals.forget();
    },

    // A playback is about to begin on what was the game's: it may be anything now.
    read(target, { property, kind, width }) {
      const memory = memories.get(target);
      memory?.numbers.delete(property);
      if (isShape(kind)) {
        memory?.reveals.forget();
        return undefined;
      }
      const text = target.style.getPropertyValue(NAMES[property] ?? customName(property));
      if (property === 'visible') return text === '' ? undefined : [Number(text !== 'hidden')];
      if (kind === 'color' || kind === 'text' || kind === 'quat' || text === '') return undefined;
      const parts = text.split(' ');
      // In other units than those that are written it says something else.
      const unit = UNITS[property] ?? '';
      if (!parts.every((part) => part === '0' || /^-?[\d.]+(?:e-?\d+)?/.exec(part)?.[0] + unit === part))
        return undefined;
      const numbers = parts.map(parseFloat);
      // CSS omits a second number that is 0, and a second scale like the first.
      while (numbers.length < width) numbers.push(property === 'scale' ? (numbers.length === 2 ? 1 : numbers[0]!) : 0);
      return numbers.length === width && numbers.every(Number.isFinite) ? numbers : undefined;
    },
  };
}

/** Where the properties of a role are in CSS. `size` is two, and is not read. */
const NAMES: Readonly<Record<string, string>> = {
  position: 'translate',
  rotation: 'rotate',
  scale: 'scale',
  opacity: 'opacity',
  visible: 'visibility',
  order: 'z-index',
};

const UNITS: Readonly<Record<string, string>> = { position: 'px', rotation: 'deg' };

const customName = (property: string) => `--${property.replace(/\./g, '-')}`;

/** Whether numbers differ from those that were written last; they are noted. */
function isNew(
  memory: Map<string, number>,
  name: string,
  values: Float64Array,
  offset: number,
  width: number,
): boolean {
  let differs = false;
  for (let k = 0; k < width; k++) {
    const channel = k === 0 ? name : CHANNELS[k] + name;
    if (memory.get(channel) === values[offset + k]) continue;
    memory.set(channel, values[offset + k]!);
    differs = true;
  }
  return differs;
}
const CHANNELS = ['', '1 ', '2 ', '3 '];

/** Numbers one after the other, each with a unit. */
function list(values: Float64Array, offset: number, width: number, unit = ''): string {
  return Array.from(values.subarray(offset, offset + width), (n) => css(n) + unit).join(' ');
}

/** An angle; of a quaternion the axis and the angle about it. */
function turned(values: Float64Array, offset: number, width: number): string {
  if (width !== 4) return `${css(values[offset]!)}deg`;
  const [x, y, z, w] = [values[offset]!, values[offset + 1]!, values[offset + 2]!, values[offset + 3]!];
  const length = Math.hypot(x, y, z);
  if (length === 0) return '0deg';
  return `${css(x / length)} ${css(y / length)} ${css(z / length)} ${css((Math.atan2(length, w) * 360) / Math.PI)}deg`;
}

function color(values: Float64Array, offset: number): string {
  const channels = [0, 1, 2].map((k) => byteOf(values[offset + k]!));
  return `rgb(${channels.join(' ')} / ${css(values[offset + 3]!)})`;
}

function writeOther(
  target: DomTarget,
  numbers: Map<string, number>,
  slot: OtherSlot,
  values: Float64Array,
  { texts }: RoleBinding,
): void {
  const { property, kind, width, offset } = slot;
  if (property === 'order' || !isNew(numbers, property, values, offset, width)) return;
  if (property === 'text' && kind === 'text') {
    target.textContent = texts[values[offset]!] ?? '';
    return;
  }
  target.style.setProperty(customName(property), cssOf(slot, values, texts));
}

function cssOf({ kind, width, offset }: OtherSlot, values: Float64Array, texts: readonly string[]): string {
  if (kind === 'color') return color(values, offset);
  if (kind === 'flag') return String(values[offset] !== 0);
  if (kind === 'text') return texts[values[offset]!] ?? '';
  return list(values, offset, width);
}

/** Shows what the reveals say. A circle that is alone is one in CSS too; all else is a polygon. */
function cut(
  style: DomStyle,
  memory: Written,
  values: Float64Array,
  { reveals }: RoleBinding,
  left: string,
  top: string,
): void {
  const region = regionOf(values, reveals);
  if (!region) {
    if (memory.isCut) style.removeProperty('clip-path');
    memory.isCut = false;
    return;
  }
  memory.isCut = true;
  const at = (origin: string, n: number, sense = n < 0 ? '-' : '+') => `calc(${origin} ${sense} ${css(Math.abs(n))}px)`;
  const active = reveals.filter((slot) => isActive(values, slot));
  const only = active.length === 1 ? active[0]! : undefined;
  if (only?.kind === 'circle' && only.shows === 'reveal') {
    const [x, y, radius] = values.subarray(only.offset, only.offset + 3) as unknown as [number, number, number];
    style.setProperty('clip-path', `circle(${css(Math.max(0, radius))}px at ${at(left, x)} ${at(top, y)})`);
    return;
  }
  const { shown = [EVERYTHING], hidden } = region;
  // A single hole is a path the other way round. Several may overlap: then the rest is in pieces.
  const isHole = !region.shown && hidden.length === 1;
  const pieces = isHole ? [EVERYTHING, [...hidden[0]!].reverse()] : hidden.length > 0 ? piecesAlone(region) : shown;
  // One polygon of all pieces: from each it goes back to where the first began, which encloses nothing.
  const corners = pieces.flatMap((piece) => [...piece, piece[0]!, pieces[0]![0]!]);
  const points = corners.map(([x, y]) => `${at(left, x)} ${at(top, y)}`);
  style.setProperty('clip-path', points.length > 0 ? `polygon(nonzero, ${points.join(', ')})` : 'polygon(0 0)');
}
