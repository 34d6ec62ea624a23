// What a drawing is and how it changes: a plain document, never altered, always made anew. Lengths in mm,
// y upwards. What its lines look like and what they enclose is for the core.

export const empty = () => ({ kalotype_drawing: 1, mirror: 'none', figures: [] });

const corner = (at) => ({ at, kind: { corner: 0 } });

/** A figure with something changed. */
const changed = (drawing, figure, change) => ({
  ...drawing,
  figures: drawing.figures.map((one, i) => (i === figure ? change(one) : one)),
});

/** The points of a figure that can be taken hold of. */
export function pointsOf({ line }) {
  if (line.run) return line.run.points.map((point) => point.at);
  if (line.circle) return line.circle;
  return [];
}

export const isRun = (figure) => Boolean(figure?.line.run);
export const isOpen = (figure) => isRun(figure) && !figure.line.run.closed;

const withPoints = (figure, change) => {
  const { line } = figure;
  if (line.run) return { ...figure, line: { run: { ...line.run, points: change(line.run.points) } } };
  if (!line.circle) return figure;
  const points = change(line.circle.map((at) => ({ at })));
  return { ...figure, line: { circle: points.map((point) => point.at) } };
};

/** A point where it is moved to. */
export const moved = (drawing, { figure, point }, at) =>
  changed(drawing, figure, (one) =>
    withPoints(one, (points) => points.map((other, i) => (i === point ? { ...other, at } : other))),
  );

/** A new run that begins at a point, and where that is. */
export const begun = (drawing, at) => [
  { ...drawing, figures: [...drawing.figures, { line: { run: { points: [corner(at)], closed: false } } }] },
  { figure: drawing.figures.length, point: 0 },
];

/** A point put into a run before the place it has afterwards. */
export const inserted = (drawing, { figure, point }, at) =>
  changed(drawing, figure, (one) => withPoints(one, (points) => points.toSpliced(point, 0, corner(at))));

/** A new figure. */
export const added = (drawing, line) => ({ ...drawing, figures: [...drawing.figures, { line }] });

/** A point taken away; with the last but one of a run, or of a circle, the figure goes. */
export function removed(drawing, { figure, point }) {
  const one = drawing.figures[figure];
  const stays = isRun(one) && one.line.run.points.length > 2;
  if (!stays) return { ...drawing, figures: drawing.figures.toSpliced(figure, 1) };
  return changed(drawing, figure, () => withPoints(one, (points) => points.toSpliced(point, 1)));
}

export const closed = (drawing, figure, isClosed) =>
  changed(drawing, figure, (one) => ({ ...one, line: { run: { ...one.line.run, closed: isClosed } } }));

/** How the line passes a point: `corner`, `smooth` or `arc`; a corner with a radius. */
export const passed = (drawing, { figure, point }, kind, radius = 0) =>
  changed(drawing, figure, (one) =>
    withPoints(one, (points) =>
      points.map((other, i) =>
        i === point ? { ...other, kind: kind === 'corner' ? { corner: radius } : kind } : other,
      ),
    ),
  );

/** The kind of a point and the radius of its corner. */
export function kindOf(drawing, { figure, point }) {
  const kind = drawing.figures[figure]?.line.run?.points[point]?.kind;
  return kind?.corner === undefined ? [kind ?? '', 0] : ['corner', kind.corner];
}

/** A line gets a width, or is the edge of an area where that is null. */
export const widened = (drawing, figure, width) =>
  changed(drawing, figure, ({ width: _, ...rest }) => (width === null ? rest : { ...rest, width }));

/** A line ends in half discs, or in half squares. */
export const ended = (drawing, figure, isSquare) =>
  changed(drawing, figure, ({ square: _, ...rest }) => (isSquare ? { ...rest, square: true } : rest));

/** A run in two at a point, or a closed one opened there. Both have the point. */
export function split(drawing, { figure, point }) {
  const one = drawing.figures[figure];
  const { points, closed: isClosed } = one.line.run;
  const part = (some) => ({ ...one, line: { run: { points: some, closed: false } } });
  const parts = isClosed
    ? [[...points.slice(point), ...points.slice(0, point + 1)]]
    : [points.slice(0, point + 1), points.slice(point)];
  return { ...drawing, figures: drawing.figures.toSpliced(figure, 1, ...parts.map(part)) };
}

