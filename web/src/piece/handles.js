// Handles of the plan: what can be pulled on what is selected, and what a pull changes.
import { rounded } from '../figures.js';
import { bridgeHandles } from './bridges.js';
import { newGesture } from './desk.js';
import { CORNERS, cornersOf } from './paths.js';
import { AXES, followsOutline, high, low, middle, span } from './placing.js';

/** The handles of what is selected: `{ key, at, cursor, pull }`, where `pull(mm, event)` makes it so. */
export function handlesOf(plan) {
  const { desk } = plan;
  if (desk.others.size > 0) return [];
  if (desk.selected === null)
    return desk.isPlate ? [...plateHandles(desk), ...bridgeHandles(plan, null)] : standingHandles(desk);
  const placed = desk.placed(desk.selected);
  if (!desk.isAtHand(placed.id) || placed.frame.x1 <= placed.frame.x0) return [];
  const element = desk.element(placed.id);
  const frame = plan.shownFrame(placed);
  if (element.kind === 'loop') return loopHandles(desk, element, frame);
  if (followsOutline(element)) return [...insetHandles(desk, element), ...bridgeHandles(plan, placed.id)];
  if (element.kind === 'hole') return holeHandles(desk, element, frame);
  // While it is dragged its bridges are where they were.
  const bridges = plan.drag?.id === placed.id ? [] : bridgeHandles(plan, placed.id);
  if (element.course?.circle) return [...circleHandles(desk, element, placed, frame), ...bridges];
  if (element.size === 'clear-area') return bridges;
  return [...boxHandles(desk, element, frame), ...bridges];
}

/**
 * One pull after another is undone together, and a value that does not go is simply not taken. A figure
 * stays within its limits.
 */
function setter(desk, target) {
  const gesture = newGesture();
  return (field, value) => {
    const next = typeof value === 'number' ? desk.within(target, field, value) : value;
    return desk.set(target, field, next, { gesture, refused: () => {} });
  };
}

/** The plate grows about its centre, so a pull changes both sides alike. */
function plateHandles(desk) {
  const { frame } = desk.view.plate;
  const { outline } = desk.plate;
  if (outline.contour) return [];
  const { regular } = outline.polygon ?? {};
  if (regular) {
    // One figure gives it: it grows as a whole.
    const [[by, now]] = Object.entries(regular);
    const half = (frame.x1 - frame.x0) / 2;
    const start = () => {
      const set = setter(desk, 'blank');
      return ([x]) => set(`outline.polygon.regular.${by}`, rounded((now * Math.abs(x)) / half, desk.units));
    };
    return [{ key: 'plate-e', at: [frame.x1, 0], cursor: 'ew-resize', start }];
  }
  const size = (mm) => rounded(2 * Math.abs(mm), desk.units);
  const pulls = (fields) => () => {
    const set = setter(desk, 'blank');
    return ([x, y]) => fields.forEach((field) => set(field, size(field === 'width' ? x : y)));
  };
  // What grows by itself is not pulled.
  const fixed = ['width', 'height'].filter((side) => !desk.blank.grows?.[side]);
  const found = [
    { key: 'plate-e', at: [frame.x1, 0], cursor: 'ew-resize', start: pulls(['width']) },
    { key: 'plate-n', at: [0, frame.y1], cursor: 'ns-resize', start: pulls(['height']) },
    { key: 'plate-ne', at: [frame.x1, frame.y1], cursor: 'nesw-resize', start: pulls(['width', 'height']) },
  ].filter(
    ({ key }) => fixed.length === 2 || fixed.includes({ 'plate-e': 'width', 'plate-n': 'height' }[key]),
  );
  const corners = cornersOf(outline);
  const kinds = new Set(corners.map((corner) => Object.keys(corner)[0]));
  const [first] = corners;
  if (corners.length > 0 && kinds.size === 1 && typeof first === 'object') {
    const [kind] = kinds;
    const [now] = Object.values(first);
    found.push({
      key: 'plate-corner',
      at: [frame.x0 + now, frame.y1],
      cursor: 'ew-resize',
      round: true,
      start: () => {
        const set = setter(desk, 'blank');
        return ([x]) => {
          const most = Math.min(desk.plate.width, desk.plate.height) / 2;
          const next = {
            [kind]: Math.min(most, Math.max(0, rounded(x - desk.view.plate.frame.x0, desk.units))),
          };
          const { rounding } = desk.plate.outline.rectangle;
          const all = Object.fromEntries(CORNERS.map((name) => [name, next]));
          set('outline.rectangle', { ...all, rounding });
        };
      },
    });
  }
  return found;
}

