import { mkdirSync, realpathSync, symlinkSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { scratchFolder } from '../../test/command.js';
import { fileIn, pictureIn, picturesIn } from './folders.js';
import { isToken, refusalOf } from './request-guard.js';

const scratch = scratchFolder();
const [art, other] = [join(scratch, 'art'), join(scratch, 'other')];

beforeAll(() => {
  for (const folder of [art, other, join(art, 'deep', 'er'), join(art, 'node_modules'), join(art, '.git')])
    mkdirSync(folder, { recursive: true });
  for (const [folder, name] of [
    [art, 'crab.png'],
    [art, 'deep/lamp.WEBP'],
    [art, 'deep/er/pearl.jpg'],
    [art, 'crab.reel.json'],
    [art, 'picture.svg'],
    [art, 'node_modules/x.png'],
    [art, '.git/x.png'],
    [other, 'crab.png'],
    [other, 'gate.png'],
    [scratch, 'secret.png'],
  ] as const)
    writeFileSync(join(folder, name), `${folder} ${name}`);
  symlinkSync(join(scratch, 'secret.png'), join(art, 'linked.png'));
  symlinkSync(scratch, join(art, 'up'));
  symlinkSync(join(art, 'crab.png'), join(art, 'same.png'));
});

describe('the files of a folder', () => {
  it('are found by their names, also through links that stay inside', () => {
    expect(fileIn(art, 'crab.png')).toBe(join(realpathSync(art), 'crab.png'));
    expect(fileIn(art, 'deep/er/pearl.jpg')).toBe(join(realpathSync(art), 'deep/er/pearl.jpg'));
    expect(fileIn(art, 'same.png')).toBe(join(realpathSync(art), 'crab.png'));
  });

  it.each([
    '',
    '.',
    '..',
    '../secret.png',
    'deep/../crab.png',
    '/etc/passwd',
    'linked.png',
    'up/secret.png',
    'deep',
    'crab.png/',
    '.git/x.png',
    'nobody',
    'crab\0.png',
  ])('and none by %j', (name) => expect(fileIn(art, name)).toBeUndefined());

  it('and no name whatever leads out of it', () => {
    const step = fc.constantFrom(
      '..',
      '.',
      '',
      'deep',
      'er',
      'up',
      'secret.png',
      'linked.png',
      'crab.png',
      '%2e%2e',
      '\\..',
      '~',
    );
    fc.assert(
      fc.property(fc.array(step, { maxLength: 8 }), fc.constantFrom('/', '\\'), (steps, between) => {
        const found = fileIn(art, steps.join(between));
        if (found !== undefined) expect(found.startsWith(`${realpathSync(art)}/`)).toBe(true);
      }),
      { numRuns: 500 },
    );
  });
});

describe('pictures', () => {
  it('are listed by folder, without hidden files, links and other files', () => {
    expect(picturesIn([art, other]).map(({ name }) => name)).toEqual([
      'crab.png',
      'deep/er/pearl.jpg',
      'deep/lamp.WEBP',
      'gate.png',
    ]);
    expect(picturesIn([join(scratch, 'nowhere')])).toEqual([]);
  });

  it('of one name in two folders are those of the first', () => {
    expect(pictureIn([art, other], 'crab.png')!.toString()).toBe(`${art} crab.png`);
    expect(pictureIn([other, art], 'crab.png')!.toString()).toBe(`${other} crab.png`);
    expect(pictureIn([art, other], 'gate.png')!.toString()).toBe(`${other} gate.png`);
  });

  it.each(['picture.svg', 'crab.reel.json', 'nobody.png'])('are not %s', (name) =>
    expect(pictureIn([art, other], name)).toBeUndefined(),
  );
});

describe('who may ask', () => {
  const host = { host: '127.0.0.1:4640' };
  it.each([
    ['GET', host, undefined],
    ['HEAD', { host: 'localhost:4640' }, undefined],
    ['GET', { host: '[::1]:4640', origin: 'http://[::1]:4640' }, undefined],
    ['GET', { ...host, origin: 'http://localhost:4640' }, undefined],
    ['GET', {}, 403],
    ['GET', { host: 'localhost' }, 403],
    ['GET', { host: '127.0.0.1:4640.evil.example' }, 403],
    ['GET', { ...host, origin: 'https://127.0.0.1:4640' }, 403],
    ['GET', { ...host, origin: 'http://127.0.0.1:4640.evil.example' }, 403],
    ['POST', host, 405],
    ['OPTIONS', host, 405],
    ['POST', { ...host, 'content-length': '104857600' }, 413],
  ])('%s with %j: %s', (method, headers, status) => expect(refusalOf(method, headers, 4640)?.status).toBe(status));

  it.each([
    ['/api/pictures/shell.png', '1000', undefined],
    ['/api/pictures/shell.png', undefined, 411],
    ['/api/pictures/shell.png', '104857600', 413],
    ['/api/reels', '1000', 405],
  ])('PUT of %s with %s bytes: %s', (path, length, status) => {
    const headers = { ...host, ...(length !== undefined && { 'content-length': length }) };
    expect(refusalOf('PUT', headers, 4640, path)?.status).toBe(status);
  });

  it('with the token of this start, or that of the last one, whole', () => {
    const [present, last] = ['a'.repeat(48), 'c'.repeat(48)];
    for (const token of [present, last]) expect(isToken(token, { present, last })).toBe(true);
    expect(isToken(last, { present, last: undefined })).toBe(false);
    for (const given of [undefined, '', 'a', 'a'.repeat(47), 'a'.repeat(49), `${'a'.repeat(47)}b`])
      expect(isToken(given, { present, last })).toBe(false);
  });
});
