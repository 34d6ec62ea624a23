// The page a shape is drawn on. The board tells what is pressed and dragged; here it is decided what that
// does to the drawing, and the core is asked what the drawing encloses.
import Alpine from '@alpinejs/csp';
import { figure as figured, typed } from '../figures.js';
import { attempting, send } from '../requests.js';
import { Board } from './board.js';
import {
  added,
  before,
  begun,
  canSplit,
  caught,
  closed,
  empty,
  ended,
  inserted,
  isEnd,
  isOpen,
  isRun,
  kindOf,
  moved,
  nearestWay,
  passed,
  pointed,
  pointsOf,
  removed,
  scaled,
  smoothed,
  split,
  welded,
  widened,
} from './document.js';
import { faceOf, leaveShapes } from './face.js';

const KEPT = 'kalotype-drawing';
const round = (mm) => Math.round(mm * 1e4) / 1e4;

/** Steps back are kept as far as they have room: so many letters. */
const STEPS = 'kalotype-drawing-steps';
const MOST_STEPS = 500_000;

/** What was done before the page was left. */
function steps() {
  try {
    const { past, future } = JSON.parse(localStorage.getItem(STEPS));
    return { past, future };
  } catch {
    return { past: [], future: [] };
  }
}

function keepSteps(past, future) {
  let room = MOST_STEPS;
  const fits = (step) => {
    room -= JSON.stringify(step).length;
    return room > 0;
  };
  const near = (all) => all.toReversed().filter(fits).toReversed();
  localStorage.setItem(STEPS, JSON.stringify({ past: near(past), future: near(future) }));
}

const address = new URLSearchParams(location.search);

/** The drawing that was left unfinished in this browser. */
function unfinished() {
  try {
    const kept = JSON.parse(localStorage.getItem(KEPT));
    return Array.isArray(kept?.figures) ? kept : empty();
  } catch {
    return empty();
  }
}

let board;

