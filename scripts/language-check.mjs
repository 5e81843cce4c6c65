// Finds old or unidiomatic wording in what people read: labels, messages, docstrings and docs. See CONTRIBUTING.md.
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import ts from 'typescript';

/** Wording to avoid, and what to write. */
const WORDS = [
  [/\b(?:is|are) no(?! longer| more| way)\b (?:\w+)/, 'write "is not a …"'],
  [/\bfor ever\b/, 'write "forever"'],
  [/\bthe chosen\b|\bchosen keys\b|\bchoose (?:all|nothing)\b/i, 'write "the selection", "select all", "deselect"'],
  [/\bhears? of\b|\bis heard\b|\bwas heard\b|\bwhat was heard\b/, 'write "receives" or "is called with"'],
  [/\b(?:is|are|was|were) (?:told|said)\b(?! apart)/, 'write "is reported", "is emitted", "is set by"'],
  [/\btakes? back\b|\btook back\b|\btaken back\b|\bdo again\b|\bdone again\b/, 'write "undo", "redo"'],
  [/\bover and over\b/, 'write "loop"'],
  [/\bpale poses?\b/, 'write "ghost poses"'],
  [/\bstretch of\b|\ba stretch\b/, 'write "range"'],
  [/\b(?:frames|times|samples|values|units) a second\b|\bat \d+ a second\b/, 'write "fps" or "per second"'],
  [/\blength units\b/, 'write "units"'],
  [/\bmend(?:s|ed)?\b/, 'write "fix"'],
  [/\bcolours?\b/i, 'write "color"'],
  [/\b(?:nearer|farther) in time\b/i, 'write "zoom in", "zoom out"'],
  [/\bput away\b|\bputs? .{1,20} away\b|\btake (?:it|them) out\b/, 'write "turn off", "remove"'],
  [/\bthere stands\b|\bhere stands\b|\bstands? at\b/, 'write "is at"'],
  [/\b(?:goes|go) on to\b|\bgoes on and on\b/, 'write "continues to"'],
  [/\bof one clip, its\b|\bthe key before, of\b|\bthe (?:role|clip|key) before\b/, 'put the subject first'],
  [/\bwhat there is\b|\bwho is there\b/i, 'name the thing'],
  [/\bmisspelt\b/, 'write "misspelled"'],
];

const tracked = (...patterns) =>
  execFileSync('git', ['ls-files', '-co', '--exclude-standard', ...patterns], { encoding: 'utf8' })
    .trim()
    .split('\n');
const isCode = (file) => /\.tsx?$/.test(file) && !/\.(?:test|bench)\.|\.d\.|\/test\//.test(file);

/** The texts of a source file that people read: strings, templates, page text, and docstrings of what is exported. */
function textsOf(file) {
  const source = readFileSync(file, 'utf8');
  const kind = file.endsWith('x') ? ts.ScriptKind.TSX : ts.ScriptKind.TS;
  const tree = ts.createSourceFile(file, source, ts.ScriptTarget.Latest, true, kind);
  const found = [];
  const add = (at, text) => found.push([tree.getLineAndCharacterOfPosition(at).line + 1, text]);
  const isPublic = (node) => {
    for (let at = node; at && at !== tree; at = at.parent)
      if (at.modifiers?.some((one) => one.kind === ts.SyntaxKind.ExportKeyword)) return true;
    return false;
  };
  const visit = (node) => {
    if (ts.isImportDeclaration(node)) return;
    if (
      ts.isStringLiteralLike(node) ||
      ts.isJsxText(node) ||
      ts.isTemplateHead(node) ||
      ts.isTemplateMiddleOrTemplateTail(node)
    )
      add(node.getStart(tree), node.text);
    if (file.startsWith('packages/unspool/') && node.jsDoc && isPublic(node))
      for (const doc of node.jsDoc) add(doc.getStart(tree), doc.getText(tree));
    ts.forEachChild(node, visit);
  };
  visit(tree);
  return found;
}

const files = [
  ...tracked('packages/*/src/*', 'apps/*/src/*', 'examples/*/src/*')
    .filter(isCode)
    .map((file) => [file, textsOf(file)]),
  ...tracked('README.md', 'docs/*.md', 'packages/*/README.md', 'examples/*/README.md').map((file) => [
    file,
    readFileSync(file, 'utf8')
      .split('\n')
      .map((line, i) => [i + 1, line]),
  ]),
];
let count = 0;
for (const [file, texts] of files)
  for (const [line, text] of texts)
    for (const [pattern, help] of WORDS) {
      const match = pattern.exec(text.replace(/\s+/g, ' ').replace(/ \* /g, ' '));
      if (!match) continue;
      count++;
      console.error(`${file}:${line}: "${match[0]}": ${help}`);
    }
if (count > 0) {
  console.error(`${count} ${count === 1 ? 'place' : 'places'} with old wording`);
  process.exit(1);
}
