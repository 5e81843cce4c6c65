/**
 * `npm test`: everything that must hold, in one command, the same that CI runs. What a step prints comes when it is done,
 * as two go on side by side; at the end there is a summary.
 */
import { readFileSync, rmSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { findBrowser, installPackages, quietly, root, tool } from './steps.mjs';

installPackages();
process.env.CHROMIUM = await findBrowser();

const [node, tsc] = tool('typescript/bin/tsc');
const FOLDERS = ['packages', 'apps', 'examples'];
const of = (path, ...args) => [node, [...tool(path)[1], ...args]];

/** Tests of some projects, with a report for the summary. */
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
const vite = (folder) => of('vite/bin/vite.js', 'build', folder, '--logLevel', 'warn');
/** A process waits for others most of the time: with two cores there are two. */
const WORKERS = Math.max(2, availableParallelism() - 1);

/** Later steps use what these build. */
const builds = [
  ['types and build', [node, [...tsc, '-b']]],
  ['build of program', vite('packages/cli')],
  ['build of workbench', vite('apps/workbench')],
];
/** Some measure time: nothing else goes on beside them. */
const alone = [['tests', tests(['unit', 'browser'], WORKERS)]];
/** Pages and games play in real time and take up more than one core: one after the other, beside what takes up one. */
const inRealTime = [
  ['tests of games', tests(['game'], 1)],
  ['tests of pages', tests(['page'], 1)],
];
/** What measures nothing: in any order, by whoever is free. */
const beside = [
  ['types of the rest', [node, [...tsc, '-p', 'tsconfig.check.json']]],
  ['lint', of('eslint/bin/eslint.js', '.')],
  ['packages', [node, ['scripts/package-check.mjs']]],
  [
    'architecture',
    of('dependency-cruiser/bin/dependency-cruise.mjs', ...FOLDERS, '--config', '.dependency-cruiser.cjs'),
  ],
  ['API docs', [node, ['scripts/api-docs.mjs', '--check']]],
  ['format', of('prettier/bin/prettier.cjs', '--check', '--log-level', 'warn', '.')],
  ['README', [node, ['scripts/readme-check.mjs']]],
  ['unused', of('knip/bin/knip.js', '--no-config-hints')],
  ['language', [node, ['scripts/language-check.mjs']]],
  ['size', of('size-limit/bin.js')],
  ['JSON Schema', [node, ['scripts/json-schema.mjs', '--check']]],
];
const last = [['fluency', tests(['fluent'], 1)]];

const results = [];
await inOrder(builds);
await inOrder(alone);
await Promise.all([inOrder(inRealTime), inOrder(beside)]);
await inOrder(last);

/** Runs the steps of a list, and takes each out of it. */
async function inOrder(steps) {
  for (let step; (step = steps.shift());) {
    const [name, [command, args]] = step;
    const start = performance.now();
    const { code, printed } = await quietly(command, args);
    const seconds = (performance.now() - start) / 1000;
    results.push({ name, ok: code === 0, seconds });
    console.log(`\n── ${name}: ${seconds.toFixed(1)} s\n${printed}`);
  }
}

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