/** Whether a run can be split at a point: anywhere but at its ends. */
export function canSplit(drawing, { figure, point }) {
  const run = drawing.figures[figure]?.line.run;
  return Boolean(run) && (run.closed || (point > 0 && point < run.points.length - 1));
}

const same = ([ax, ay], [bx, by], within) => Math.hypot(ax - bx, ay - by) <= within;

/** Ends nearer than this become one point when they are welded, in mm; others get a line between them. */
const ONE_POINT = 0.5;

/**
 * The end at a point joined to the nearest other end: of another run, which makes one of both, or of its own,
 * which closes it. Also the point afterwards; nothing where there is no other end.
 */
export function welded(drawing, held) {
  if (!isEnd(drawing, held)) return null;
  const { figure, point } = held;
  const at = pointsOf(drawing.figures[figure])[point];
  const ends = drawing.figures.flatMap((one, i) =>
    isOpen(one) ? [0, one.line.run.points.length - 1].map((k) => ({ figure: i, point: k })) : [],
  );
  const distance = (end) => {
    const [x, y] = pointsOf(drawing.figures[end.figure])[end.point];
    return Math.hypot(x - at[0], y - at[1]);
  };
  const others = ends.filter((end) => end.figure !== figure || end.point !== point);
  const [other] = others.sort((a, b) => distance(a) - distance(b));
  if (!other || pointsOf(drawing.figures[figure]).length < 2) return null;
  const own = drawing.figures[figure];
  if (other.figure === figure) {
    if (own.line.run.points.length < 3) return null;
    const meets = same(own.line.run.points[0].at, own.line.run.points.at(-1).at, ONE_POINT);
    const points = meets ? own.line.run.points.slice(0, -1) : own.line.run.points;
    const whole = changed(drawing, figure, (one) => ({ ...one, line: { run: { points, closed: true } } }));
    return [whole, { figure, point: Math.min(point, points.length - 1) }];
  }
  // The own run up to its end, then the other from its end on.
  const first = point === 0 ? own.line.run.points.toReversed() : own.line.run.points;
  const theirs = drawing.figures[other.figure].line.run.points;
  const second = other.point === 0 ? theirs : theirs.toReversed();
  const meets = same(first.at(-1).at, second[0].at, ONE_POINT);
  const points = [...first, ...(meets ? second.slice(1) : second)];
  const joined = { ...own, line: { run: { points, closed: false } } };
  const figures = drawing.figures.with(figure, joined).toSpliced(other.figure, 1);
  return [
    { ...drawing, figures },
    { figure: figures.indexOf(joined), point: first.length - 1 },
  ];
}

/** Whether a point is an end of an open run. */
export function isEnd(drawing, { figure, point }) {
  const one = drawing.figures[figure];
  return isOpen(one) && (point === 0 || point === one.line.run.points.length - 1);
}

const between = (a, b, t) => [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t];

/**
 * A scribble as a run of smooth points that can be moved. `curve` is what the core made of it, as a path of
 * straight and cubic runs: their ends are its points, and the middles of the curves.
 */
export function pointed(drawing, figure, curve) {
  const round = ([x, y]) => [Math.round(x * 1e3) / 1e3, Math.round(y * 1e3) / 1e3];
  const points = [];
  for (const [, letter, figures] of curve.matchAll(/([MLC])([^MLCZ]*)/g)) {
    const all = (figures.match(/-?[\d.]+(?:e-?\d+)?/g) ?? []).map(Number);
    const pairs = Array.from({ length: all.length / 2 }, (_, i) => [all[2 * i], all[2 * i + 1]]);
    if (letter === 'C') {
      const [a, b, c, d] = [points.at(-1), ...pairs];
      const [ab, bc, cd] = [between(a, b, 0.5), between(b, c, 0.5), between(c, d, 0.5)];
      points.push(between(between(ab, bc, 0.5), between(bc, cd, 0.5), 0.5));
    }
    points.push(pairs.at(-1));
  }
  const { closed: isClosed } = drawing.figures[figure].line.scribble;
  if (isClosed && points.length > 3 && same(points[0], points.at(-1), 1e-2)) points.pop();
  const run = { points: points.map((at) => ({ at: round(at), kind: 'smooth' })), closed: isClosed };
  return changed(drawing, figure, (one) => ({ ...one, line: { run } }));
}