Alpine.data('draw', () => ({
  ...attempting,
  drawing: unfinished(),
  ...steps(),
  // The face of a piece it is drawn on, where it is.
  face: faceOf(address.get('on')),
  selected: null,
  tool: 'points',
  // What was clicked of a circle, or where the pen of a scribble was.
  pending: [],
  report: null,
  // What is typed as a size all in all, until the core has answered to it: { axis, text, stage }. It is typed,
  // then said (Enter), then asked: only an answer that comes after that is one to it.
  typing: null,
  // Why the drawing encloses nothing, as the core says it.
  said: '',
  grid: 1,
  catches: true,
  limit: null,
  keepsProportions: true,
  called: '',
  dragged: null,
  asking: false,
  asksAgain: false,

  async init() {
    board = new Board(this.$refs.board, {
      press: (at, held, isFree) => this.press(at, held, isFree),
      drag: (at, isFree) => this.drag(at, isFree),
      drop: () => this.drop(),
      nudge: (held, by) => this.nudge(held, by),
      remove: (held) => this.remove(held),
      close: (held) => this.close(held),
      choose: (held) => this.choose(held),
      seen: () => ({
        drawing: this.drawing,
        report: this.report,
        selected: this.selected,
        grid: this.grid,
        limit: this.limit,
        face: this.face,
        trail: this.tool === 'scribble' ? this.pending : [],
      }),
    });
    const from = address.get('from');
    if (from) await this.attempt(() => this.open(from));
    await this.ask();
    this.$refs.board.dataset.ready = 'yes';
  },

  /** The drawing a shape was made of. */
  async open(shape) {
    const source = await (await send('GET', `/api/shapes/${shape}/source`)).json();
    this.drawing = await (await send('GET', `/api/drawings/${source.drawing}/drawn`)).json();
    this.called = source.name.replace(/\.drawing\.json$/, '');
  },

  get hasSelection() {
    return this.selected !== null && this.figure !== undefined;
  },
  get figure() {
    return this.drawing.figures[this.selected?.figure];
  },
  get isRunPoint() {
    return this.hasSelection && isRun(this.figure);
  },
  get kind() {
    return this.hasSelection ? kindOf(this.drawing, this.selected)[0] : '';
  },
  get isCorner() {
    return this.kind === 'corner';
  },
  get radius() {
    return figured(this.hasSelection ? kindOf(this.drawing, this.selected)[1] : 0, 'mm', 3);
  },
  get place() {
    return (this.hasSelection && pointsOf(this.figure)[this.selected.point]) || [0, 0];
  },
  get across() {
    return figured(this.place[0], 'mm', 3);
  },
  get up() {
    return figured(this.place[1], 'mm', 3);
  },
  get hasBefore() {
    return this.isRunPoint && before(this.drawing, this.selected) !== null;
  },
  get fromBefore() {
    const from = this.hasSelection ? before(this.drawing, this.selected) : null;
    return from ? [this.place[0] - from[0], this.place[1] - from[1]] : [0, 0];
  },
  get length() {
    return figured(Math.hypot(...this.fromBefore), 'mm', 3);
  },
  get isClosed() {
    return this.isRunPoint && this.figure.line.run.closed;
  },
  get hasFigure() {
    return this.figure !== undefined;
  },
  get isScribble() {
    return Boolean(this.figure?.line.scribble);
  },
  get smooth() {
    return figured(this.figure?.line.scribble?.smooth ?? 0, 'mm', 2);
  },
  get lineWidth() {
    return this.figure?.width === undefined ? '' : figured(this.figure.width, 'mm', 2);
  },
  get isWide() {
    return this.figure?.width !== undefined;
  },
  get ends() {
    return this.figure?.square ? 'square' : 'round';
  },
  get canBeSplit() {
    return this.isRunPoint && canSplit(this.drawing, this.selected);
  },
  get canBeWelded() {
    return (
      this.isRunPoint && isEnd(this.drawing, this.selected) && welded(this.drawing, this.selected) !== null
    );
  },
  get keepClass() {
    return this.face ? '' : 'button-main';
  },
  get isOnFace() {
    return this.face !== null;
  },
  get where() {
    return this.face ? `On ${this.face.name}, ${this.face.title.toLowerCase()}` : '';
  },
  get back() {
    return this.face ? `/pieces/${this.face.piece}` : '/shapes';
  },
  get isPoints() {
    return this.tool === 'points';
  },
  get isCircle() {
    return this.tool === 'circle';
  },
  get isTouching() {
    return this.tool === 'touching';
  },
  get isScribbling() {
    return this.tool === 'scribble';
  },
  get advice() {
    const left = 3 - this.pending.length;
    return {
      points:
        this.hasSelection && isOpen(this.figure)
          ? 'Click for the next point; on the first one to close. Escape ends the line.'
          : 'Click for a first point. Drag points; click a line to put a point into it.',
      circle: `Click ${left === 1 ? 'one more point' : `${left} points`} the circle goes through.`,
      touching: `Click ${left === 1 ? 'one more straight side' : `${left} straight sides`} the circle touches.`,
      scribble: 'Draw with the button held down.',
    }[this.tool];
  },
  get hasUndo() {
    return this.past.length > 0;
  },
  get hasNoUndo() {
    return !this.hasUndo;
  },
  get hasNoRedo() {
    return this.future.length === 0;
  },
  get hasShape() {
    return (this.report?.shapes.length ?? 0) > 0;
  },
  get cannotPut() {
    return !this.hasShape;
  },
  get cannotKeep() {
    return !this.hasShape || this.called.trim() === '';
  },
  /** The drawing's own size along an axis, as a figure. */
  sizeAlong(axis) {
    return this.report?.size ? figured(this.report.size[axis], 'mm', 2) : '';
  },
  /** What the field of an axis shows: an answer that comes while somebody types does not take it away. */
  shownAlong(axis) {
    return this.typing?.axis === axis ? this.typing.text : this.sizeAlong(axis);
  },
  get wide() {
    return this.shownAlong(0);
  },
  get tall() {
    return this.shownAlong(1);
  },
  get remarks() {
    return [...(this.report?.remarks ?? []), ...this.beyond];
  },
  get hasRemarks() {
    return this.remarks.length > 0;
  },
  /** What reaches out of the limit box. */
  get beyond() {
    if (!this.limit || !this.report?.size) return [];
    const over = this.limit.map(
      (side, i) => Math.abs(this.report.centre[i]) + this.report.size[i] / 2 - side / 2,
    );
    const most = Math.max(...over);
    return most > 1e-3 ? [`It reaches ${figured(most, 'mm', 2)} mm beyond the limit.`] : [];
  },
  get facts() {
    if (!this.hasShape) return this.said || 'Nothing is enclosed yet.';
    const sum = (what) => this.report.shapes.reduce((all, shape) => all + shape[what], 0);
    const count = (of, one, more) => (of === 1 ? `1 ${one}` : `${of} ${more}`);
    return `${this.sizeAlong(0)} × ${this.sizeAlong(1)} mm · ${count(sum('parts'), 'part', 'parts')}, ${count(sum('openings'), 'opening', 'openings')}`;
  },
  get limitWide() {
    return this.limit ? figured(this.limit[0], 'mm', 2) : '';
  },
  get limitTall() {
    return this.limit ? figured(this.limit[1], 'mm', 2) : '';
  },
  get mirror() {
    return this.drawing.mirror;
  },

  /** Changes the drawing; one drag is one step back. */
  change(drawing, isStep = true) {
    if (isStep) {
      this.past.push(this.drawing);
      this.future = [];
    }
    this.drawing = drawing;
    localStorage.setItem(KEPT, JSON.stringify(drawing));
    keepSteps(this.past, this.future);
    board.show();
    return this.ask();
  },

  /** Asks the core what the drawing encloses; while it answers only the last drawing waits. */
  async ask() {
    if (this.drawing.figures.length === 0) {
      this.report = null;
      this.typing = null;
      this.said = 'Nothing is drawn yet.';
      board.show();
      return;
    }
    if (this.asking) {
      this.asksAgain = true;
      return;
    }
    this.asking = true;
    do {
      this.asksAgain = false;
      try {
        this.report = await (await send('POST', '/api/drawings/look', this.drawing)).json();
        this.said = this.report.refusal ?? '';
      } catch (error) {
        this.report = null;
        this.said = error.message;
      }
      board.show();
    } while (this.asksAgain);
    this.asking = false;
    if (this.typing?.stage === 'asked') this.typing = null;
  },

  catching(at, isFree, held = null) {
    if (isFree || !this.catches) return at.map(round);
    const others = this.drawing.figures.flatMap((one, i) =>
      pointsOf(one).filter((_, k) => !(held?.figure === i && held?.point === k)),
    );
    const { points = [], edges = [] } = this.face ?? {};
    return caught(at, [...others, ...points], { reach: board.reach, grid: this.grid, edges });
  },

  press(at, held, isFree) {
    this.dragged = null;
    if (this.tool === 'scribble') {
      this.pending = [at.map(round)];
      return undefined;
    }
    if (this.tool === 'circle') return this.pick(this.catching(at, isFree), (circle) => ({ circle }));
    if (this.tool === 'touching') {
      const way = nearestWay(this.drawing, at, 2 * board.reach);
      return way ? this.pick(way.ends, (touching) => ({ touching })) : undefined;
    }
    if (held) return this.hold(held);
    const way = nearestWay(this.drawing, at, board.reach);
    if (way) {
      const target = { figure: way.figure, point: way.point };
      this.selected = target;
      this.dragged = { target, isStep: false };
      return this.change(inserted(this.drawing, target, this.catching(at, isFree)));
    }
    return this.append(this.catching(at, isFree));
  },

  /** One more of three things a circle is made by. */
  pick(one, line) {
    this.pending = [...this.pending, one];
    if (this.pending.length < 3) return undefined;
    const made = added(this.drawing, line(this.pending));
    this.pending = [];
    this.selected = { figure: made.figures.length - 1, point: 0 };
    return this.change(made);
  },

  /** A point is taken hold of; the first of a line that is being drawn closes it. */
  hold(held) {
    const run = this.drawing.figures[held.figure].line.run;
    const isEnd = this.selected?.figure === held.figure && this.selected.point === run?.points.length - 1;
    const closes = run && !run.closed && held.point === 0 && isEnd && run.points.length > 2;
    this.selected = held;
    if (closes) return this.change(closed(this.drawing, held.figure, true));
    this.dragged = { target: held, isStep: true };
    board.show();
    return undefined;
  },

  /** A point behind the last of the line that is being drawn, or the first of a new one. */
  append(at) {
    const { selected } = this;
    const isAtEnd =
      selected && isOpen(this.figure) && selected.point === this.figure.line.run.points.length - 1;
    if (!isAtEnd) {
      const [drawing, target] = begun(this.drawing, at);
      this.selected = target;
      return this.change(drawing);
    }
    const target = { figure: selected.figure, point: selected.point + 1 };
    this.selected = target;
    return this.change(inserted(this.drawing, target, at));
  },

  drag(at, isFree) {
    if (this.tool === 'scribble') {
      this.pending.push(at.map(round));
      board.show();
      return;
    }
    if (!this.dragged) return;
    const { target, isStep } = this.dragged;
    this.dragged.isStep = false;
    this.change(moved(this.drawing, target, this.catching(at, isFree, target)), isStep);
  },

  drop() {
    this.dragged = null;
    if (this.tool !== 'scribble' || this.pending.length < 3) return;
    const [first, last] = [this.pending[0], this.pending.at(-1)];
    const isClosed = Math.hypot(first[0] - last[0], first[1] - last[1]) < 2 * board.reach;
    const line = { scribble: { points: this.pending.slice(0, 4000), smooth: 0.6, closed: isClosed } };
    this.pending = [];
    const made = added(this.drawing, line);
    this.selected = { figure: made.figures.length - 1, point: 0 };
    this.change(isClosed ? made : widened(made, made.figures.length - 1, 2));
  },

  choose(held) {
    if (this.selected?.figure === held.figure && this.selected?.point === held.point) return;
    this.selected = held;
    board.show();
  },
  nudge(held, by) {
    const step = this.grid > 0 ? this.grid : 0.5;
    const at = pointsOf(this.drawing.figures[held.figure])[held.point];
    this.change(moved(this.drawing, held, [round(at[0] + by[0] * step), round(at[1] + by[1] * step)]));
  },
  remove(held) {
    this.selected = null;
    this.change(removed(this.drawing, held));
  },
  removeSelected() {
    if (this.hasSelection) this.remove(this.selected);
  },
  removeFigure() {
    const { figure } = this.selected;
    this.selected = null;
    this.change({ ...this.drawing, figures: this.drawing.figures.toSpliced(figure, 1) });
  },
  close(held) {
    const one = this.drawing.figures[held.figure];
    if (isOpen(one) && one.line.run.points.length > 2) this.change(closed(this.drawing, held.figure, true));
  },
  /** By the keyboard: a point a step of the grid further on. */
  addPoint() {
    const step = this.grid > 0 ? this.grid : 1;
    const from = this.hasSelection ? this.place : [-step, 0];
    this.append([round(from[0] + 5 * step), from[1]]);
    this.$nextTick(() => board.focus(this.selected));
  },
  endLine() {
    this.selected = null;
    this.pending = [];
    board.show();
  },

  setTool(event) {
    this.tool = event.target.value;
    this.pending = [];
  },
  setKind(event) {
    this.change(passed(this.drawing, this.selected, event.target.value));
  },
  async setRadius(event) {
    const { selected } = this;
    const value = (await typed(event)) ?? null;
    if (value !== null) this.change(passed(this.drawing, selected, 'corner', Math.max(0, value)));
  },
  async setAcross(event) {
    const { selected, place } = this;
    const value = (await typed(event)) ?? null;
    if (value !== null) this.change(moved(this.drawing, selected, [value, place[1]]));
  },
  async setUp(event) {
    const { selected, place } = this;
    const value = (await typed(event)) ?? null;
    if (value !== null) this.change(moved(this.drawing, selected, [place[0], value]));
  },
  /** As far from the point before as was typed, in the same direction. */
  async setLength(event) {
    const { selected } = this;
    const [x, y] = this.fromBefore;
    const now = Math.hypot(x, y);
    const value = await typed(event);
    if (!(value > 0) || now === 0) return;
    const from = before(this.drawing, selected);
    const at = [from[0] + (x / now) * value, from[1] + (y / now) * value].map(round);
    this.change(moved(this.drawing, selected, at));
  },
  setClosed(event) {
    this.change(closed(this.drawing, this.selected.figure, event.target.checked));
  },
  async setLineWidth(event) {
    const { figure } = this.selected;
    const value = await typed(event);
    if (value !== undefined) this.change(widened(this.drawing, figure, value > 0 ? value : null));
  },
  setEnds(event) {
    this.change(ended(this.drawing, this.selected.figure, event.target.value === 'square'));
  },
  splitHere() {
    this.change(split(this.drawing, this.selected));
  },
  weldHere() {
    const [drawing, held] = welded(this.drawing, this.selected);
    this.selected = held;
    this.change(drawing);
  },
  /** A scribble becomes points that can be moved. */
  point() {
    const { figure } = this.selected;
    const drawn = this.report?.drawn?.[figure];
    if (!drawn) return;
    this.selected = { figure, point: 0 };
    this.change(pointed(this.drawing, figure, drawn));
  },
  limitToBed() {
    this.limit = [...this.face.bed];
    board.show();
  },
  async setSmooth(event) {
    const { figure } = this.selected;
    const value = (await typed(event)) ?? null;
    if (value !== null) this.change(smoothed(this.drawing, figure, Math.max(0, value)));
  },
  setMirror(event) {
    this.change({ ...this.drawing, mirror: event.target.value });
  },
  async setGrid(event) {
    const value = await typed(event);
    if (value === undefined) return;
    this.grid = Math.max(0, value ?? 0);
    board.show();
  },
  setCatches(event) {
    this.catches = event.target.checked;
  },
  async setLimitWide(event) {
    const value = await typed(event);
    if (value === undefined) return;
    this.limit = value > 0 ? [value, this.limit?.[1] ?? value] : null;
    board.show();
  },
  async setLimitTall(event) {
    const value = await typed(event);
    if (value === undefined) return;
    this.limit = value > 0 ? [this.limit?.[0] ?? value, value] : null;
    board.show();
  },
  setProportions(event) {
    this.keepsProportions = event.target.checked;
  },
  typeWide(event) {
    this.typing = { axis: 0, text: event.target.value, stage: 'typed' };
  },
  typeTall(event) {
    this.typing = { axis: 1, text: event.target.value, stage: 'typed' };
  },
  setWide(event) {
    return this.sizeTyped(event, 0);
  },
  setTall(event) {
    return this.sizeTyped(event, 1);
  },
  /** What is no size stays to be mended. */
  async sizeTyped(event, axis) {
    const { typing } = this;
    if (typing) typing.stage = 'said';
    const value = await typed(event);
    if (value !== undefined) await this.size(value, axis, typing);
  },
  /** A size that was typed and taken back again, or never said, is the drawing's own. */
  leaveSize() {
    if (this.typing?.stage === 'typed') this.typing = null;
  },
  /** What the core said last is of the drawing as it is now. */
  async settled() {
    while (this.asking) await new Promise((done) => setTimeout(done, 20));
  },
  async size(value, axis, typing) {
    await this.settled();
    const now = this.report?.size?.[axis];
    if (!(value > 0) || !now) {
      // No size: the drawing's own is shown again.
      if (this.typing === typing) this.typing = null;
      return;
    }
    if (typing) typing.stage = 'asked';
    const by = value / now;
    const [across, up] = this.keepsProportions ? [by, by] : [0, 1].map((i) => (i === axis ? by : 1));
    this.change(scaled(this.drawing, across, up));
  },

  undo() {
    if (this.past.length === 0) return;
    this.future.push(this.drawing);
    this.selected = null;
    this.change(this.past.pop(), false);
  },
  redo() {
    if (this.future.length === 0) return;
    this.past.push(this.drawing);
    this.selected = null;
    this.change(this.future.pop(), false);
  },
  clear() {
    this.selected = null;
    this.change(empty());
  },
  keys(event) {
    if (event.target.closest('input, select')) return;
    const isUndo = (event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'z';
    if (isUndo && event.shiftKey) this.redo();
    else if (isUndo) this.undo();
    else if (event.key === 'Escape') this.endLine();
    else return;
    event.preventDefault();
  },
  zoomIn() {
    board.zoom(1 / 1.25);
  },
  zoomOut() {
    board.zoom(1.25);
  },
  call(event) {
    this.called = event.target.value;
  },

  keep() {
    return this.attempt(async () => {
      const shapes = await this.kept(this.called.trim());
      location.assign(`/shapes#${shapes.map((shape) => shape.id).join()}`);
    });
  },

  /** Keeps the shape, and goes back to the piece with it. */
  put() {
    return this.attempt(async () => {
      const name = this.called.trim() || `Drawn on ${this.face.name}`.slice(0, 80);
      const { centre } = this.report;
      const shapes = await this.kept(name);
      leaveShapes(
        this.face,
        shapes.map((shape) => shape.id),
        centre,
      );
      location.assign(this.back);
    });
  },

  /** The shapes that are kept of the drawing. */
  async kept(name) {
    const file = new Blob([JSON.stringify(this.drawing)]);
    const address = `/api/drawings?name=${encodeURIComponent(`${name}.drawing.json`)}`;
    const { id } = await (await send('POST', address, file)).json();
    const kept = await send('POST', `/api/drawings/${id}/shapes?name=${encodeURIComponent(name)}`);
    const shapes = await kept.json();
    localStorage.removeItem(KEPT);
    localStorage.removeItem(STEPS);
    return shapes;
  },
}));

Alpine.start();
