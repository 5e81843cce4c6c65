/** `npm test`: everything that must hold, in one command, the same that CI runs. Ends with a summary. */
import { readFileSync, rmSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { findBrowser, installPackages, root, run, tool } from './steps.mjs';

installPackages();
process.env.CHROMIUM = await findBrowser();

const [node, tsc] = tool('typescript/bin/tsc');
const of = (path, ...args) => [node, [...tool(path)[1], ...args]];

/**
 * Tests of some projects, with a report for the summary. Those of pages build what others would be using, and those that
 * measure want the machine for themselves, so they come one after the other.
 */
const reports = [];
const tests = (projects, workers) => {
  const report = `${root}.tsout/${projects.join('-')}.json`;
  rmSync(report, { force: true });
  reports.push(report);
  return of(
    'vitest/vitest.mjs',
    'run',
    ...projects.flatMap((name) => ['--project', name]),
    `--maxWorkers=${workers}`,
    '--reporter=default',
    '--reporter=json',
    `--outputFile.json=${report}`,
  );
};
/** A process waits for others most of the time: with two cores there are two. */
const WORKERS = Math.max(2, availableParallelism() - 1);

/** In order of how soon each tells of a mistake. Later steps use what earlier ones built. */
const steps = [
  ['types and build', [node, [...tsc, '-b']]],
  ['JSON Schema', [node, ['scripts/json-schema.mjs', '--check']]],
  ['types of tests', [node, [...tsc, '-p', 'tsconfig.test.json']]],
  ['types of examples', [node, [...tsc, '-p', 'examples/tidepool']]],
  ['types of referee', [node, [...tsc, '-p', 'examples/referee']]],
  ['types of workbench', [node, [...tsc, '-p', 'apps/workbench']]],
  ['build of workbench', [node, [...tool('vite/bin/vite.js')[1], 'build', 'apps/workbench', '--logLevel', 'warn']]],
  ['lint', of('eslint/bin/eslint.js', '.')],
  ['language', [node, ['scripts/language-check.mjs']]],
  [
    'architecture',
    of(
      'dependency-cruiser/bin/dependency-cruise.mjs',
      'packages',
      'apps',
      'examples',
      '--config',
      '.dependency-cruiser.cjs',
    ),
  ],
  ['unused', of('knip/bin/knip.js', '--no-config-hints')],
  ['format', of('prettier/bin/prettier.cjs', '--check', '--log-level', 'warn', '.')],
  ['tests', tests(['unit', 'browser'], WORKERS)],
  ['tests of pages', tests(['page'], 1)],
  ['fluency', tests(['fluent'], 1)],
  ['size', of('size-limit/bin.js')],
  ['packages', [node, ['scripts/package-check.mjs']]],
  ['README', [node, ['scripts/readme-check.mjs']]],
  ['API docs', [node, ['scripts/api-docs.mjs', '--check']]],
];

const results = steps.map(([name, [command, args]]) => {
  console.log(`\n── ${name}`);
  const start = performance.now();
  const code = run(command, args);
  return { name, ok: code === 0, seconds: (performance.now() - start) / 1000 };
});

console.log('\n── summary');
for (const { name, ok, seconds } of results) {
  console.log(`${ok ? 'ok    ' : 'FAILED'}  ${name.padEnd(18)} ${seconds.toFixed(1).padStart(6)} s`);
}
const counts = reports.map(readTests);
for (const { names } of counts) for (const name of names) console.log(`FAILED  ${name}`);
const sum = (which) => counts.reduce((total, one) => total + one[which], 0);
console.log(`\n${sum('passed')} passed, ${sum('failed')} failed`);
process.exit(results.every(({ ok }) => ok) ? 0 : 1);

/** The counts of the test runner, and which failed; no report is one failure. */
function readTests(report) {
  try {
    const { numPassedTests, numFailedTests, numFailedTestSuites, testResults } = JSON.parse(
      readFileSync(report, 'utf8'),
    );
    const names = testResults.flatMap(({ name, status, message, assertionResults }) => {
      const file = name.replace(root, '');
      const tests = assertionResults.filter(({ status }) => status === 'failed');
      if (tests.length === 0) return status === 'failed' ? [`${file}: ${firstLine(message)}`] : [];
      return tests.map(({ fullName, failureMessages }) => `${file} > ${fullName}: ${firstLine(failureMessages[0])}`);
    });
    return { passed: numPassedTests, failed: numFailedTests || (numFailedTestSuites > 0 ? 1 : 0), names };
  } catch {
    return { passed: 0, failed: 1, names: ['the test runner left no report'] };
  }
}

function firstLine(text = '') {
  return text.split('\n', 1)[0];
}
