import { UnspoolError } from '../errors/error.js';
import { show } from '../errors/show.js';

const isObject = (value: unknown): value is Readonly<Record<string, unknown>> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** Throws for a body whose shapes are none. */
export function checkShapes(name: string, shapes: unknown): void {
  if (!isObject(shapes)) {
    const message = `the body ${show(name)} expects shapes by name, found ${show(shapes)}`;
    throw new UnspoolError('hit/body', message, "pass { shapes: { it: { shape, tag: 'hurt' } }, position: [x, y] }");
  }
  for (const [one, entry] of Object.entries(shapes)) {
    if (isObject(entry) && isObject(entry['shape']) && typeof entry['tag'] === 'string') continue;
    const message = `the shape ${show(one)} of the body ${show(name)} expects a shape and a tag, found ${show(entry)}`;
    const hint = "pass { shape: { kind: 'circle', center: [0, 0], radius: 5 }, tag: 'hurt' }";
    throw new UnspoolError('hit/body', message, hint);
  }
}

/** Throws for what is added to a world and is neither a player nor a body, and for a name or a place that is none. */
export function checkParticipant(name: unknown, one: unknown, at: unknown): void {
  if (typeof name !== 'string')
    throw new UnspoolError('hit/owner', `the name ${show(name)} is not a text`, "pass one: world.add('crab', crab)");
  const isPlayer = isObject(one) && isObject(one['parts']) && typeof one['tick'] === 'function';
  if (!isPlayer && !(isObject(one) && 'shapes' in one)) {
    const message = `expected a player or a body as ${show(name)}, found ${show(one)}`;
    throw new UnspoolError('hit/owner', message, 'pass a Player, or { shapes, position: [x, y] }');
  }
  if (at === undefined || typeof at === 'function') return;
  const message = `the place of ${show(name)} is not a function: ${show(at)}`;
  throw new UnspoolError('hit/owner', message, 'pass () => ({ position: [x, y] })');
}

/** Throws for options of a world that make no sense. */
export function checkWorld(pairs: unknown, functions: Readonly<Record<string, unknown>>): void {
  const isPair = (pair: unknown) =>
    Array.isArray(pair) && pair.length === 2 && pair.every((tag) => typeof tag === 'string');
  if (!Array.isArray(pairs) || !pairs.every(isPair)) {
    const message = `pairs expects pairs of tags, found ${show(pairs)}`;
    throw new UnspoolError('hit/options', message, "pass [['hits', 'hurt']]");
  }
  for (const [name, one] of Object.entries(functions)) {
    if (one === undefined || typeof one === 'function') continue;
    throw new UnspoolError(
      'hit/options',
      `${name} is not a function: ${show(one)}`,
      'pass a function, or leave it out',
    );
  }
}
