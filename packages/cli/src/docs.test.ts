import { spawnSync } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, describe, expect, test } from 'vitest';
import { checkReel, formatReel } from 'unspool';

/** Every example in the docs is run: what they show is what happens. */
const ROOT = fileURLToPath(new URL('../../../', import.meta.url));
const BIN = join(ROOT, 'packages/cli/bin/unspool.js');
const documents = [
  'README.md',
  'CONTRIBUTING.md',
  ...readdirSync(join(ROOT, 'docs')).flatMap((name) => (name.endsWith('.md') ? [`docs/${name}`] : [])),
];

// Inside the repository, so that examples find the packages as a project would.
mkdirSync(join(ROOT, '.tsout'), { recursive: true });
const scratch = mkdtempSync(join(ROOT, '.tsout', 'docs-'));
afterAll(() => rmSync(scratch, { recursive: true }));

interface Block {
  readonly language: string;
  readonly content: string;
}

function blocksOf(text: string): Block[] {
  return [...text.matchAll(/^```(\w*)\n([\s\S]*?)^```$/gm)].map(([, language, content]) => ({
    language: language!,
    content: content!,
  }));
}

function run(args: readonly string[], cwd: string) {
  const { status, stdout, stderr } = spawnSync(process.execPath, args, { cwd, encoding: 'utf8' });
  expect(status, `${args.join(' ')}\n${stderr}`).toBe(0);
  return stdout;
}

/** Words of a command line; double quotes keep theirs together. */
function words(line: string): string[] {
  return [...line.matchAll(/"([^"]*)"|(\S+)/g)].map(([, quoted, plain]) => quoted ?? plain!);
}

describe.each(documents)('%s', (name) => {
  const text = readFileSync(join(ROOT, name), 'utf8');
  const cwd = join(scratch, name.replace(/\W/g, '-'));
  mkdirSync(cwd);
  // The README begins with nothing, as its reader does; the others speak of the demo reels.
  if (name !== 'README.md') {
    cpSync(join(ROOT, 'examples/tidepool/reels'), cwd, { recursive: true });
    cpSync(join(ROOT, 'examples/tidepool/scripts'), join(cwd, 'scripts'), { recursive: true });
  }

  test('its links lead somewhere', () => {
    for (const [, target] of text.matchAll(/\]\((?!https?:)([^)#]+)[^)]*\)/g)) {
      expect(existsSync(join(ROOT, dirname(name), target!)), target).toBe(true);
    }
  });

  test('its examples run, and say what is written', () => {
    let printed = '';
    for (const [index, { language, content }] of blocksOf(text).entries()) {
      if (language === 'sh') {
        for (const line of content.trim().split('\n')) {
          expect(line).toMatch(/^unspool /);
          printed = run([BIN, ...words(line).slice(1)], cwd);
        }
      } else if (language === 'js') {
        writeFileSync(join(cwd, `example-${index}.mjs`), content);
        run([`example-${index}.mjs`], cwd);
      } else if (language === 'json') {
        expect(checkReel(content)).toEqual([]);
        expect(formatReel(JSON.parse(content) as never)).toBe(content);
      } else if (language === 'html') {
        // A page: scripts/readme-check.mjs opens it in Chromium.
        expect(content).toContain('<script type="module">');
      } else if (printed !== '' && !content.startsWith('packages/')) {
        for (const line of content.trimEnd().split('\n')) if (line !== '…') expect(printed.split('\n')).toContain(line);
      }
    }
  });
});
