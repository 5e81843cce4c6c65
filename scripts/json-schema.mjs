/** Writes packages/unspool/reel.schema.json from the built library; with --check, says whether it is current. */
import { readFileSync, writeFileSync } from 'node:fs';
import { reelJsonSchema } from '../packages/unspool/dist/reel/document/json-schema.js';

const file = new URL('../packages/unspool/reel.schema.json', import.meta.url);
const text = `${JSON.stringify(reelJsonSchema(), null, 2)}\n`;
if (!process.argv.includes('--check')) writeFileSync(file, text);
else if (readFileSync(file, 'utf8') !== text) {
  console.error('reel.schema.json is not current. Run `npm run build`, and commit it.');
  process.exitCode = 1;
}
