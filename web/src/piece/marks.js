// What the plan draws over the piece: centre lines, the clear area, findings, and what a drag has caught on.
import { length } from '../figures.js';
import { keyed, node, set } from '../svg.js';
import { heldBy } from './bridges.js';
import { isSpotSeen, spotsOf } from './spots.js';
import { AXES, middle } from './placing.js';
import { RULER } from './rulers.js';

/** Whether the clear area matters for what is being placed. */
const showsClear = (element) => Boolean(element?.place) && element.kind !== 'hole' && !element.course?.circle;

/** Centre lines, the clear area, and where preflight has found something. */
export function drawMarks(plan) {
  const { view, selected } = plan.desk;
  const { frame } = view.plate;
  const marks = [];
  const [left, top] = plan.px(frame.x0, frame.y1);
  const [right, bottom] = plan.px(frame.x1, frame.y0);
  const [cx, cy] = view.mesh ? plan.px(middle(frame, 'across'), middle(frame, 'up')) : plan.px(0, 0);
  marks.push({
    key: 'level',
    name: 'line',
    class: 'centre-line',
    x1: left - 14,
    x2: right + 14,
    y1: cy,
    y2: cy,
  });
  marks.push({
    key: 'upright',
    name: 'line',
    class: 'centre-line',
    x1: cx,
    x2: cx,
    y1: top - 14,
    y2: bottom + 14,
  });
  if (view.clear && selected && showsClear(plan.desk.element(selected))) {
    marks.push({ key: 'clear', name: 'rect', class: 'clear-area', ...plan.box(view.clear) });
  }
  const chosen = selected === null ? null : plan.desk.element(selected);
  if (chosen?.course?.circle && plan.desk.isSeen(plan.desk.placed(selected))) {
    const placed = plan.shownFrame(plan.desk.placed(selected));
    const [x, y] = plan.px(middle(placed, 'across'), middle(placed, 'up'));
    marks.push({
      key: 'circle',
      name: 'circle',
      class: 'clear-area',
      cx: x,
      cy: y,
      r: chosen.course.circle.radius * plan.scale,
    });
  }
  if (view.plate.guide.x1 !== view.plate.frame.x1 || view.plate.guide.y1 !== view.plate.frame.y1) {
    marks.push({ key: 'guide', name: 'rect', class: 'room', ...plan.box(view.plate.guide) });
  }
  for (const slot of (view.slots ?? []).filter((one) => one.face === plan.desk.face)) {
    marks.push({
      key: `slot ${slot.joint}`,
      name: 'path',
      class: 'slot-mouth',
      d: slot.path,
      transform: plan.transform,
    });
  }
  // The one that is pointed at lies over the others.
  const order = view.findings.map((_, index) => index);
  order.sort((a, b) => Number(a === plan.desk.pointed) - Number(b === plan.desk.pointed));
  marks.push(...order.flatMap((index) => ofFinding(plan, index)), ...asPrinted(plan), ...ofBridges(plan));
  keyed(
    plan.layers.marks,
    marks,
    (mark) => mark.key,
    (mark) => node(mark.name),
    (child, { key, name, word, ...attributes }) => {
      set(child, attributes);
      if (word !== undefined) child.textContent = word;
    },
  );
}

/** Where a finding is: its places in their own shapes, and of the one that is pointed at what was measured there. */
function ofFinding(plan, index) {
  const { desk } = plan;
  const finding = desk.view.findings[index];
  if (finding.set_aside !== null) return [];
  const isPointed = desk.pointed === index;
  const spots = spotsOf(desk, finding).filter((spot) => isSpotSeen(desk, finding, spot));
  const marks = spots.flatMap((spot, number) => {
    const key = `trouble-${index}-${number}`;
    const shape = {
      key,
      name: 'path',
      class: `trouble${spot.isWhole ? ' is-whole' : ''}${isPointed ? ' is-pointed' : ''}`,
      d: spot.path,
      transform: plan.transform,
    };
    // The worst comes first, and it is what was measured.
    const isMeasured = isPointed && spot.ends && number === 0;
    return isMeasured ? [shape, ...measuredAt(plan, key, spot.ends)] : [shape];
  });
  // What is smaller than a finger is found by a ring round it.
  const ringed = isPointed ? spots.slice(0, MOST_RINGS) : [];
  return [...marks, ...ringed.flatMap((spot, number) => ringRound(plan, index, number, spot))];
}

