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
  ...readdirSync(join(ROOT, 'docs'), { recursive: true, encoding: 'utf8' })
    .filter((name) => name.endsWith('.md'))
    .map((name) => `docs/${name.replaceAll('\\', '/')}`),
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

/** The anchors of a page's headings, as code hosts make them. */
function anchorsOf(text: string): string[] {
  return [...text.matchAll(/^#+ (.+)$/gm)].map(([, heading]) =>
    heading!
      .toLowerCase()
      .replace(/[^\w\- ]/g, '')
      .replaceAll(' ', '-'),
  );
}

/** What an animator or programmer looks for. */
const TERMS =
  'additive animation|adapter|bezier|blending|crossfade|chain|queue|hitbox|crowd|event|direction|easing|fps|health bar|onion skin|keyframe|layer|loop|flip|motion path|pivot|random variation|rest pose|retime|bone|save and restore|sprite sheet|overshoot|test without a screen|undo';

test.each(TERMS.split('|'))('the index of terms has %s', (term) => {
  const rows = readFileSync(join(ROOT, 'docs/index.md'), 'utf8').split('\n');
  expect(rows.filter((row) => row.split('|')[1]?.includes(term) && row.includes('.md'))).not.toEqual([]);
});

test('the index lists every page', () => {
  const index = readFileSync(join(ROOT, 'docs/index.md'), 'utf8');
  const pages = documents.filter((name) => name.startsWith('docs/') && name !== 'docs/index.md');
  expect(pages.filter((name) => !index.includes(`](${name.slice('docs/'.length)})`))).toEqual([]);
});

test('the messages of the troubleshooting page are those of the program', () => {
  const page = readFileSync(join(ROOT, 'docs/how-to/troubleshooting.md'), 'utf8');
  const sources = readdirSync(join(ROOT, 'packages'), { recursive: true, encoding: 'utf8' })
    .filter((name) => /[/\\]src[/\\].*(?<!\.test)\.ts$/.test(name) && !name.includes('node_modules'))
    .map((name) => readFileSync(join(ROOT, 'packages', name), 'utf8'))
    .join('\n')
    .replaceAll('${what}', 'clip');
  const messages = [...page.matchAll(/^\| (`.*?`) +\|/gm)].flatMap(([, cell]) => cell!.slice(1, -1).split('`, `'));
  expect(messages.length).toBeGreaterThan(15);
  expect(messages.filter((message) => !sources.includes(message))).toEqual([]);
});

test('the files and names that CONTRIBUTING sends a reader to are there', () => {
  const page = readFileSync(join(ROOT, 'CONTRIBUTING.md'), 'utf8');
  const files = ['packages', 'apps', 'scripts', 'docs'].flatMap((folder) =>
    readdirSync(join(ROOT, folder), { recursive: true, encoding: 'utf8' })
      .filter((name) => !/node_modules|[/\\]dist[/\\]/.test(name))
      .map((name) => `${folder}/${name.replaceAll('\\', '/')}`),
  );
  const find = (path: string) => files.find((file) => file === path || file.endsWith(`/${path}`));
  const paths = [...page.matchAll(/(?<![\w*])[\w./-]*[\w-]\.(?:ts|mjs|md)\b/g)].map(([path]) => path);
  expect(paths.length).toBeGreaterThan(50);
  expect(paths.filter((path) => !find(path))).toEqual([]);
  // `NAME` in `file`: the recipe's first step.
  const names = [...page.matchAll(/`(\w+)`[^`.]{1,12}`([\w/-]+\.ts)`/g)];
  expect(names.length).toBeGreaterThan(2);
  for (const [sentence, name, path] of names)
    expect(readFileSync(join(ROOT, find(path!)!), 'utf8'), sentence).toContain(name);
});

describe.each(documents)('%s', (name) => {
  const text = readFileSync(join(ROOT, name), 'utf8');
  const cwd = join(scratch, name.replace(/\W/g, '-'));
  mkdirSync(cwd);
  // The README begins with nothing, as its reader does; the others speak of the demo reels.
  if (name !== 'README.md') {
    cpSync(join(ROOT, 'examples/tidepool/reels'), cwd, { recursive: true });
    cpSync(join(ROOT, 'examples/tidepool/scripts'), join(cwd, 'scripts'), { recursive: true });
  }

  test('its links lead to files and headings that exist', () => {
    for (const [, target, anchor] of text.matchAll(/\]\((?!https?:)([^)#]*)(?:#([^)]*))?\)/g)) {
      const file = target === '' ? join(ROOT, name) : join(ROOT, dirname(name), target!);
      expect(existsSync(file), target).toBe(true);
      if (anchor !== undefined) expect(anchorsOf(readFileSync(file, 'utf8')), `${target}#${anchor}`).toContain(anchor);
    }
  });

  test('its examples run and print what is shown', () => {
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
      } else if (language === 'ts') {
        // A file that later examples import says its name; the others are tests, run by Vitest in a project of its own.
        const [, file] = /^\/\/ (\w+\.ts)\n/.exec(content) ?? [];
        writeFileSync(join(cwd, file ?? `example-${index}.test.ts`), content);
        if (file !== undefined) continue;
        writeFileSync(join(cwd, 'vitest.config.mjs'), 'export default {};');
        run([join(ROOT, 'node_modules/vitest/vitest.mjs'), 'run', '--root', cwd], cwd);
      } else if (language === 'jsonc') {
        // JSON that a formatter has given trailing commas.
        expect(() => JSON.parse(content.replace(/,(?=\s*[}\]])/g, '')) as unknown).not.toThrow();
      } else if (language === 'html') {
        // A page: scripts/readme-check.mjs opens it in Chromium.
        expect(content).toContain('<script type="module">');
      } else if (printed !== '' && !content.startsWith('packages/')) {
        for (const line of content.trimEnd().split('\n')) if (line !== '…') expect(printed.split('\n')).toContain(line);
      }
    }
  });
});
