import { isShape, membersOf, type Kind, type ShapeKind, type ShapeMember } from './kind.js';

// Apart from the rules of kinds, because only the check needs it.
const FORMS: Readonly<Record<Exclude<Kind, ShapeKind>, string>> = {
  number: 'a number',
  vec2: 'two numbers such as [1, 2]',
  vec3: 'three numbers such as [1, 2, 3]',
  angle: 'an angle in degrees',
  quat: 'a unit quaternion [x, y, z, w] or { "euler": [x, y, z], "order": "xyz" } in degrees',
  color: 'a color such as "#e07a5f" or [r, g, b, a] from 0 to 1',
  integer: 'an integer',
  flag: 'true or false',
  text: 'a text',
};

const MEMBER_FORMS: { readonly [M in ShapeMember]: string } = {
  point: '[x, y]',
  size: '[w, h]',
  length: 'r',
  angle: 'degrees',
  direction: 'degrees',
};

/** How a message describes a value of a kind. */
export function formOf(kind: Kind): string {
  if (!isShape(kind)) return FORMS[kind];
  const members = Object.entries(membersOf(kind)).map(([name, member]) => `"${name}": ${MEMBER_FORMS[member]}`);
  return `null or any of { ${members.join(', ')} }`;
}
