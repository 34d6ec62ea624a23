// The table of limits, looked up as the core looks it up.
import assert from 'node:assert/strict';
import { test } from 'node:test';
import { limitInWords, limitOf, within } from '../src/piece/limits.js';

const limit = (of, field, low, high, measure = 'length') => ({ of, field, low, high, measure, what: '' });
const LIMITS = [
  limit('*', 'depth', 0.05, 100),
  limit('hole', 'depth', 0.1, 90),
  limit('*', 'rectangle.*.*', 0, 250),
  limit('*', 'round', 0.05, 50),
  limit('*', 'turn', -360, 360, 'angle'),
  limit('rim', 'width', 0.2, 250),
];

test('the nearest limit of a field is found', () => {
  assert.equal(limitOf(LIMITS, 'hole', 'depth').high, 90);
  assert.equal(limitOf(LIMITS, 'recess', 'floor.depth').high, 100);
  // The longest name wins: a corner is no edge.
  assert.equal(limitOf(LIMITS, 'plate', 'outline.rectangle.top_left.round').high, 250);
  assert.equal(limitOf(LIMITS, 'plate', 'edges.top.round').high, 50);
  // Of its own kind only the whole name counts.
  assert.equal(limitOf(LIMITS, 'rim', 'shape.width'), null);
  assert.equal(limitOf(LIMITS, 'emblem', 'width'), null);
});

test('figures are kept within it, and it is said in the unit of the piece', () => {
  assert.equal(within(limitOf(LIMITS, 'rim', 'width'), 0), 0.2);
  assert.equal(within(limitOf(LIMITS, 'rim', 'width'), 300), 250);
  assert.equal(within(null, 300), 300);
  assert.equal(limitInWords(LIMITS[5], 'mm'), '0.2 mm to 250 mm');
  assert.equal(limitInWords(LIMITS[0], 'in'), '0.002 in to 3.937 in');
  assert.equal(limitInWords(LIMITS[4], 'mm'), '-360° to 360°');
});
