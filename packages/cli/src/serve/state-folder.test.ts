import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, expect, it, vi } from 'vitest';
import { scratchFolder } from '../../test/command.js';
import { newTokens, stateFolder } from './state-folder.js';

const scratch = scratchFolder();
afterEach(() => vi.unstubAllEnvs());

it('is not in the folder of a game, even when the variable is set but empty', () => {
  vi.stubEnv('HOME', join(scratch, 'home'));
  for (const empty of ['', undefined]) {
    for (const name of ['UNSPOOL_STATE', 'XDG_STATE_HOME', 'LOCALAPPDATA']) vi.stubEnv(name, empty);
    expect(stateFolder()).toBe(join(scratch, 'home', '.local', 'state', 'unspool'));
  }
  vi.stubEnv('XDG_STATE_HOME', join(scratch, 'xdg'));
  expect(stateFolder()).toBe(join(scratch, 'xdg', 'unspool'));
  expect(existsSync(join(scratch, 'xdg', 'unspool', 'journals'))).toBe(true);
});

it('has a new token for each start, and that of the start before', () => {
  const folder = join(scratch, 'xdg', 'unspool');
  const [one, two, three] = [newTokens(folder), newTokens(folder), newTokens(folder)];
  expect(one.last).toBeUndefined();
  expect([two.last, three.last]).toEqual([one.present, two.present]);
  expect(new Set([one, two, three].map(({ present }) => present)).size).toBe(3);
});

it('that cannot be created is reported, and does not retry forever', () => {
  vi.stubEnv('UNSPOOL_STATE', '/proc/nothing');
  expect(() => stateFolder()).toThrow('could not be created');
});
