// Lengths as a person reads them.
import assert from 'node:assert/strict';
import { test } from 'node:test';
import { figure, length } from '../src/figures.js';

test('inches are fractions where they are exact, and decimals where they are not', () => {
  const inches = [3, 1, 0.125, 0.25, 1.5, 2.890625, -0.375, 0, 0.3937, 0.1, 1 / 3];
  const shown = inches.map((one) => figure(one * 25.4, 'in'));
  assert.deepEqual(shown, [
    '3',
    '1',
    '1/8',
    '1/4',
    '1 1/2',
    '2 57/64',
    '-3/8',
    '0',
    '0.3937',
    '0.1',
    '0.3333',
  ]);
  // On the millionth of a millimetre, as the core keeps them.
  assert.equal(length(3.175, 'in'), '1/8 in');
  assert.equal(length(1.5875, 'in'), '1/16 in');
});

test('millimetres have no needless zeros', () => {
  assert.deepEqual(
    [72, 4.5, 0.125, -0.0001].map((mm) => figure(mm, 'mm')),
    ['72', '4.5', '0.125', '0'],
  );
});
