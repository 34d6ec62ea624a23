// Bridges by hand: where they lie is said by the letter they go with, so that they go with it.
import { newGesture } from './desk.js';

const degrees = (radians) => (radians * 180) / Math.PI;

/** Shares of a seat's width and height, to a point in mm. */
export function pointOf({ stand: [a, b, c, d, e, f], wide, tall }, across, up) {
  const [x, y] = [across * wide, up * tall];
  return [a * x + c * y + e, b * x + d * y + f];
}

/** A point in mm, to shares of a seat's width and height. */
export function sharesOf({ stand: [a, b, c, d, e, f], wide, tall }, [x, y]) {
  const [dx, dy, area] = [x - e, y - f, a * d - b * c];
  return [(d * dx - c * dy) / area / (wide || 1), (a * dy - b * dx) / area / (tall || 1)];
}

/** A direction in degrees, as it is seen from a seat. */
export function turnOf({ stand: [a, b, c, d] }, direction) {
  const [x, y] = [Math.cos((direction * Math.PI) / 180), Math.sin((direction * Math.PI) / 180)];
  const area = a * d - b * c;
  return degrees(Math.atan2((a * y - b * x) / area, (d * x - c * y) / area));
}

/** The seat a point lies in, or is nearest to. */
export function seatAt(seats, point) {
  const beyond = (at, low, high) => Math.max(low - at, at - high, 0);
  const off = (seat) => {
    const [across, up] = sharesOf(seat, point);
    return Math.hypot(beyond(across, 0, 1) * seat.wide, beyond(up, -0.5, 1.6) * seat.tall);
  };
  return seats.reduce((best, seat) => (best === null || off(seat) < off(best) ? seat : best), null);
}

const rounded = (value, steps) => Math.round(value * steps) / steps;
// A strip is the same from either end.
const halfTurn = (turn) => ((rounded(turn, 10) % 180) + 180) % 180;

/** A bridge through a point in a direction, as the document has those that are put by hand. */
export function byHand(seats, point, direction) {
  const seat = seatAt(seats, point);
  const [across, up] = sharesOf(seat, point).map((share) => Math.min(6, Math.max(-5, rounded(share, 1000))));
  return {
    line: seat.line,
    letter: seat.letter,
    is: seat.is,
    across,
    up,
    turn: halfTurn(turnOf(seat, direction)),
  };
}

const middleOf = ({ ends: [[ax, ay], [bx, by]] }) => [(ax + bx) / 2, (ay + by) / 2];
const directionOf = ({ ends: [[ax, ay], [bx, by]] }) => degrees(Math.atan2(by - ay, bx - ax));

/**
 * All that is to be put by hand when one bridge is: what was already, and with it those that hold the same. The
 * index is that of the one.
 */
export function handsWith({ bridges, seats }, already, which) {
  const one = bridges[which];
  if (one.by_hand !== null) return { hands: [...already], index: one.by_hand };
  const others = bridges.filter(
    (other) => other !== one && other.by_hand === null && other.holds === one.holds,
  );
  const hands = [one, ...others].map((bridge) => byHand(seats, middleOf(bridge), directionOf(bridge)));
  return { hands: [...already, ...hands], index: already.length };
}

/** Those that stay when one is taken away. */
export function handsWithout(bridging, already, which) {
  const { hands, index } = handsWith(bridging, already, which);
  return hands.filter((_, i) => i !== index);
}

/** A bridge is turned by a handle so far beyond its end, in pixels. */
const BEYOND_PX = 16;

/** So many bridges show all of their handles. */
const FEW = 3;

/**
 * What is held by bridges: an element, or the blank whose outline has ties. What they are, which of them were put by
 * hand and in which field, and how they run and how wide they are; null for what has none.
 */
export function heldBy(desk, id) {
  if (!desk.view) return null;
  if (id === null || id === 'blank') {
    const bridging = desk.face === 'front' ? desk.view.plate.ties : null;
    const contour = bridging && desk.value('blank', 'outline.contour');
    if (!contour?.ties) return null;
    const { ties: width, by_hand: already } = contour;
    return { id: 'blank', bridging, already, width, run: 'upright', field: 'outline.contour.by_hand' };
  }
  const [bridging, bridges] = [desk.placed(id)?.bridging, desk.element(id)?.bridges];
  if (!bridging || !bridges) return null;
  const { by_hand: already, width, run } = bridges;
  return { id, bridging, already, width, run, field: 'bridges.by_hand' };
}

