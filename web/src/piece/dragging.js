// What a drag on the plan does: it pans, moves, leads a loop around, or pulls a handle.
import { rounded } from '../figures.js';
import { newGesture } from './desk.js';
import {
  AXES,
  carried,
  catches,
  followsOutline,
  lengthAt,
  lengthened,
  middle,
  movable,
  moved,
  nearestCatch,
  placeAt,
} from './placing.js';

/** How near a guide must be to be caught, in pixels. */
const CATCH_PX = 6;

export function startPan(plan, event) {
  if (event.button > 1) return;
  plan.pressed = null;
  plan.goesOn = null;
  plan.capture(event);
  const start = [event.clientX, event.clientY];
  const origin = [...plan.origin];
  let far = false;
  plan.drag = {
    move: (now) => {
      const by = [now.clientX - start[0], now.clientY - start[1]];
      far ||= Math.hypot(...by) > 4;
      if (!far) return;
      plan.origin = [origin[0] + by[0], origin[1] + by[1]];
      plan.fitted = false;
      plan.draw();
    },
    end: () => {
      if (!far) plan.desk.select(null);
    },
  };
}

/**
 * Moves an element: it catches on centre lines, margins and its neighbours unless Alt is held. `unmoved`
 * is called where it is let go without having been moved.
 */
export function startMove(plan, event, id, unmoved = () => {}) {
  plan.capture(event);
  const { desk } = plan;
  const element = desk.element(id);
  const { kind } = element;
  if (!desk.isAtHand(id) || followsOutline(element)) {
    plan.drag = { move: () => {}, end: unmoved };
    return;
  }
  if (kind === 'loop') {
    startTurn(plan, id, unmoved);
    return;
  }
  const start = plan.mm(event);
  const begun = desk.placed(id);
  // Passing a guide on the way must not change what the place is measured from.
  const data = Object.fromEntries(AXES.map((axis) => [axis, desk.value(id, `place.${axis}.from`)]));
  const others = movable(desk, desk.selection)
    .filter((other) => other !== id)
    .map((other) => desk.placed(other));
  const gesture = newGesture();
  let far = false;
  plan.drag = {
    id,
    frame: null,
    caught: {},
    keepsScale: true,
    end: () => far || unmoved(),
    move: (now) => {
      const at = plan.mm(now);
      const by = [at[0] - start[0], at[1] - start[1]];
      far ||= Math.hypot(...by) * plan.scale > 3;
      if (!far) return;
      const free = carried(desk, begun, by);
      const { frame, caught } = settled(plan, id, free, data, now.altKey);
      Object.assign(plan.drag, { frame, caught });
      const own = AXES.map((axis) => placeAt(desk, id, frame, axis, caught[axis]?.from ?? data[axis]));
      const shift = AXES.map((axis, i) => by[i] + middle(frame, axis) - middle(free, axis));
      const together = others.flatMap((other) =>
        AXES.map((axis) => placeAt(desk, other.id, carried(desk, other, shift), axis)),
      );
      desk.edit([...own, ...together], {
        key: `move ${id}`,
        gesture,
      });
      plan.draw();
    },
  };
}

/**
 * A frame that is dragged comes to lie on what is near enough to catch it, unless it goes `freely`, and
 * otherwise where its distances are such as a person would have typed; all that moves along follows it.
 */
function settled(plan, id, free, data, freely) {
  const { desk } = plan;
  const placed = desk.placed(id);
  const { kind } = desk.element(id);
  let frame = free;
  const caught = {};
  for (const axis of AXES) {
    const all = freely ? [] : catches(desk, desk.selection, kind, frame, axis);
    const near = nearestCatch(all, frame, axis, CATCH_PX / plan.scale);
    if (near) {
      frame = axis === 'across' ? moved(frame, near.shift, 0) : moved(frame, 0, near.shift);
      caught[axis] = near;
    } else {
      const length = lengthAt(placed, frame, axis, data[axis]);
      frame = lengthened(placed, frame, axis, data[axis], rounded(length, desk.units) - length);
    }
  }
  return { frame, caught };
}

/** Leads a loop around the outline; in a direction it catches every 15° unless Alt is held. */
function startTurn(plan, id, unmoved) {
  const { desk } = plan;
  const gesture = newGesture();
  const flip = desk.view.mirrored ? -1 : 1;
  let far = false;
  plan.drag = {
    keepsScale: true,
    end: () => far || unmoved(),
    move: (now) => {
      far = true;
      const [x, y] = plan.mm(now);
      if (desk.element(id).at.point) {
        const at = (mm) => ({ from: 'centre', distance: rounded(mm, desk.units) });
        desk.set(id, 'at', { point: { across: at(flip * x), up: at(y) } }, { gesture });
        return;
      }
      const degrees = (Math.atan2(y, flip * x) * 180) / Math.PI;
      const caught = Math.round(degrees / 15) * 15;
      const angle = !now.altKey && Math.abs(caught - degrees) < 4 ? caught : Math.round(degrees * 10) / 10;
      desk.set(id, 'at', { angle }, { gesture });
    },
  };
}

/** Pulls a handle. */
export function startPull(plan, event, handle) {
  plan.capture(event);
  const pull = handle.start();
  plan.drag = { keepsScale: true, move: (now) => pull(plan.mm(now), now) };
}

/** Moves what is selected by arrow keys, in mm. */
export function nudge(plan, dx, dy, gesture) {
  const { desk } = plan;
  const edits = movable(desk, desk.selection).map((target) => ({ shift: { target, across: dx, up: dy } }));
  if (edits.length === 0) return;
  desk.edit(edits, { gesture });
}
