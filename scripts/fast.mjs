/** `npm run test:fast`: the library's tests with a tenth of the random cases. No processes, no pages, no large reels. */
import { root, run, tool } from './steps.mjs';

process.env.UNSPOOL_FAST = '1';
const [node, vitest] = tool('vitest/vitest.mjs');
const files = process.argv.slice(2);
process.exit(
  run(node, [
    ...vitest,
    'run',
    ...['--project', 'unit', '--maxWorkers=2'],
    ...(files.length > 0 ? files : [`${root}packages/unspool/src`]),
  ]),
);
