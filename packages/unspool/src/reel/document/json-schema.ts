import { toJsonSchema } from '@valibot/to-json-schema';
import type { GenericSchema } from 'valibot';
import { choicesOf, fragmentOf, strictOf, type JsonSchema } from './schema-parts.js';
import { reelSchema } from './schema.js';

/**
 * The reel format as JSON Schema (draft 2020-12), from the same source as the types and the check. Used to write
 * `reel.schema.json`; not part of what a game loads.
 */
export function reelJsonSchema(): JsonSchema {
  const schema = convert(reelSchema);
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    title: 'Reel',
    description: 'Keyframed property animation of game objects: the reel format, version 1.',
    ...schema,
  };
}

function convert(schema: GenericSchema): JsonSchema {
  const converted = toJsonSchema(schema, {
    target: 'draft-2020-12',
    errorMode: 'ignore',
    overrideSchema: ({ valibotSchema }) => override(valibotSchema) ?? null,
  }) as JsonSchema;
  delete converted['$schema'];
  delete converted['$defs']; // made for lazy schemas, all of which are written out in place
  return converted;
}

function override(schema: object): JsonSchema | undefined {
  const fragment = fragmentOf(schema);
  if (fragment) return fragment;
  const choices = choicesOf(schema);
  if (choices?.length === 1) return convert(choices[0]!);
  if (choices) return { anyOf: choices.map(convert) };
  const strict = strictOf(schema);
  // Custom members are allowed everywhere, if their names start with `x-`.
  return strict && { ...convert(strict), patternProperties: { '^x-': {} } };
}
