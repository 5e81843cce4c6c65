import { readdirSync, readFileSync } from 'node:fs';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import * as v from 'valibot';
import { anything, damaged } from '../../../test/mutate.js';
import { randomOperation } from '../../../test/random-operations.js';
import { randomScene } from '../../../test/random-reel.js';
import { documentOf, randomRoutine } from '../../../test/random-routine.js';
import { runs } from '../../../test/runs.js';
import type { ReelDocument } from '../../index.js';
import { schemaOf } from '../../edit/operation.js';
import { documents, reelSchema } from '../document/schema.js';
import { accepts } from './accepts.js';

const folder = new URL('../../../../../examples/tidepool/reels/', import.meta.url);
const reels = readdirSync(folder)
  .filter((file) => file.endsWith('.reel.json'))
  .map((file) => JSON.parse(readFileSync(new URL(file, folder), 'utf8')) as ReelDocument);

/** The plain yes or no, compared with what the schema library has to say. Returns it. */
function agrees(schema: v.GenericSchema, value: unknown): boolean {
  const found = accepts(schema)(value);
  expect(found).toBe(v.safeParse(schema, value).issues === undefined);
  return found;
}

test('a reel is accepted where the schema has nothing to say, and only there', () => {
  const sound = fc.oneof(fc.constantFrom(...reels), randomScene, randomRoutine.map(documentOf));
  const found = new Set<boolean>();
  fc.assert(
    fc.property(fc.oneof(sound, damaged(sound), anything), (document) => {
      found.add(agrees(reelSchema, document));
    }),
    runs(500),
  );
  expect([...found].sort()).toEqual([false, true]);
  for (const reel of reels) expect(accepts(reelSchema)(reel)).toBe(true);
});

test('so are the parts of a reel, and operations', () => {
  const operations = reels.map((reel) => randomOperation(reel));
  const sound = fc.oneof(...operations).filter((operation) => schemaOf(operation.do) !== undefined);
  fc.assert(
    fc.property(sound, damaged(sound), anything, (operation, other, odd) => {
      const schema = schemaOf(operation.do)!;
      // Whatever is no object is refused before.
      for (const value of [operation, other]) agrees(schema, value);
      for (const part of Object.values(documents)) for (const value of [operation, odd]) agrees(part, value);
    }),
    runs(300),
  );
});
