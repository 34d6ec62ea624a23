//! Lines joined end to end, as drawings leave them in pieces.

use kurbo::{BezPath, PathEl, Point};
use std::collections::HashMap;

/// What became of a number of lines.
pub(super) struct Joined {
    /// Lines that run back to where they began.
    pub closed: Vec<BezPath>,
    /// Lines with two loose ends.
    pub open: Vec<BezPath>,
    /// How many gaps were bridged.
    pub bridged: usize,
    /// The widest of them.
    pub widest: f64,
    /// How many lines lay on another like them and were left out.
    pub doubled: usize,
}

/// Ends nearer to each other than this are one point.
const SAME: f64 = 1e-6;

/// How many ends near an end are looked at; where more crowd, no choice is the right one.
const CROWD: usize = 24;

/// Joins lines whose ends are no further apart than `within`, the nearest first. Every line is one run;
/// lines that were closed already stay as they are.
pub(super) fn joined(runs: Vec<BezPath>, within: f64) -> Joined {
    let before = runs.len();
    let runs = without_doubles(runs);
    let doubled = before - runs.len();
    let (mut closed, open): (Vec<_>, Vec<_>) =
        runs.into_iter().partition(|run| run.elements().last() == Some(&PathEl::ClosePath));
    let ends: Vec<Point> = open.iter().flat_map(ends_of).collect();
    let partners = matched(&ends, within.max(SAME));

    let mut joined =
        Joined { closed: Vec::new(), open: Vec::new(), bridged: 0, widest: 0.0, doubled };
    let gaps = partners.iter().enumerate().filter_map(|(end, partner)| {
        let partner = (*partner)?;
        (end < partner).then(|| ends[end].distance(ends[partner]))
    });
    for gap in gaps.filter(|gap| *gap > SAME) {
        joined.bridged += 1;
        joined.widest = joined.widest.max(gap);
    }
    let mut is_used = vec![false; open.len()];
    // Chains with loose ends first, from one of them; what is left runs round.
    let loose = (0..ends.len()).filter(|end| partners[*end].is_none());
    let starts: Vec<usize> = loose.chain((0..open.len()).map(|run| 2 * run)).collect();
    for start in starts {
        if is_used[start / 2] {
            continue;
        }
        let is_loose = partners[start].is_none();
        let mut chain = BezPath::new();
        let mut entry = start;
        loop {
            let run = entry / 2;
            is_used[run] = true;
            let path =
                if entry % 2 == 0 { open[run].clone() } else { open[run].reverse_subpaths() };
            append(&mut chain, &path);
            match partners[entry ^ 1] {
                Some(next) if !is_used[next / 2] => entry = next,
                _ => break,
            }
        }
        if is_loose {
            joined.open.push(chain);
        } else {
            chain.close_path();
            closed.push(chain);
        }
    }
    joined.closed = closed;
    joined
}

/// Start and end of a run.
fn ends_of(run: &BezPath) -> [Point; 2] {
    let first = run.elements().first().and_then(PathEl::end_point).unwrap_or_default();
    let last = run.elements().last().and_then(PathEl::end_point).unwrap_or(first);
    [first, last]
}

/// Puts a run at the end of a chain, a straight line between where they do not quite meet.
fn append(chain: &mut BezPath, run: &BezPath) {
    let elements = run.elements();
    let from = match (chain.elements().last().and_then(PathEl::end_point), elements.first()) {
        (Some(last), Some(PathEl::MoveTo(first))) => {
            if last.distance(*first) > SAME {
                chain.line_to(*first);
            }
            1
        }
        _ => 0,
    };
    elements[from..].iter().for_each(|element| chain.push(*element));
}

