import fc from 'fast-check';

/** Random damage to JSON: what a full disk, a hand or an attacker makes of a document. */
const odd: fc.Arbitrary<unknown> = fc.oneof(
  fc.constantFrom<unknown>(null, undefined, true, '', 'x', '__proto__', 'constructor', -1, 0, 1e308, -1e100, 1e30),
  fc.constantFrom<unknown>(NaN, Infinity, -0, 2 ** 53, '9f', '-3f', '1e9f', [], {}, [[]], [null], { at: 0 }),
  fc.double(),
  fc.string(),
  fc.jsonValue(),
  fc.constant(Symbol('odd')),
  fc.constant(() => 1),
  fc.constant(null).map(() => [, 1]),
);

interface Wound {
  readonly way: readonly number[];
  readonly how: 'replace' | 'remove' | 'add' | 'rename' | 'copy' | 'nudge';
  readonly value: unknown;
  readonly name: string;
}

const wound: fc.Arbitrary<Wound> = fc.record({
  way: fc.array(fc.nat(1000), { minLength: 1, maxLength: 8 }),
  how: fc.constantFrom('replace', 'remove', 'add', 'rename', 'copy', 'nudge'),
  value: odd,
  name: fc.constantFrom('__proto__', 'constructor', 'prototype', 'at', 'value', 'do', 'toString', 'x', '0', ''),
});

type Box = Record<string, unknown>;
const isBox = (value: unknown): value is Box =>
  typeof value === 'object' && value !== null && Object.isExtensible(value);

function put(box: Box, name: string, value: unknown): void {
  // A list has places alone, as in JSON.
  if (Array.isArray(box)) (box as unknown[])[Number(name) >= 0 ? Number(name) : box.length] = value;
  else Object.defineProperty(box, name, { value, enumerable: true, configurable: true, writable: true });
}

function hurt(root: Box, { way, how, value, name }: Wound): void {
  let box = root;
  let member = '';
  for (const [i, n] of way.entries()) {
    const names = Object.keys(box);
    if (names.length === 0) break;
    member = names[n % names.length]!;
    const next = box[member];
    if (i === way.length - 1 || !isBox(next)) break;
    box = next;
  }
  if (member === '') return;
  const was = box[member];
  if (how === 'replace') put(box, member, value);
  else if (how === 'remove') Reflect.deleteProperty(box, member);
  else if (how === 'add') put(box, name, value);
  else if (how === 'copy') put(box, name, isBox(was) ? { ...was } : was);
  else if (how === 'nudge' && typeof was === 'number') put(box, member, typeof value === 'number' ? value : was + 1);
  else if (how === 'rename') {
    put(box, name, was);
    if (name !== member) Reflect.deleteProperty(box, member);
  }
}

/** Some JSON with one to four wounds. */
export function damaged<T extends object>(sound: fc.Arbitrary<T>): fc.Arbitrary<unknown> {
  return fc.tuple(sound, fc.array(wound, { minLength: 1, maxLength: 4 })).map(([value, wounds]) => {
    const copy = JSON.parse(JSON.stringify(value)) as Box;
    for (const one of wounds) hurt(copy, one);
    return copy;
  });
}

export const anything: fc.Arbitrary<unknown> = fc.oneof(odd, fc.anything({ maxDepth: 4 }), fc.object());
