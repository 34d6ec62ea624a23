// Where findings are: shapes seen from somewhere, between two heights.

/** The places of a finding. One that has none in particular is all of what it concerns: an element, or the blank. */
export function spotsOf(desk, finding) {
  if (finding.spots.length > 0) return finding.spots;
  const placed = desk.placed(finding.target);
  if (placed?.path) return [wholeElement(desk.view, placed)];
  // It would lie round everything, so it is shown when it is pointed at.
  const isPointed = desk.view.findings[desk.pointed] === finding;
  return isPointed && isHere(desk, finding) && finding.target.endsWith('/blank') ? [wholeBlank(desk)] : [];
}

function wholeElement(view, { path, face, bottom, top }) {
  const isOnChart = view.charts?.some((chart) => chart.name === face);
  return { seen: isOnChart ? face : 'sections', path, bottom, top, ends: null, isWhole: true };
}

/** The face that is looked at and what lies below. */
function wholeBlank({ view, face }) {
  const { chart, plate, mesh } = view;
  const path = mesh ? mesh.silhouette : plate.path;
  const top = mesh ? mesh.top : plate.thickness;
  return { seen: chart ? face : 'sections', path, bottom: 0, top, ends: null, isWhole: true };
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
