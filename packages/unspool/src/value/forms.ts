import type { Kind } from './kind.js';

/** How a message names a value of each kind. Apart from the rules, as only who checks has to load it. */
export const FORMS: Readonly<Record<Kind, string>> = {
  number: 'a number',
  vec2: 'two numbers such as [1, 2]',
  vec3: 'three numbers such as [1, 2, 3]',
  angle: 'an angle in degrees',
  quat: 'a unit quaternion [x, y, z, w] or { "euler": [x, y, z], "order": "xyz" } in degrees',
  color: 'a color such as "#e07a5f" or [r, g, b, a] from 0 to 1',
  integer: 'an integer',
  flag: 'true or false',
  text: 'a text',
  box: 'null or any of { "center": [x, y], "size": [w, h], "angle": degrees }',
  circle: 'null or any of { "center": [x, y], "radius": r }',
  capsule: 'null or any of { "from": [x, y], "to": [x, y], "radius": r }',
};
