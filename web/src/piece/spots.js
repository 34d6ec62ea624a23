// Where findings are: shapes seen from somewhere, between two heights.

/**
 * The places of a finding. One that concerns an element as a whole is that element; of what is said of the blank and
 * has no place there is none.
 */
export function spotsOf(desk, finding) {
  if (finding.spots.length > 0) return finding.spots;
  const placed = desk.placed(finding.target);
  if (!placed?.path) return [];
  const isOnChart = desk.view.charts?.some((chart) => chart.name === placed.face);
  const { path, bottom, top } = placed;
  return [{ seen: isOnChart ? placed.face : 'sections', path, bottom, top, ends: null, isWhole: true }];
}

/** Whether a finding is of the component that is looked at. */
export const isHere = (desk, { target }) => target.split('/')[0] === desk.view.component;

/** Whether a place can be seen on the face that is looked at: what is on the other side of a plate is not. */
export function isSpotSeen(desk, finding, { seen }) {
  if (!isHere(desk, finding)) return false;
  if (desk.view.chart || seen !== 'sections') return seen === desk.face;
  const placed = desk.placed(finding.target);
  return placed === null || desk.isSeen(placed);
}

/** The rings of a path of straight lines, as lists of points; y upwards. */
export function ringsOf(path) {
  return path
    .split('M')
    .slice(1)
    .map((ring) => {
      const figures = ring.match(/-?\d+(?:\.\d+)?(?:e-?\d+)?/g).map(Number);
      const points = [];
      for (let i = 0; i + 1 < figures.length; i += 2) points.push([figures[i], -figures[i + 1]]);
      return points;
    });
}
