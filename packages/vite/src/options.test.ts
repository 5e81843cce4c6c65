import { UnspoolError } from 'unspool';
import { expect, test } from 'vitest';
import { unspool } from './index.js';

test('the plugin refuses options that it does not know, and values that it cannot use', () => {
  const wrong = [null, 0, 'x', [], { tpyes: false }, { types: 'no' }, { workbench: 1 }, { types: null }];
  for (const options of wrong) expect(() => unspool(options as never), JSON.stringify(options)).toThrow(UnspoolError);
  expect(() => unspool({ tpyes: false } as never)).toThrow('unknown option "tpyes" of unspool. Did you mean "types"?');
  for (const options of [undefined, {}, { types: false }, { workbench: false }])
    expect(unspool(options).name).toBe('unspool');
});
