import fs from 'node:fs';
import { syncBuiltinESMExports } from 'node:module';

// Loaded before a program that is tested: while the file that FULL_DISK names is there, the disk is full. As on a real one,
// a write may still take a part before the next one fails.
const { existsSync, writeSync, writeFileSync } = fs;
const isFull = () => existsSync(process.env.FULL_DISK ?? '');
const fail = () => {
  throw Object.assign(new Error('ENOSPC: no space left on device, write'), { code: 'ENOSPC' });
};

let isPart = false;
fs.writeSync = (file, bytes, offset, length, position) => {
  if (file <= 2 || !isFull()) return writeSync(file, bytes, offset, length, position);
  isPart = !isPart;
  return isPart && length > 1 ? writeSync(file, bytes, offset, Math.floor(length / 2), position) : fail();
};
fs.writeFileSync = (file, data, options) => {
  if (!isFull()) {
    writeFileSync(file, data, options);
    return;
  }
  if (typeof file !== 'number') writeFileSync(file, '', options);
  fail();
};
syncBuiltinESMExports();
