// Bridges by hand: where one is pressed or dragged to is told to the core, which says what it goes with.
import { newGesture } from './desk.js';

const degrees = (radians) => (radians * 180) / Math.PI;

const middleOf = ({ ends: [[ax, ay], [bx, by]] }) => [(ax + bx) / 2, (ay + by) / 2];
const directionOf = ({ ends: [[ax, ay], [bx, by]] }) => degrees(Math.atan2(by - ay, bx - ax));

/** What is done to a bridge, as an edit: see the core, which knows what it then goes with. */
const edit = (held, act) => ({ bridge: { target: held.id, act } });

/** A bridge is turned by a handle so far beyond its end, in pixels. */
const BEYOND_PX = 16;

/** So many bridges show all of their handles. */
const FEW = 3;

/**
 * What is held by bridges: an element, or the blank whose outline has ties. What they are, which of them were put by
 * hand and in which field, and how wide they are; null for what has none.
 */
export function heldBy(desk, id) {
  if (!desk.view) return null;
  if (id === null || id === 'blank') {
    const bridging = desk.face === 'front' ? desk.view.plate.ties : null;
    const contour = bridging && desk.value('blank', 'outline.contour');
    if (!contour?.ties) return null;
    const { ties: width, by_hand: already } = contour;
    return { id: 'blank', bridging, already, width, field: 'outline.contour.by_hand' };
  }
  const [bridging, bridges] = [desk.placed(id)?.bridging, desk.element(id)?.bridges];
  if (!bridging || !bridges) return null;
  const { by_hand: already, width } = bridges;
  return { id, bridging, already, width, field: 'bridges.by_hand' };
}

/** The handles of bridges: those in their middles move them, those beside turn them. */
export function bridgeHandles({ desk, scale }, id) {
  const held = heldBy(desk, id);
  if (!held) return [];
  const { bridging } = held;
  const starts = (which, change) => () => {
    // What is put by hand is told by its number among those.
    const { by_hand: own } = bridging.bridges[which];
    const by_hand = own ?? held.already.length;
    desk.pointAtBridge(by_hand);
    const gesture = newGesture();
    const options = { gesture, refused: () => {} };
    let isKept = own !== null;
    return (to, event) => {
      if (!isKept) desk.edit([edit(held, { keep: { bridge: which } })], options);
      isKept = true;
      const move = edit(held, { move: { by_hand, ...change(to, event) } });
      desk.edit([move], { key: `${held.id}.bridge`, ...options });
    };
  };
  return bridging.bridges.flatMap((bridge, which) => {
    const [middle, direction] = [middleOf(bridge), directionOf(bridge)];
    const turned = ([x, y], event) => {
      const angle = degrees(Math.atan2(y - middle[1], x - middle[0]));
      const caught = Math.round(angle / 15) * 15;
      const next = !event.altKey && Math.abs(caught - angle) < 4 ? caught : angle;
      return { at: middle, along: next };
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
      start: starts(which, (to) => ({ at: to, along: direction })),
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

/** Lays one more where the plan is pressed, on the face it is on or through it from the other side. */
export function layBridge(plan, event) {
  const { desk } = plan;
  const id = desk.laying;
  desk.layBridges(null);
  const held = heldBy(desk, id);
  if (!held) return;
  const [x, y] = plan.mm(event);
  const isHere = (desk.placed(id)?.face ?? 'front') === desk.face;
  desk.edit([edit(held, { lay: { at: isHere ? [x, y] : [-x, y] } })]);
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
    const all = this.bridging?.bridges ?? [];
    return all.map(({ letter, by_hand: hand }, index) => ({
      index,
      word: `${index + 1}${letter && `, ${letter}`}${hand === null ? '' : ', by hand'}`,
    }));
  },
  pointAtBridge(event) {
    const { bridge } = event.currentTarget.dataset;
    desk.pointAtBridge(bridge === undefined ? null : Number(bridge));
  },
  leaveBridge() {
    desk.pointAtBridge(null);
  },
  takeBridge(event) {
    const bridge = Number(event.currentTarget.dataset.bridge);
    desk.pointAtBridge(null);
    desk.edit([edit(this.held, { take: { bridge } })]);
  },
  freeBridges() {
    desk.set(this.held.id, this.held.field, []);
  },
  isLayingBridge: false,
  /** By the pointer one is laid where the plan is pressed next; by the keyboard at once. */
  layBridge(event) {
    if (event.detail === 0) desk.edit([edit(this.held, { lay: {} })]);
    else desk.layBridges(desk.laying === null ? this.held.id : null);
  },
});
