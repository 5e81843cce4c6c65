/** `npm run test:nightly [-- FILE …]`: the unit tests, with at least 10,000 cases of each random test, new ones each night. */
import { installPackages, run, tool } from './steps.mjs';

installPackages();
process.env.UNSPOOL_CASES ??= '10000';
const [node, vitest] = tool('vitest/vitest.mjs');
process.exit(run(node, [...vitest, 'run', '--project', 'unit', ...process.argv.slice(2)]));