/** How far two points are apart that are too near to each other, as a figure beside them. */
function measuredAt(plan, key, [from, to]) {
  const flip = plan.desk.view.mirrored ? -1 : 1;
  const [[x1, y1], [x2, y2]] = [from, to].map(([x, y]) => plan.px(flip * x, y));
  const mm = Math.hypot(to[0] - from[0], to[1] - from[1]);
  const word = length(mm, plan.desk.units, plan.desk.units === 'in' ? 4 : 2);
  return [
    { key: `${key} line`, name: 'line', class: 'trouble-line', x1, y1, x2, y2 },
    {
      key: `${key} word`,
      name: 'text',
      class: 'trouble-word',
      x: (x1 + x2) / 2 + RING_PX,
      y: (y1 + y2) / 2 - RING_PX + 4,
      word,
    },
  ];
}

const RING_PX = 14;

/** So many places of one finding have a ring. */
const MOST_RINGS = 8;

function ringRound(plan, index, number, { ends, isWhole }) {
  if (isWhole || !ends) return [];
  const flip = plan.desk.view.mirrored ? -1 : 1;
  const [x, y] = [0, 1].map((axis) => (ends[0][axis] + ends[1][axis]) / 2);
  const [cx, cy] = plan.px(flip * x, y);
  return [{ key: `ring-${index}-${number}`, name: 'circle', class: 'trouble-ring', cx, cy, r: RING_PX }];
}

/** What is lost in print, and what runs together. */
function asPrinted(plan) {
  const { desk } = plan;
  const seen = (desk.printed ?? []).filter(({ target, face }) => {
    const placed = desk.placed(target);
    return placed ? desk.isSeen(placed) : target === desk.view.component && face === desk.face;
  });
  return seen.flatMap(({ target, lost, closed }) =>
    [
      ['lost-in-print', lost],
      ['closed-in-print', closed],
    ].map(([kind, d]) => ({
      key: `${kind} ${target}`,
      name: 'path',
      class: kind,
      d,
      transform: plan.transform,
    })),
  );
}

/** Bridges that lie lower than the face, and the one that is pointed at. */
function ofBridges(plan) {
  const { desk } = plan;
  const { tones, plate, elements } = desk.view;
  const low = elements.filter((placed) => placed.bridging?.low && desk.isSeen(placed));
  const marks = low.map((placed) => ({
    key: `low-bridge ${placed.id}`,
    name: 'path',
    class: 'low-bridge',
    d: placed.bridging.low,
    fill: tones[plate.shown].sunk,
    transform: plan.transform,
  }));
  const held = heldBy(desk, desk.selected);
  const pointed = held?.bridging.bridges[desk.bridge];
  const isHere = desk.selected === null || desk.isSeen(desk.placed(desk.selected));
  if (!pointed || !isHere) return marks;
  const [[x1, y1], [x2, y2]] = pointed.ends.map((end) => plan.px(...end));
  const width = held.width * plan.scale;
  return [
    ...marks,
    { key: 'bridge', name: 'line', class: 'pointed-bridge', x1, y1, x2, y2, 'stroke-width': width },
  ];
}

export function drawGuides(plan) {
  const guides = [];
  const [width, height] = [plan.host.clientWidth, plan.host.clientHeight];
  for (const axis of AXES) {
    const caught = plan.drag?.caught?.[axis];
    if (!caught) continue;
    const [x, y] = plan.px(caught.at, caught.at);
    const line =
      axis === 'across' ? { x1: x, x2: x, y1: RULER, y2: height } : { x1: RULER, x2: width, y1: y, y2: y };
    guides.push({
      key: axis,
      line,
      word: caught.word,
      at: axis === 'across' ? [x + 6, RULER + 16] : [RULER + 8, y - 6],
    });
  }
  keyed(
    plan.layers.guides,
    guides,
    (guide) => guide.key,
    () => node('g', {}, node('line', { class: 'guide' }), node('text', { class: 'guide-word' })),
    (group, guide) => {
      set(group.children[0], guide.line);
      set(group.children[1], { x: guide.at[0], y: guide.at[1] });
      group.children[1].textContent = guide.word;
    },
  );
}
