#!/usr/bin/env node
import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

const main = new URL('../program/main.js', import.meta.url);
if (existsSync(fileURLToPath(main))) await import(main.href);
else {
  console.error('unspool is not built yet. Run `npm run build` in the repository first.');
  process.exitCode = 2;
}
