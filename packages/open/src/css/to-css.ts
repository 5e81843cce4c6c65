import type { Reel, Slot } from 'unspool';
import { Notes, pointer, type Converted } from '../report.js';
import {
  animationsOf,
  byRole,
  clipsOf,
  noteRest,
  noteSequences,
  placed,
  timingOf,
  type CssOptions,
  type PropertyAnimation,
} from './animations.js';
import { NANOSECOND } from '../motion/arcs.js';
import { identifier } from './identifier.js';
import { cssProperty } from './properties.js';

/** How far before a jump its first value is, as a share of the clip: two keyframes of one offset would be one. */
const BEFORE_A_JUMP = 1e-7;

/**
 * Writes clips as CSS: one rule for each role of a clip (`.snap .claw`), one `@keyframes` for each of its properties,
 * `@property` for numbers of the reel's own, and a rule with the rest values of each role. To play a clip, give its name
 * as a class to an element that holds those of the roles.
 */
export function toCss(reel: Reel, options: CssOptions = {}): Converted<string> {
  const { names, tolerance } = clipsOf(reel, options);
  const notes = new Notes();
  noteSequences(reel, names, 'CSS', notes);
  const own = new Map<string, string>();
  const blocks: string[] = [];
  for (const name of names) {
    const clip = reel.clip(name);
    const timing = timingOf(clip);
    noteRest(clip, 'CSS', notes);
    const roles = byRole(animationsOf(reel, clip, tolerance, notes));
    if (roles.size === 0) notes.dropped(pointer('clips', name), 'nothing in it can be animated');
    for (const [role, animations] of roles) {
      const list: string[] = [];
      for (const animation of animations) {
        const { css } = animation;
        if (css.own) own.set(css.name, `@property ${css.name} {\n  syntax: "${css.own.syntax}";\n  inherits: false;\n  initial-value: ${css.own.initial};\n}`); // prettier-ignore
        const keyframes = identifier(`${name}-${role}-${css.name.replace(/^--/, '')}`);
        blocks.push(keyframesOf(keyframes, animation, clip.duration));
        const count = timing.iterations === 'Infinity' ? 'infinite' : String(timing.iterations);
        list.push(`${short(timing.duration / 1000)}s linear ${count} ${timing.direction} ${timing.fill} ${keyframes}`);
      }
      blocks.push(`.${identifier(name)} .${identifier(role)} {\n  animation:\n    ${list.join(',\n    ')};\n}`);
    }
  }
  const rest = reel.roles.flatMap((role) => restRule(reel, role));
  return notes.of(`${[...own.values(), ...rest, ...blocks].join('\n\n')}\n`);
}

const short = (n: number) => String(Number(n.toPrecision(12)));

function restRule(reel: Reel, role: string): string[] {
  const slots = reel.layout.slots.filter((slot) => slot.role === role);
  const lines = slots.flatMap((slot: Slot) => {
    const css = cssProperty(slot);
    return css && slot.restGiven ? [`  ${css.name}: ${css.text(slot.rest)};`] : [];
  });
  return lines.length > 0 ? [`.${identifier(role)} {\n${lines.join('\n')}\n}`] : [];
}

function keyframesOf(name: string, { css, frames }: PropertyAnimation, duration: number): string {
  const list = placed(frames, duration);
  const lines = list.map(([offset, frame], i) => {
    const next = list[i + 1]?.[0];
    const isJump = next !== undefined && (next - offset) * duration < NANOSECOND;
    const easing =
      next === undefined || frame.easing === 'linear' ? '' : ` animation-timing-function: ${frame.easing};`;
    return `  ${short(Math.max(0, offset - (isJump ? BEFORE_A_JUMP : 0)) * 100)}% { ${css.name}: ${css.text(frame.values)};${easing} }`;
  });
  return `@keyframes ${name} {\n${lines.join('\n')}\n}`;
}
