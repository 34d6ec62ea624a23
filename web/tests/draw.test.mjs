// How a drawing changes.
import assert from 'node:assert/strict';
import { test } from 'node:test';
import {
  before,
  begun,
  caught,
  closed,
  empty,
  inserted,
  kindOf,
  moved,
  nearestWay,
  passed,
  pointsOf,
  removed,
  scaled,
  widened,
} from '../src/draw/document.js';

/** A triangle of 30 × 40 mm, drawn point by point. */
function triangle() {
  let [drawing] = begun(empty(), [0, 0]);
  drawing = inserted(drawing, { figure: 0, point: 1 }, [30, 0]);
  return closed(inserted(drawing, { figure: 0, point: 2 }, [0, 40]), 0, true);
}

test('points are put in, moved, passed otherwise and taken away, and nothing before is altered', () => {
  const first = triangle();
  const second = moved(first, { figure: 0, point: 1 }, [35, 5]);
  assert.deepEqual(pointsOf(first.figures[0])[1], [30, 0]);
  assert.deepEqual(pointsOf(second.figures[0])[1], [35, 5]);
  const third = passed(second, { figure: 0, point: 1 }, 'corner', 3);
  assert.deepEqual(kindOf(third, { figure: 0, point: 1 }), ['corner', 3]);
  assert.deepEqual(kindOf(passed(third, { figure: 0, point: 1 }, 'smooth'), { figure: 0, point: 1 }), [
    'smooth',
    0,
  ]);
  assert.equal(pointsOf(removed(third, { figure: 0, point: 0 }).figures[0]).length, 2);
  const gone = removed(removed(third, { figure: 0, point: 0 }), { figure: 0, point: 0 });
  assert.equal(gone.figures.length, 0);
});

test('the point before goes round where a line is closed', () => {
  assert.deepEqual(before(triangle(), { figure: 0, point: 0 }), [0, 40]);
  assert.equal(before(closed(triangle(), 0, false), { figure: 0, point: 0 }), null);
});

test('points are caught by others, by the centre lines and by the grid, in that order', () => {
  const on = (at, grid) => caught(at, [[10.2, 5.1]], { reach: 1, grid });
  assert.deepEqual(on([10.6, 5.6], 1), [10.2, 5.1]);
  assert.deepEqual(on([0.7, 7.4], 5), [0, 5]);
  assert.deepEqual(on([3.34, -7.46], 0), [3.3, -7.5]);
});

test('the way a point is put into is the nearest, and none beyond reach', () => {
  const near = nearestWay(triangle(), [15, 21], 2);
  assert.deepEqual([near.figure, near.point], [0, 2]);
  assert.deepEqual(near.ends, [
    [30, 0],
    [0, 40],
  ]);
  assert.equal(nearestWay(triangle(), [15, 28], 2), null);
});

test('all of it is made larger, with its radii and widths', () => {
  const drawing = widened(passed(triangle(), { figure: 0, point: 1 }, 'corner', 3), 0, 2);
  const twice = scaled(drawing, 2, 2);
  assert.deepEqual(pointsOf(twice.figures[0])[2], [0, 80]);
  assert.deepEqual(kindOf(twice, { figure: 0, point: 1 }), ['corner', 6]);
  assert.equal(twice.figures[0].width, 4);
  assert.deepEqual(pointsOf(scaled(drawing, 1, 0.5).figures[0])[2], [0, 20]);
  assert.equal(widened(drawing, 0, null).figures[0].width, undefined);
});
