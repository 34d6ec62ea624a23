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

/**
 * Where a point comes to lie that is meant to be at `at`: on another point within reach, on a centre line, on
 * the grid; the nearer two in that order.
 */
export function caught(at, others, { reach, grid }) {
  const near = others
    .map((other) => [Math.hypot(other[0] - at[0], other[1] - at[1]), other])
    .filter(([distance]) => distance < reach)
    .sort((a, b) => a[0] - b[0]);
  if (near.length > 0) return [...near[0][1]];
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