/** The handles of bridges: those in their middles move them, those beside turn them. */
export function bridgeHandles({ desk, scale }, id) {
  const held = heldBy(desk, id);
  if (!held) return [];
  const { bridging } = held;
  const starts = (which, change) => () => {
    const { hands, index } = handsWith(bridging, held.already, which);
    // What is put by hand comes first from now on.
    desk.pointAtBridge(index);
    const gesture = newGesture();
    return (to, event) => {
      const next = hands.map((hand, i) => (i === index ? change(to, event) : hand));
      desk.set(held.id, held.field, next, { gesture, refused: () => {} });
    };
  };
  return bridging.bridges.flatMap((bridge, which) => {
    const [middle, direction] = [middleOf(bridge), directionOf(bridge)];
    const turned = ([x, y], event) => {
      const angle = degrees(Math.atan2(y - middle[1], x - middle[0]));
      const caught = Math.round(angle / 15) * 15;
      const next = !event.altKey && Math.abs(caught - angle) < 4 ? caught : angle;
      return byHand(bridging.seats, middle, next);
    };
    const beyond =
      Math.hypot(bridge.ends[1][0] - middle[0], bridge.ends[1][1] - middle[1]) + BEYOND_PX / scale;
    const [sine, cosine] = [Math.sin, Math.cos].map((of) => of((direction * Math.PI) / 180));
    const moves = {
      key: `bridge-${which}`,
      at: middle,
      cursor: 'move',
      round: true,
      tone: 'handle-moves',
      start: starts(which, (to) => byHand(bridging.seats, to, direction)),
    };
    // Of many only the one that was taken hold of shows how it is turned.
    if (bridging.bridges.length > FEW && desk.bridge !== which) return [moves];
    const turns = {
      key: `bridge-turn-${which}`,
      at: [middle[0] + beyond * cosine, middle[1] + beyond * sine],
      cursor: 'grab',
      tone: 'handle-turns',
      start: starts(which, turned),
    };
    return [turns, moves];
  });
}

/** Lays one more where the plan is pressed. */
export function layBridge(plan, event) {
  const { desk } = plan;
  const id = desk.laying;
  desk.layBridges(null);
  if (heldBy(desk, id)?.bridging.seats.length > 0) addBridge(desk, id, plan.mm(event));
}

/** Adds one through a point, or where none is given through the foot of the first letter. */
export function addBridge(desk, id, point = null) {
  const held = heldBy(desk, id);
  const { bridging, already, run } = held;
  const at = point ?? pointOf(bridging.seats[0], 0.5, 0);
  const turn = run === 'upright' ? 90 : (run.angle ?? 0);
  const hand = { ...byHand(bridging.seats, at, 0), turn };
  desk.set(held.id, held.field, [...already, hand]);
}

/** What the settings show of bridges and do with them. */
export const bridges = (desk) => ({
  get held() {
    return this.view ? heldBy(desk, this.selected) : null;
  },
  get bridging() {
    return this.held?.bridging ?? null;
  },
  /** What is cut through, or stands on the bed, can be held by them. */
  get canHaveBridges() {
    const can = this.element?.bridges !== undefined;
    return can && (this.relief === 'through' || this.kindAt('el.relief.raised') === 'from-foot');
  },
  get hasBridges() {
    return Boolean(this.element?.bridges);
  },
  setBridges(event) {
    desk.turn(this.selected, 'bridges', event.target.checked ? 'held' : 'none');
  },
  get bridgeHeightKind() {
    return (this.element?.bridges?.height ?? null) === null ? 'full' : 'lower';
  },
  get bridgesEach() {
    return this.element?.bridges?.each ?? 'as-needed';
  },
  setBridgesEach(event) {
    desk.set(this.selected, 'bridges.each', event.target.value);
  },
  get bridgesInLine() {
    return this.element?.bridges?.in_line ?? false;
  },
  setBridgesInLine(event) {
    desk.set(this.selected, 'bridges.in_line', event.target.checked);
  },
  /** Whether what lies apart in a contour is tied. */
  get tiesKind() {
    return this.view && desk.value('blank', 'outline.contour.ties') ? 'tied' : 'none';
  },
  get bridgesRun() {
    return this.kindAt('el.bridges.run');
  },
  get handCount() {
    return this.held?.already.length ?? 0;
  },
  get bridgeCount() {
    return this.bridging?.bridges.length ?? 0;
  },
  get bridgesWord() {
    const count = this.bridgeCount;
    if (count === 0) return 'Nothing would fall out: there are none.';
    const byHandWord = this.handCount > 0 ? `, ${this.handCount} of them put by hand` : '';
    const noun = this.held.id === 'blank' ? 'tie' : 'bridge';
    return `${count} ${count === 1 ? noun : `${noun}s`}${byHandWord}.`;
  },
  /** Each with what it is in, for the list. */
  get bridgeList() {
    const { bridges: all, seats } = this.bridging ?? { bridges: [], seats: [] };
    return all.map((bridge, index) => {
      const is = seatAt(seats, middleOf(bridge))?.is;
      return {
        index,
        word: `${index + 1}${is ? `, ${is}` : ''}${bridge.by_hand === null ? '' : ', by hand'}`,
      };
    });
  },
  pointAtBridge(event) {
    const { bridge } = event.currentTarget.dataset;
    desk.pointAtBridge(bridge === undefined ? null : Number(bridge));
  },
  leaveBridge() {
    desk.pointAtBridge(null);
  },
  takeBridge(event) {
    const which = Number(event.currentTarget.dataset.bridge);
    desk.pointAtBridge(null);
    const { id, field, bridging, already } = this.held;
    desk.set(id, field, handsWithout(bridging, already, which));
  },
  freeBridges() {
    desk.set(this.held.id, this.held.field, []);
  },
  isLayingBridge: false,
  /** By the pointer one is laid where the plan is pressed next; by the keyboard at once. */
  layBridge(event) {
    if (event.detail === 0) addBridge(desk, this.held.id);
    else desk.layBridges(desk.laying === null ? this.held.id : null);
  },
});