/** The fields of the blank that the face shown is as wide and as high as. */
export const sidesOf = (desk) => desk.view.faces.find((one) => one.name === desk.face)?.sides ?? [];

/** The face grows about its middle, and what it is a part of by as much. */
function standingHandles(desk) {
  const { frame } = desk.view.plate;
  const start = (field, index) => () => {
    const set = setter(desk, 'blank');
    const before = desk.value('blank', field);
    const side = index === 0 ? frame.x1 - frame.x0 : frame.y1 - frame.y0;
    return (at) => set(field, rounded(before + 2 * Math.abs(at[index]) - side, desk.units));
  };
  const places = [
    ['blank-e', [frame.x1, 0], 'ew-resize'],
    ['blank-n', [0, frame.y1], 'ns-resize'],
  ];
  return sidesOf(desk).flatMap((field, index) => {
    const [key, at, cursor] = places[index];
    return field ? [{ key, at, cursor, start: start(field, index) }] : [];
  });
}

/** The inset of a rim or a field, and the width of a rim, at the left end of the plate. */
function insetHandles(desk, element) {
  if (element.kind !== 'rim' && element.shape?.inset === undefined) return [];
  const left = desk.view.plate.frame.x0;
  const field = element.kind === 'rim' ? 'inset' : 'shape.inset';
  const inset = desk.value(element.id, field);
  const from = (start) => (target) => () => {
    const set = setter(desk, element.id);
    return ([x]) => set(target, rounded(x - start, desk.units));
  };
  const found = [{ key: 'inset', at: [left + inset, 0], cursor: 'ew-resize', start: from(left)(field) }];
  if (element.kind === 'rim') {
    found.push({
      key: 'rim-width',
      at: [left + inset + element.width, 0],
      cursor: 'ew-resize',
      start: from(left + inset)('width'),
    });
  }
  return found;
}

function loopHandles(desk, element, frame) {
  const [x, y] = AXES.map((axis) => middle(frame, axis));
  const inner = element.inside / 2;
  const distance = ([px, py]) => Math.hypot(px - x, py - y);
  // A ribbon's loop is longer than it is deep; only its size across is pulled.
  if (element.ribbon !== null) return [];
  return [
    {
      key: 'loop-inside',
      at: [x + inner, y],
      cursor: 'ew-resize',
      round: true,
      start: () => {
        const set = setter(desk, element.id);
        return (at) => set('inside', rounded(2 * distance(at), desk.units));
      },
    },
    {
      key: 'loop-wall',
      at: [x, y + inner + element.wall],
      cursor: 'ns-resize',
      start: () => {
        const set = setter(desk, element.id);
        return (at) => set('wall', rounded(distance(at) - inner, desk.units));
      },
    },
  ];
}

function holeHandles(desk, element, frame) {
  const [x, y] = AXES.map((axis) => middle(frame, axis));
  const places = { e: [frame.x1, y], w: [frame.x0, y], n: [x, frame.y1], s: [x, frame.y0] };
  const start = () => {
    const set = setter(desk, element.id);
    return (at) => set('diameter', rounded(2 * Math.hypot(at[0] - x, at[1] - y), desk.units));
  };
  return Object.entries(places).map(([key, at]) => ({ key, at, cursor: `${key}-resize`, start }));
}

/** The radius at the middle of the words, and their turn at the end. */
function circleHandles(desk, element, placed, frame) {
  const { circle } = element.course;
  const centre = AXES.map((axis) => middle(frame, axis));
  const at = (degrees, radius) => {
    const angle = (degrees * Math.PI) / 180;
    return [centre[0] + radius * Math.cos(angle), centre[1] + radius * Math.sin(angle)];
  };
  const polar = ([x, y]) => [
    Math.hypot(x - centre[0], y - centre[1]),
    (Math.atan2(y - centre[1], x - centre[0]) * 180) / Math.PI,
  ];
  const half = placed.span / 2 + 4;
  const end = circle.middle + (circle.reading === 'clockwise' ? -half : half);
  return [
    {
      key: 'circle-radius',
      at: at(circle.middle, circle.radius),
      cursor: 'move',
      start: () => {
        const set = setter(desk, element.id);
        return (to) => set('course.circle.radius', rounded(polar(to)[0], desk.units));
      },
    },
    {
      key: 'circle-turn',
      at: at(end, circle.radius),
      cursor: 'grab',
      round: true,
      start: () => {
        const set = setter(desk, element.id);
        return (to, event) => {
          const turned = circle.middle + polar(to)[1] - end;
          const caught = Math.round(turned / 15) * 15;
          const next = !event.altKey && Math.abs(caught - turned) < 4 ? caught : Math.round(turned * 10) / 10;
          set('course.circle.middle', ((next + 540) % 360) - 180);
        };
      },
    },
  ];
}

