// Relations and positions: what a dragged element's new place is as a relation.

/** Low and high of a frame along an axis. */
export const span = (frame, axis) => (axis === 'across' ? [frame.x0, frame.x1] : [frame.y0, frame.y1]);
export const middle = (frame, axis) => {
  const [low, high] = span(frame, axis);
  return (low + high) / 2;
};

/** The axes of a face. */
export const AXES = ['across', 'up'];

const LOW = { across: 'left', up: 'bottom' };
const HIGH = { across: 'right', up: 'top' };

/** The datum names along an axis. */
export const low = (axis) => LOW[axis];
export const high = (axis) => HIGH[axis];

/**
 * The length that puts what is placed where it is along an axis, and the way it grows: the distance from the
 * datum `from`, or from what it is placed by. The server measured it.
 */
const measure = (placed, axis, from) => (placed.by ? placed.by[axis].slice(1) : placed.measured[axis][from]);

/** What that length is where the frame of what is placed is `frame`. */
export function lengthAt(placed, frame, axis, from) {
  const [length, way] = measure(placed, axis, from);
  return length + way * (middle(frame, axis) - middle(placed.frame, axis));
}

/** A frame moved along an axis by as much as makes its length `more` longer. */
export function lengthened(placed, frame, axis, from, more) {
  const by = measure(placed, axis, from)[1] * more;
  return axis === 'across' ? moved(frame, by, 0) : moved(frame, 0, by);
}

/** A frame moved by a vector. */
export const moved = (frame, dx, dy) => ({
  x0: frame.x0 + dx,
  y0: frame.y0 + dy,
  x1: frame.x1 + dx,
  y1: frame.y1 + dy,
});

/**
 * What a dragged frame could catch on along an axis, apart from what is dragged (`ids`): `{ at, side, word, from }`, where `side` is
 * the part of the frame (low, middle, high) that comes to lie at `at`, and `from` the datum the
 * place is then measured from, if it is another than before.
 */
export function catches(desk, ids, kind, frame, axis) {
  const { view } = desk;
  const { margin } = desk.component;
  const found = [];
  const [plateLow, plateHigh] = span(view.plate.frame, axis);
  const centre = (plateLow + plateHigh) / 2;
  found.push({ at: centre, side: 'middle', word: 'centre', from: 'centre' });
  if (kind !== 'hole') {
    if (view.clear)
      found.push({ at: middle(view.clear, axis), side: 'middle', word: 'clear area', from: 'clear' });
    found.push({ at: plateLow + margin, side: 'low', word: 'margin', from: low(axis) });
    found.push({ at: plateHigh - margin, side: 'high', word: 'margin', from: high(axis) });
  } else {
    // Equal margins: as far from this edge as from the nearest one across.
    const other = axis === 'across' ? 'up' : 'across';
    const [otherLow, otherHigh] = span(view.plate.frame, other);
    const distance = Math.min(middle(frame, other) - otherLow, otherHigh - middle(frame, other));
    if (distance > 0) {
      found.push({ at: plateLow + distance, side: 'middle', word: 'equal margins', from: low(axis) });
      found.push({ at: plateHigh - distance, side: 'middle', word: 'equal margins', from: high(axis) });
    }
  }
  const others = view.elements.filter(
    (placed) =>
      !ids.includes(placed.id) &&
      desk.isSeen(placed) &&
      desk.element(placed.id).place &&
      !followsOutline(desk.element(placed.id)),
  );
  found.push(
    ...equalGaps(
      others.map((placed) => placed.frame),
      frame,
      axis,
    ),
  );
  for (const placed of others) {
    const [otherLow, otherHigh] = span(placed.frame, axis);
    for (const [side, at] of [
      ['low', otherLow],
      ['middle', (otherLow + otherHigh) / 2],
      ['high', otherHigh],
    ]) {
      found.push({ at, side, word: 'in line' });
    }
  }
  return found;
}

