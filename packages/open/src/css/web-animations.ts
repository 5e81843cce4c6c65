import type { Reel } from 'unspool';
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
  type Timing,
} from './animations.js';

/** A keyframe of the Web Animations API: values by property, in the names of CSS or of its API. */
export type WebKeyframe = { readonly offset: number; readonly easing: string } & Readonly<
  Record<string, string | number>
>;

/** One role of a clip: the arguments of `element.animate(keyframes, timing)`. */
export interface WebAnimation {
  readonly keyframes: readonly WebKeyframe[];
  readonly timing: Timing;
}

/** Clips by name, each with its roles by name. */
export type WebAnimations = Readonly<Record<string, Readonly<Record<string, WebAnimation>>>>;

/**
 * Writes clips for the Web Animations API: `element.animate(keyframes, timing)` plays one role of a clip. Numbers of the
 * reel's own are custom properties, which the page has to register (`toCss` writes the `@property` rules).
 */
export function toWebAnimations(reel: Reel, options: CssOptions = {}): Converted<WebAnimations> {
  const { names, tolerance } = clipsOf(reel, options);
  const notes = new Notes();
  noteSequences(reel, names, 'Web Animations', notes);
  const clips: Record<string, Record<string, WebAnimation>> = {};
  for (const name of names) {
    const clip = reel.clip(name);
    const timing = timingOf(clip);
    noteRest(clip, 'Web Animations', notes);
    const roles: Record<string, WebAnimation> = {};
    for (const [role, animations] of byRole(animationsOf(reel, clip, tolerance, notes))) {
      const keyframes = animations.flatMap(({ css, frames }): WebKeyframe[] => {
        const property = css.name.startsWith('--')
          ? css.name
          : css.name.replace(/-(.)/g, (_, c: string) => c.toUpperCase());
        return placed(frames, clip.duration).map(([offset, { easing, values }]): WebKeyframe => ({
          offset,
          easing,
          [property]: css.text(values),
        }));
      });
      roles[role] = { keyframes: keyframes.sort((a, b) => a.offset - b.offset), timing };
    }
    if (Object.keys(roles).length > 0) clips[name] = roles;
    else notes.dropped(pointer('clips', name), 'nothing in it can be animated');
  }
  return notes.of(clips);
}
