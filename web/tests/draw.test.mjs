// How a drawing changes.
import assert from 'node:assert/strict';
import { test } from 'node:test';
import {
  added,
  before,
  begun,
  canSplit,
  caught,
  closed,
  empty,
  inserted,
  kindOf,
  moved,
  nearestWay,
  passed,
  pointed,
  pointsOf,
  removed,
  scaled,
  split,
  welded,
  widened,
} from '../src/draw/document.js';
import { ringsOf, sharpPoints } from '../src/draw/face.js';

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

/** A wave of four points. */
function wave(at = 0) {
  let [drawing, end] = begun(empty(), [at, 0]);
  for (let i = 1; i < 4; i += 1) {
    end = { figure: 0, point: i };
    drawing = inserted(drawing, end, [at + 10 * i, 5 * (i % 2)]);
  }
  return drawing;
}

test('a run is split in two that meet, and welded into what it was', () => {
  const whole = wave();
  assert.equal(canSplit(whole, { figure: 0, point: 0 }), false);
  assert.equal(canSplit(whole, { figure: 0, point: 2 }), true);
  const two = split(whole, { figure: 0, point: 2 });
  assert.deepEqual(
    two.figures.map((figure) => pointsOf(figure).length),
    [3, 2],
  );
  const [one, held] = welded(two, { figure: 0, point: 2 });
  assert.deepEqual(one.figures.map(pointsOf), whole.figures.map(pointsOf));
  assert.deepEqual(held, { figure: 0, point: 2 });
  // From either side, and whichever way round the other runs.
  const turned = {
    ...two,
    figures: two.figures.with(1, {
      line: { run: { points: two.figures[1].line.run.points.toReversed(), closed: false } },
    }),
  };
  assert.equal(welded(turned, { figure: 0, point: 2 })[0].figures[0].line.run.points.length, 4);
  assert.equal(welded(two, { figure: 1, point: 0 })[0].figures[0].line.run.points.length, 4);
  // A closed one is opened: its first point is its last as well; welded it is closed again.
  const opened = split(triangle(), { figure: 0, point: 1 });
  assert.deepEqual(pointsOf(opened.figures[0])[0], pointsOf(opened.figures[0])[3]);
  const [again] = welded(opened, { figure: 0, point: 0 });
  assert.equal(again.figures[0].line.run.closed, true);
  assert.equal(pointsOf(again.figures[0]).length, 3);
});

test('ends far apart are joined by a line, and a lone line of two points by nothing', () => {
  const far = { ...wave(), figures: [...wave().figures, ...wave(50).figures] };
  const [joined, held] = welded(far, { figure: 0, point: 3 });
  assert.equal(pointsOf(joined.figures[0]).length, 8);
  assert.deepEqual(pointsOf(joined.figures[held.figure])[held.point], [30, 5]);
  const short = inserted(begun(empty(), [0, 0])[0], { figure: 0, point: 1 }, [9, 0]);
  assert.equal(welded(short, { figure: 0, point: 1 }), null);
});

test('a scribble becomes points on what the core made of it', () => {
  const drawn = added(empty(), { scribble: { points: [], smooth: 1, closed: false } });
  const curve = 'M0 0C0 10 20 10 20 0L30 -5';
  const [figure] = pointed(drawn, 0, curve).figures;
  // The middle of the curve: an eighth of its ends and three eighths of what lies between.
  assert.deepEqual(pointsOf(figure), [
    [0, 0],
    [10, 7.5],
    [20, 0],
    [30, -5],
  ]);
});

test('points catch on corners of the face before its edges, and on those before the grid', () => {
  const [ring] = ringsOf('M0 0L20 0L20 -10L10 -10.1L0 -10Z');
  const points = sharpPoints(ring);
  assert.equal(points.length, 4);
  const edges = ring.map((at, i) => [at, ring[(i + 1) % ring.length]]);
  const place = { reach: 1, grid: 5, edges };
  assert.deepEqual(caught([19.6, 9.7], points, place), [20, 10]);
  assert.deepEqual(caught([7.3, 0.3], points, place), [7.3, 0]);
  assert.deepEqual(caught([7.3, 4.2], points, place), [5, 5]);
  assert.deepEqual(ringsOf('M1 2L3 4Z', true), [
    [
      [-1, -2],
      [-3, -4],
    ],
  ]);
});