export const smoothed = (drawing, figure, smooth) =>
  changed(drawing, figure, (one) => ({ ...one, line: { scribble: { ...one.line.scribble, smooth } } }));

/** All of it larger or smaller, across and up; radii and widths as the smaller of the two. */
export function scaled(drawing, across, up) {
  const at = ([x, y]) => [x * across, y * up];
  const least = Math.min(across, up);
  const line = (one) => {
    if (one.run)
      return {
        run: {
          ...one.run,
          points: one.run.points.map((point) => ({
            at: at(point.at),
            kind: point.kind.corner === undefined ? point.kind : { corner: point.kind.corner * least },
          })),
        },
      };
    if (one.circle) return { circle: one.circle.map(at) };
    if (one.touching) return { touching: one.touching.map((ends) => ends.map(at)) };
    return { scribble: { ...one.scribble, points: one.scribble.points.map(at) } };
  };
  const figure = (one) => ({
    ...one,
    line: line(one.line),
    ...(one.width === undefined ? {} : { width: Math.min(50, Math.max(0.2, one.width * least)) }),
  });
  return { ...drawing, figures: drawing.figures.map(figure) };
}

/** The point of a run before another, round its closing; nothing where there is none. */
export function before(drawing, { figure, point }) {
  const run = drawing.figures[figure]?.line.run;
  if (!run || run.points.length < 2 || (point === 0 && !run.closed)) return null;
  return run.points.at(point - 1).at;
}

/** The point of straight lines that is nearest to a place, within reach. */
function onEdge([x, y], edges, reach) {
  let [best, least] = [null, reach];
  for (const [a, b] of edges) {
    const [ux, uy] = [b[0] - a[0], b[1] - a[1]];
    const share = ((x - a[0]) * ux + (y - a[1]) * uy) / (ux * ux + uy * uy || 1);
    const on = between(a, b, Math.min(1, Math.max(0, share)));
    const distance = Math.hypot(on[0] - x, on[1] - y);
    if (distance < least) [best, least] = [on, distance];
  }
  return best && best.map((mm) => Math.round(mm * 1e4) / 1e4);
}

/**
 * Where a point comes to lie that is meant to be at `at`: on another point within reach, on an edge of what is
 * drawn on, on a centre line, on the grid; in that order.
 */
export function caught(at, others, { reach, grid, edges = [] }) {
  const near = others
    .map((other) => [Math.hypot(other[0] - at[0], other[1] - at[1]), other])
    .filter(([distance]) => distance < reach)
    .sort((a, b) => a[0] - b[0]);
  if (near.length > 0) return [...near[0][1]];
  const edge = onEdge(at, edges, reach / 2);
  if (edge) return edge;
  const along = (value) => {
    if (Math.abs(value) < reach) return 0;
    const step = grid > 0 ? grid : 0.1;
    return Math.round(Math.round(value / step) * step * 1e4) / 1e4;
  };
  return at.map(along);
}

/**
 * The straight way from point to point of a run that is nearest to a place, as the place a point there gets;
 * nothing beyond reach.
 */
export function nearestWay(drawing, [x, y], reach) {
  let best = null;
  drawing.figures.forEach((one, figure) => {
    if (!isRun(one)) return;
    const { points, closed: isClosed } = one.line.run;
    const last = isClosed ? points.length : points.length - 1;
    for (let i = 0; i < last; i += 1) {
      const [a, b] = [points[i].at, points[(i + 1) % points.length].at];
      const [ux, uy] = [b[0] - a[0], b[1] - a[1]];
      const share = ((x - a[0]) * ux + (y - a[1]) * uy) / (ux * ux + uy * uy || 1);
      const t = Math.min(1, Math.max(0, share));
      const distance = Math.hypot(a[0] + t * ux - x, a[1] + t * uy - y);
      if (distance < (best?.distance ?? reach)) best = { figure, point: i + 1, distance, ends: [a, b] };
    }
  });
  return best;
}
