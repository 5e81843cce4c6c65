/** The objects that the contenders of a frame write into, and how the plain ones do it. */

export const newCast = () =>
  Object.fromEntries(['a', 'b', 'c', 'd'].map((role) => [role, { position: { x: 0.5, y: 0.5 }, rotation: 0.5 }]));

/** One closure per track, created once: the target and the name of its member are at hand. */
export function settersOf(names, cast) {
  return names.map((name) => {
    const path = name.split('.');
    const target = path.length === 3 ? cast[path[0]][path[1]] : cast[path[0]];
    const member = path.at(-1);
    return (value) => {
      target[member] = value;
    };
  });
}

/** Whether a playhead that went from one time of a looped clip to another has passed a cue. */
export const passes = (cueAt, before, after) =>
  after >= before ? before < cueAt && cueAt <= after : before < cueAt || cueAt <= after;

/** The frame of each contender, so many times in a row. */
export function repeated(contenders, frames) {
  const run = (frame) => () => {
    for (let i = 0; i < frames; i++) frame();
  };
  return Object.fromEntries(Object.entries(contenders).map(([name, frame]) => [name, run(frame)]));
}