/** Corners keep the proportions; sides stretch, where the shape is not turned. */
function boxHandles(desk, element, frame) {
  const [x, y] = AXES.map((axis) => middle(frame, axis));
  const corners = {
    ne: [frame.x1, frame.y1],
    nw: [frame.x0, frame.y1],
    se: [frame.x1, frame.y0],
    sw: [frame.x0, frame.y0],
  };
  const sides = { e: [frame.x1, y], w: [frame.x0, y], n: [x, frame.y1], s: [x, frame.y0] };
  const turn = element.turn ?? element.shape?.own?.turn;
  const isRegular = Boolean(element.shape?.own?.outline.polygon?.regular);
  const stretches =
    element.kind === 'lettering'
      ? element.size.box !== undefined
      : turn === 0 && element.kind !== 'code' && !isRegular;
  const places = stretches ? { ...corners, ...sides } : corners;
  return Object.entries(places).map(([key, at]) => ({
    key,
    at,
    cursor: `${key}-resize`,
    start: () => scaling(desk, element, frame, key, at),
  }));
}

/** Scales about the point its relations hold still. */
function scaling(desk, element, frame, key, at) {
  const { place } = element;
  const held = AXES.map((axis) => {
    const [frameLow, frameHigh] = span(frame, axis);
    if (place[axis].from === low(axis)) return frameLow;
    if (place[axis].from === high(axis)) return frameHigh;
    return (frameLow + frameHigh) / 2;
  });
  // A side that itself holds still cannot be pulled; its opposite then does.
  const pivot = AXES.map((axis, i) => {
    const [frameLow, frameHigh] = span(frame, axis);
    if (held[i] !== at[i]) return held[i];
    return at[i] === frameLow ? frameHigh : frameLow;
  });
  const arm = [at[0] - pivot[0], at[1] - pivot[1]];
  const isCorner = key.length === 2;
  const set = setter(desk, element.id);
  const ratioOf = (to) => {
    const reach = arm[0] ** 2 + arm[1] ** 2;
    return ((to[0] - pivot[0]) * arm[0] + (to[1] - pivot[1]) * arm[1]) / reach;
  };
  const axis = key === 'e' || key === 'w' ? 0 : 1;
  return (to) => {
    const ratio = Math.max(0.01, isCorner ? ratioOf(to) : (to[axis] - pivot[axis]) / arm[axis]);
    scale(desk, element, ratio, isCorner ? null : axis, set);
  };
}

/** Makes an element larger by a ratio: in all (`axis` null), across (0) or up (1). */
function scale(desk, element, ratio, axis, set) {
  const size = (mm, field) => desk.within(element.id, field, rounded(mm * ratio, desk.units));
  if (element.kind === 'lettering') {
    const { box, height } = element.size;
    if (box === undefined) set('size', { height: size(height, 'size.height') });
    else set('size', { box: both(box, 'size.box') });
  } else if (element.kind === 'code') {
    set('module', size(element.module, 'module'));
  } else if (element.kind === 'recess') {
    const { own } = element.shape;
    const { regular } = own.outline.polygon ?? {};
    if (regular) {
      const [[by, now]] = Object.entries(regular);
      const field = `shape.own.outline.polygon.regular.${by}`;
      set(field, size(now, field));
    } else {
      set('shape', { own: { ...own, ...both(own, 'shape.own') } });
    }
  } else if (axis === 1) {
    set('stretch', Math.round(element.stretch * ratio * 100) / 100);
  } else {
    set('width', rounded(element.width * ratio, desk.units));
    if (axis === 0) set('stretch', Math.round((element.stretch / ratio) * 1000) / 1000);
  }

  function both({ width, height }, of) {
    return {
      width: axis === 1 ? width : size(width, `${of}.width`),
      height: axis === 0 ? height : size(height, `${of}.height`),
    };
  }
}