/// For every end the one it is joined to: the nearest pairs first, every end once.
fn matched(ends: &[Point], within: f64) -> Vec<Option<usize>> {
    let cell = |point: &Point| {
        [point.x, point.y].map(|at| (at / within).floor().clamp(-9e15, 9e15) as i64)
    };
    let mut cells: HashMap<[i64; 2], Vec<usize>> = HashMap::new();
    for (end, point) in ends.iter().enumerate() {
        cells.entry(cell(point)).or_default().push(end);
    }
    let mut pairs: Vec<(f64, usize, usize)> = Vec::new();
    for (end, point) in ends.iter().enumerate() {
        let [column, row] = cell(point);
        let around = (-1..=1).flat_map(|dx| (-1..=1).map(move |dy| [column + dx, row + dy]));
        let near = around.filter_map(|at| cells.get(&at)).flatten().copied();
        // Those that came after it, so that every pair is seen once; in a crowd the first of them.
        let later = near.filter(|other| *other > end).take(CROWD);
        pairs.extend(
            later.map(|other| (point.distance(ends[other]), end, other)).filter(|p| p.0 <= within),
        );
    }
    pairs.sort_by(|a, b| a.0.total_cmp(&b.0).then(a.1.cmp(&b.1)).then(a.2.cmp(&b.2)));
    let mut partners = vec![None; ends.len()];
    for (_, a, b) in pairs {
        if partners[a].is_none() && partners[b].is_none() {
            partners[a] = Some(b);
            partners[b] = Some(a);
        }
    }
    partners
}

/// Runs without those that are the same as one before them, in whichever direction. Of a point nothing
/// is left.
fn without_doubles(runs: Vec<BezPath>) -> Vec<BezPath> {
    let mut seen = std::collections::HashSet::new();
    let is_new = |run: &BezPath| {
        let text = |path: &BezPath| super::path_text::closed_text(path);
        let (there, back) = (text(run), text(&run.reverse_subpaths()));
        seen.insert(there.clone().min(back))
    };
    let is_long = |run: &BezPath| {
        let size = kurbo::Shape::bounding_box(run);
        size.width().max(size.height()) > SAME
    };
    runs.into_iter().filter(is_long).filter(is_new).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn line(points: &[(f64, f64)]) -> BezPath {
        let mut path = BezPath::new();
        for (i, &point) in points.iter().enumerate() {
            if i == 0 { path.move_to(point) } else { path.line_to(point) }
        }
        path
    }

    #[test]
    fn four_sides_in_any_order_and_direction_close_where_their_gaps_are_small_enough() {
        let sides = vec![
            line(&[(0.0, 0.0), (10.0, 0.0)]),
            line(&[(10.0, 10.0), (0.0, 10.0)]),
            line(&[(10.0, 10.04), (10.03, 0.0)]),
            line(&[(0.0, 0.0), (0.0, 10.0)]),
        ];
        let found = joined(sides.clone(), 0.05);
        assert_eq!((found.closed.len(), found.open.len(), found.bridged), (1, 0, 2));
        assert!((found.widest - 0.04).abs() < 1e-9);
        // The square, and the sliver its crooked side adds, 0.03 · 10.04 / 2.
        assert!((kurbo::Shape::area(&found.closed[0]).abs() - 100.1506).abs() < 1e-9);
        let tighter = joined(sides, 0.035);
        assert_eq!((tighter.closed.len(), tighter.open.len()), (0, 1));
    }

    #[test]
    fn what_lies_twice_counts_once_and_three_in_a_corner_leave_one_loose() {
        let twice = vec![
            line(&[(0.0, 0.0), (10.0, 0.0), (5.0, 8.0)]),
            line(&[(5.0, 8.0), (0.0, 0.0)]),
            line(&[(0.0, 0.0), (5.0, 8.0)]),
        ];
        let found = joined(twice, 0.1);
        assert_eq!((found.closed.len(), found.open.len(), found.doubled), (1, 0, 1));
        let star = (0..3).map(|i| line(&[(0.0, 0.0), (f64::from(i), 9.0)])).collect();
        let found = joined(star, 0.1);
        assert_eq!((found.closed.len(), found.open.len()), (0, 2));
    }

    #[test]
    fn a_crowd_in_one_point_is_no_trouble() {
        let crowd: Vec<BezPath> =
            (0..20_000).map(|i| line(&[(0.0, 0.0), (1.0 + f64::from(i) * 0.05, 5.0)])).collect();
        let found = joined(crowd, 0.01);
        assert!(found.closed.is_empty());
        assert!(found.open.len() >= 10_000);
    }
}
