import { describe, expect, it } from 'vitest';
import { changeOf, evaluate, shortNumber, timeUnits } from './expression.js';

describe('a typed number', () => {
  it.each([
    ['-40', 5, -40],
    ['−40', 5, -40],
    ['+32', 5, 37],
    ['+-32', 5, -27],
    ['*1.5', 10, 15],
    ['/4', 10, 2.5],
    ['*2+1', 10, 21],
    ['12+3*2', 0, 18],
    ['(12+3)*2', 0, 30],
    ['-(2-5)', 0, 3],
    ['50%', 0, 0.5],
    ['.5turn', 0, 180],
    ['0,25', 0, 0.25],
    [' 8 ', 0, 8],
  ])('%s at %d is %d', (text, now, value) => expect(evaluate(text, now)).toBeCloseTo(value, 12));

  it.each(['', 'x', '1 2', '3f', '(1', '1)', '1/0', '*', '+', '1..2', '2**3', 'alert(1)'])('%j is invalid', (text) =>
    expect(evaluate(text, 1)).toBeUndefined(),
  );

  it('of a time has its units', () => {
    expect(evaluate('3f', 0, timeUnits(60))).toBe(3);
    expect(evaluate('0.5s', 0, timeUnits(60))).toBe(30);
    expect(evaluate('150ms+1f', 0, timeUnits(60))).toBe(10);
    expect(evaluate('+6f', 12, timeUnits(60))).toBe(18);
    expect(evaluate('3deg', 0, timeUnits(60))).toBeUndefined();
  });

  it('is shown in four digits, three decimals at most', () =>
    expect([-0.12345, 40, 1 / 3, -45.6234, 1234.56].map(shortNumber)).toEqual([
      '−0.123',
      '40',
      '0.333',
      '−45.62',
      '1235',
    ]));
});

describe('a change of many numbers', () => {
  it.each([
    ['+8', { add: 8 }],
    ['-8', { add: -8 }],
    ['−2*3', { add: -6 }],
    ['*1.5', { times: 1.5 }],
    [' /4 ', { times: 0.25 }],
    ['+50%', { add: 0.5 }],
  ])('%j is %j', (text, change) => expect(changeOf(text)).toEqual(change));

  it.each(['', '8', '+', '/0', '*x', '%'])('%j is invalid', (text) => expect(changeOf(text)).toBeUndefined());
});
