import type { PlayableKind } from './kind.js';

/** How a message names a value of each kind. Apart from the rules, as only who checks has to load it. */
export const FORMS: Readonly<Record<PlayableKind, string>> = {
  number: 'a number',
  vec2: 'two numbers, as [1, 2]',
  vec3: 'three numbers, as [1, 2, 3]',
  angle: 'a number of degrees',
  quat: 'a unit quaternion [x, y, z, w], or { "euler": [x, y, z], "order": "xyz" } in degrees',
  color: 'a colour, as "#e07a5f" or [r, g, b, a] with 0–1 each',
  integer: 'a whole number',
  flag: 'true or false',
  text: 'a text',
};