/** Whether an element has no place of its own: what goes with the outline, or with other elements. */
export const followsOutline = (element) =>
  ['rim', 'halo', 'pattern'].includes(element.kind) ||
  element.shape?.inset !== undefined ||
  Boolean(element.course?.outline);

/**
 * Where what was placed as `begun` when a hand took hold of it is, once moved by `shift`. What is placed by
 * another element goes on from where the last answer put it: as that may move the other as well, what
 * the answer knows of the way already is left out. So a length grows by as much as the hand went, however
 * many answers come in between.
 */
export function carried(desk, begun, shift) {
  if (!begun.by) return moved(begun.frame, ...shift);
  const now = desk.placed(begun.id);
  const left = AXES.map((axis, i) => {
    const [, length, way] = now.by[axis];
    return shift[i] - way * (length - begun.by[axis][1]);
  });
  return moved(now.frame, ...left);
}

const rounded6 = (mm) => Math.round(mm * 1e6) / 1e6;

/**
 * Where a frame leaves equal gaps with two others in its row: between them, or beyond either as far
 * as they are apart.
 */
function equalGaps(frames, frame, axis) {
  const across = axis === 'across' ? 'up' : 'across';
  const [low, high] = span(frame, across);
  const inRow = frames.filter((other) => span(other, across)[0] < high && span(other, across)[1] > low);
  const row = inRow.map((other) => span(other, axis)).sort((a, b) => a[0] - b[0]);
  const size = span(frame, axis)[1] - span(frame, axis)[0];
  const found = [];
  for (let i = 0; i + 1 < row.length; i += 1) {
    const [[, from], [to, end]] = [row[i], row[i + 1]];
    const gap = to - from;
    if (gap <= 0) continue;
    if (gap > size) found.push({ at: (from + to) / 2, side: 'middle', word: 'equal gaps' });
    found.push({ at: end + gap, side: 'low', word: 'equal gaps' });
    found.push({ at: row[i][0] - gap, side: 'high', word: 'equal gaps' });
  }
  return found;
}

/** The nearest catch within `reach` mm and how far the frame must move for it. */
export function nearestCatch(all, frame, axis, reach) {
  const [frameLow, frameHigh] = span(frame, axis);
  const sides = { low: frameLow, middle: (frameLow + frameHigh) / 2, high: frameHigh };
  let best = null;
  for (const one of all) {
    const shift = one.at - sides[one.side];
    if (Math.abs(shift) <= reach && (!best || Math.abs(shift) < Math.abs(best.shift)))
      best = { ...one, shift };
  }
  return best;
}

/**
 * The edit that puts an element's frame somewhere, measured from what it is measured from now, or from the
 * datum `from`.
 */
export function placeAt(desk, id, frame, axis, from = null) {
  const placed = desk.placed(id);
  if (placed.by) {
    const [field] = placed.by[axis];
    return {
      set: { target: id, field: `place.by.${field}`, value: rounded6(lengthAt(placed, frame, axis)) },
    };
  }
  const datum = from ?? desk.element(id).place[axis].from;
  const distance = rounded6(lengthAt(placed, frame, axis, datum));
  const field = `place.${axis}`;
  return from === null
    ? { set: { target: id, field: `${field}.distance`, value: distance } }
    : { set: { target: id, field, value: { from, distance } } };
}

/** Whether something is placed by one of some elements, or by what is placed by them. */
function goesAlong(desk, id, ids) {
  const [component] = id.split('/');
  let at = desk.element(id);
  for (let steps = 0; at?.place?.by && steps < 100; steps += 1) {
    const by = `${component}/${at.place.by.element}`;
    if (ids.includes(by)) return true;
    at = desk.element(by);
  }
  return false;
}

/** Those of some elements that can be moved: they are at hand, have a place of their own, and do not go along anyway. */
export const movable = (desk, ids) =>
  ids.filter(
    (id) =>
      desk.isAtHand(id) &&
      desk.element(id).place &&
      !followsOutline(desk.element(id)) &&
      !goesAlong(desk, id, ids),
  );
