// The state of the piece page: what the server last said, what is selected, what is on its way.
//
// Edits are sent one request at a time. While one is under way later ones wait, and of those that
// concern the same field only the last is kept, so a slow network never blocks typing and never
// piles up. Every request has a word of its own, so that one whose answer was lost can be sent again
// and is carried out once; and edits say which revision they were made on.
import { Refused, send } from '../requests.js';
import { decode } from './decode.js';
import { limitOf, within } from './limits.js';

const COPIED = 'kalotype-copied-elements';
const FIRST_RETRY_MS = 500;
const LAST_RETRY_MS = 8000;
// A server that answers, but cannot do it, is asked this often before the request is set aside.
const MOST_FAILURES = 5;

let gestures = 0;

const page = crypto.getRandomValues(new Uint32Array(2)).join('-');

/** A word for one drag or one burst of typing; edits that share it are undone together. */
export function newGesture() {
  gestures += 1;
  return `${page}-${gestures}`;
}

/** Bridges seen from the other side. */
function flipped({ bridges, ...rest }) {
  return {
    ...rest,
    bridges: bridges.map((one) => ({ ...one, ends: one.ends.map(([x, y]) => [-x, y]) })),
  };
}

/** The same seen from the back of a plate: left and right exchanged. */
function mirrored(view) {
  const flip = (frame) => frame && { ...frame, x0: -frame.x1, x1: -frame.x0 };
  const { plate, mesh } = view;
  // What of a mesh lies on the bed has an outline of its own.
  const foot = mesh?.foot_frame && {
    path: mesh.foot,
    frame: flip(mesh.foot_frame),
    guide: flip(mesh.foot_frame),
  };
  return Object.freeze({
    ...view,
    mirrored: true,
    plate: {
      ...plate,
      shown: plate.back,
      frame: flip(plate.frame),
      guide: flip(plate.guide),
      bounds: flip(plate.bounds),
      ...foot,
    },
    clear: flip(view.clear_back),
    elements: view.elements.map((placed) => ({
      ...placed,
      frame: flip(placed.frame),
      bridging: placed.bridging && flipped(placed.bridging),
    })),
  });
}

/**
 * A component as it is seen from each of its faces. Those of a plate or a mesh share their coordinates,
 * which are those of the front; any other face is a chart of its own.
 */
function viewsOf(whole, part) {
  const view = { ...whole, ...part };
  const { plate } = part;
  const charts = part.charts ?? [];
  if (charts.length === 0) {
    return { front: { ...view, plate: { ...plate, shown: plate.front } }, back: mirrored(view) };
  }
  const seen = charts.map((chart) => ({
    ...view,
    chart,
    plate: { ...chart.plate, shown: chart.plate.colour },
    clear: chart.clear,
  }));
  return Object.fromEntries(seen.map((one) => [one.chart.name, Object.freeze(one)]));
}

export class Desk extends EventTarget {
  constructor(id, limits = []) {
    super();
    // What figures can be.
    this.limits = limits;
    this.address = `/api/pieces/${id}`;
    this.views = null;
    // The answer itself, which tells of all components.
    this.whole = null;
    // Which component and which of its faces is looked at.
    this.shown = null;
    this.face = 'front';
    // What prints in each colour, as meshes, of all components.
    this.bodies = [];
    // The filaments at hand.
    this.palette = [];
    // The printers at hand.
    this.shelved = [];
    // The element whose settings are shown, and those chosen along with it.
    this.selected = null;
    this.others = new Set();
    // What stays chosen while Tab goes on to another element.
    this.kept = new Set();
    this.waiting = [];
    this.isAdding = false;
    this.busy = false;
    this.state = 'saved';
    // What is lost in print, where it is looked at, and the finding that is pointed at.
    this.printed = null;
    this.printedAt = null;
    this.pointed = null;
    // The element a bridge is being laid for, and which of its bridges is pointed at.
    this.laying = null;
    this.bridge = null;
    this.isLooking = false;
    window.addEventListener('beforeunload', (event) => {
      if (this.hasUnsent) event.preventDefault();
    });
  }

  /** Whether something was changed here that the server has not answered for. */
  get hasUnsent() {
    return this.waiting.some((request) => request.method !== 'GET');
  }

  /** What the server last said, as it is seen from the face that is looked at. */
  get view() {
    return this.views?.[this.face] ?? null;
  }

  get units() {
    return this.view.piece.units;
  }

  /** The component that is shown, as it stands in the document. */
  get component() {
    return this.view.piece.components.find((one) => one.id === this.view.component);
  }

  /** The address of "component" and "blank" where they stand for what is shown. */
  addressOf(target) {
    const { component } = this.view;
    return { component, blank: `${component}/blank` }[target] ?? target;
  }

  /** What the component starts from, as it stands in the document. */
  get blank() {
    return Object.values(this.component.blank)[0];
  }

  /** What kind of blank that is: "plate", "bent-bar". */
  get blankKind() {
    return Object.keys(this.component.blank)[0];
  }

  get isPlate() {
    return this.blankKind === 'plate';
  }

  get isMesh() {
    return this.blankKind === 'mesh';
  }

  /** What people call the face that is looked at. */
  get faceTitle() {
    return this.view.faces?.find((one) => one.name === this.face)?.title ?? this.face;
  }

  /** What the blank is called in a sentence. */
  get blankNoun() {
    return { 'bent-bar': 'bar' }[this.blankKind] ?? this.blankKind;
  }

  /** What is said of every component: what it is called, its bodies, where it lies. */
  get components() {
    return this.whole?.components ?? [];
  }

  /** The faces of what is shown that are seen in plans of their own. */
  get charts() {
    return Object.values(this.views ?? {}).flatMap((view) => (view.chart ? [view.chart] : []));
  }

  /** The plate, or what any other blank has in its place: the face that is looked at and what lies below. */
  get plate() {
    if (this.isPlate) return this.blank;
    const { frame, thickness } = this.view.plate;
    const edges = { top: 'square', bottom: 'square' };
    return {
      colour: this.blank.colour,
      width: frame.x1 - frame.x0,
      height: frame.y1 - frame.y0,
      thickness,
      outline: 'face',
      edges,
      faces: { top: null, bottom: null },
    };
  }

  /** The element at an address, as the document has it: `{ kind, id, locked, face, ...fields }`, `id` being the address. */
  element(address) {
    const [component, id] = (address ?? '').split('/');
    const found = this.view.piece.components
      .find((one) => one.id === component)
      ?.elements.find((one) => one.id === id);
    if (!found) return null;
    const [[kind, fields]] = Object.entries(found.kind);
    return { ...fields, kind, id: address, locked: found.locked, face: found.face };
  }

  /** What a lettering says, its lines in one. */
  words(element) {
    return element.lines
      .map((line) => line.words)
      .join(' ')
      .trim();
  }

  /** Where the element at an address lies: its frame, path and heights. */
  placed(id) {
    return this.view?.elements.find((placed) => placed.id === id) ?? null;
  }

  /** What kind of thing a target is: "piece", "component", a kind of blank or of element. */
  kindOf(target) {
    const address = this.addressOf(target);
    if (address === 'piece') return 'piece';
    const [id, part] = address.split('/');
    if (part === undefined) return 'component';
    const component = this.view.piece.components.find((one) => one.id === id);
    return part === 'blank' ? Object.keys(component?.blank ?? {})[0] : this.element(address)?.kind;
  }

  /** What a figure of something can be; null where nothing is said. */
  limit(target, field) {
    return limitOf(this.limits, this.kindOf(target), field);
  }

  /** The nearest figure that a field can have. */
  within(target, field, value) {
    return within(this.limit(target, field), value);
  }

  /** A field of the piece, a component, a blank or an element, by its dotted name. */
  value(target, field) {
    const { piece } = this.view;
    const address = this.addressOf(target);
    const [id, part] = address.split('/');
    const component = piece.components.find((one) => one.id === id);
    const whole =
      address === 'piece'
        ? piece
        : part === undefined
          ? component
          : part === 'blank'
            ? Object.values(component?.blank ?? {})[0]
            : null;
    const start = whole ?? this.element(address);
    return field.split('.').reduce((value, key) => value?.[key], start);
  }

  /** Whether an element can be seen on the face that is looked at. */
  isSeen(placed) {
    if (placed.face === this.face) return true;
    return !this.view.chart && (placed.through || placed.kind === 'loop');
  }

  /** The elements whose heights stand beside each other: those of one chart, or of both sides of a plate. */
  get stacked() {
    return this.view.chart ? this.view.elements.filter((one) => this.isSeen(one)) : this.view.elements;
  }

  /** Whether it is on that face, so that it can be moved about there, and not locked. */
  isAtHand(id) {
    const placed = this.placed(id);
    const isHere = placed !== null && (placed.face === this.face || placed.kind === 'loop');
    return isHere && !this.element(id).locked;
  }

  /** Looks at a component. */
  lookAt(id) {
    if (id === this.view.component || !this.components.some((one) => one.component === id)) return;
    this.shown = id;
    this.face = null;
    this.selected = null;
    this.others.clear();
    this.kept.clear();
    this.compose();
    this.tell('view');
    this.tell('select');
    this.tell('turned');
  }

  /** Looks at a face. */
  look(face) {
    if (face === this.face || !this.views[face]) return;
    this.face = face;
    this.tell('view');
    this.tell('select');
    this.tell('turned');
  }

  /** Looks at the next of its faces. */
  lookOn() {
    const names = Object.keys(this.views);
    this.look(names[(names.indexOf(this.face) + 1) % names.length]);
  }

  /** Looks at the face an element is on. */
  lookFor(id) {
    const placed = this.placed(id);
    if (placed && placed.kind !== 'loop') this.look(placed.face);
  }

  async load() {
    this.waiting.push({ method: 'GET', address: this.address });
    await this.pump();
    if (this.view) await this.loadPalette();
  }

  /** The filaments at hand; without them those of the piece can still be chosen. */
  async loadPalette() {
    try {
      this.palette = await (await send('GET', '/api/filaments')).json();
      this.tell('palette');
    } catch (error) {
      this.tell('refused', error);
    }
  }

  /** The printers at hand; without them that of the piece is the only one. */
  async loadPrinters() {
    try {
      this.shelved = await (await send('GET', '/api/printers')).json();
      this.tell('palette');
    } catch (error) {
      this.tell('refused', error);
    }
  }

  /** The printers to choose from: those at hand, and that of the piece where it is not among them. */
  get printers() {
    const own = this.view?.piece.printer;
    if (!own) return this.shelved;
    return this.shelved.some((one) => one.id === own.id) ? this.shelved : [own, ...this.shelved];
  }

  /** The filaments to choose from: those at hand, and those only the piece has. */
  get filaments() {
    const own = (this.view?.piece.filaments ?? []).filter(
      (one) => !this.palette.some((other) => other.id === one.id),
    );
    return [...this.palette, ...own];
  }

  /** Colours something, or gives it that of the plate. */
  colour(target, field, id) {
    return { colour: { target, field, filament: this.filaments.find((one) => one.id === id) ?? null } };
  }

  /** How an element is drawn on the face it is seen on: lighter or darker on its own colour. */
  toneOf(placed) {
    const { tones, plate } = this.view;
    const own = tones[placed.colour];
    if (placed.colour !== plate.shown) return own.flat;
    return placed.adds ? own.raised : own.sunk;
  }

  select(id) {
    const found = id !== null && this.placed(id) ? id : null;
    if (found === this.selected && this.others.size === 0) return;
    this.selected = found;
    this.others.clear();
    this.bridge = null;
    if (this.laying !== null) this.layBridges(null);
    if (found === null) this.kept.clear();
    for (const id of this.kept) if (id !== found) this.others.add(id);
    this.tell('select');
  }

  /** Keeps what is selected chosen while others are gone to, or no longer. */
  keep() {
    if (this.selected === null) return;
    if (!this.kept.delete(this.selected)) this.kept.add(this.selected);
    this.tell('select');
  }

  /** Chooses every element. */
  selectAll() {
    const ids = this.view.elements.map((placed) => placed.id);
    [this.selected = null] = ids;
    this.others = new Set(ids.slice(1));
    this.tell('select');
  }

  /** Everything that is chosen, the one with its settings shown first. */
  get selection() {
    return this.selected === null ? [] : [this.selected, ...this.others];
  }

  /** Chooses an element along with the others, or no longer. */
  toggle(id) {
    if (this.others.delete(id)) {
      // It was one of the others.
    } else if (id === this.selected) {
      [this.selected = null] = this.others;
      this.others.delete(this.selected);
    } else {
      if (this.selected !== null) this.others.add(this.selected);
      this.selected = id;
    }
    this.tell('select');
  }

  /**
   * Sends edits. `key` names what they change: a waiting request with the same key is replaced.
   * `refused` is called with what the server says against them.
   */
  edit(edits, { key = null, gesture = null, refused = null, done = null } = {}) {
    const addressed = edits.map((edit) =>
      Object.fromEntries(
        Object.entries(edit).map(([act, what]) => [
          act,
          'target' in what ? { ...what, target: this.addressOf(what.target) } : what,
        ]),
      ),
    );
    const request = {
      method: 'POST',
      address: `${this.address}/edits`,
      body: { edits: addressed, gesture },
      key,
      refused,
      done,
    };
    const last = this.waiting.findLastIndex((other) => !other.sent);
    if (key !== null && last >= 0 && this.waiting[last].key === key) this.waiting[last] = request;
    else this.waiting.push(request);
    return this.pump();
  }

  /** Sets one field to a value. */
  set(target, field, value, options = {}) {
    return this.edit([{ set: { target, field, value } }], { key: `${target}.${field}`, ...options });
  }

  /** Gives something of one kind another, by the server's rules of what is kept. */
  turn(target, field, into, options = {}) {
    return this.edit([{ turn: { target, field, into } }], options);
  }

  undo() {
    this.waiting.push({ method: 'POST', address: `${this.address}/undo` });
    return this.pump();
  }

  redo() {
    this.waiting.push({ method: 'POST', address: `${this.address}/redo` });
    return this.pump();
  }

  add(kind) {
    // Whoever types on meanwhile means the words that are coming, not keys.
    this.isAdding = true;
    return this.edit([{ add: { component: this.view.component, kind, face: this.face } }], {
      done: () => this.tell('added'),
    }).finally(() => (this.isAdding = false));
  }

  remove(ids) {
    const free = ids.filter((id) => !this.element(id).locked);
    if (free.length < ids.length)
      this.tell('refused', new Error('What is locked stays. Unlock it to delete it.'));
    if (free.length === 0) return undefined;
    return this.edit(
      free.map((target) => ({ remove: { target } })),
      { done: () => this.tell('removed') },
    );
  }

  /** Adds a component of customary sizes, and looks at it. */
  addComponent(blank) {
    return this.edit([{ 'add-component': { blank } }]);
  }

  addMesh(mesh, file) {
    return this.edit([{ 'add-mesh': { mesh, file } }]);
  }

  duplicate(ids) {
    return this.edit(ids.map((target) => ({ duplicate: { target } })));
  }

  /** One place earlier (-1) or later (1) in the order of work. */
  move(target, by) {
    return this.edit([{ move: { target, by } }]);
  }

  /** Copies live in the browser's own storage, so that they can be pasted into another piece. */
  copy(ids) {
    const { component } = this.view;
    const chosen = this.component.elements.filter((one) => ids.includes(`${component}/${one.id}`));
    localStorage.setItem(COPIED, JSON.stringify({ elements: chosen, filaments: this.view.piece.filaments }));
    this.tell('copied');
  }

  /** The same of the whole component that is shown. */
  copyComponent() {
    const { component } = this;
    const { filaments } = this.view.piece;
    localStorage.setItem(COPIED, JSON.stringify({ elements: [], component, filaments }));
    this.tell('copied');
  }

  /** What was copied, here or in another piece: elements, and the filaments of their piece. */
  get clipboard() {
    const nothing = { elements: [], filaments: [] };
    try {
      const kept = JSON.parse(localStorage.getItem(COPIED));
      return Array.isArray(kept?.elements) ? { ...nothing, ...kept } : nothing;
    } catch {
      // Something else wrote there.
      return nothing;
    }
  }

  get copied() {
    const { elements, component } = this.clipboard;
    return component ? [component] : elements;
  }

  paste() {
    const { elements, filaments, component: whole } = this.clipboard;
    const { component } = this.view;
    if (whole) return this.edit([{ 'insert-component': { component: whole, filaments } }]);
    if (elements.length === 0) return undefined;
    return this.edit(elements.map((element) => ({ insert: { component, element, filaments } })));
  }

  /** Sends what waits, one after the other; answers when nothing waits any more. */
  pump() {
    this.pumping ??= this.sendAll().finally(() => (this.pumping = null));
    return this.pumping;
  }

  /** Answers when everything that was changed here is kept. */
  async settled() {
    while (this.pumping) await this.pumping;
  }

  /** A link to a file is followed once everything that was changed here is kept. */
  async beforeLink(event) {
    if (!this.pumping) return;
    event.preventDefault();
    const link = event.target.closest('a');
    await this.settled();
    link.click();
  }

  async sendAll() {
    this.busy = true;
    while (this.waiting.length > 0) {
      const request = this.waiting[0];
      request.sent = true;
      this.setState(request.method === 'GET' ? this.state : 'saving');
      const outcome = await this.carryOut(request);
      this.waiting.shift();
      if (outcome instanceof Error) this.refuse(request, outcome);
      else {
        this.show(outcome);
        request.done?.();
      }
    }
    this.setState('saved');
    this.busy = false;
    this.lookThrough();
  }

  /**
   * Asks preflight once nothing is on its way. Until it answers its last words stay, marked as old.
   */
  async lookThrough() {
    if (this.isLooking) return;
    this.isLooking = true;
    let failures = 0;
    while (this.whole?.old && this.waiting.length === 0 && failures < MOST_FAILURES) {
      try {
        const asked = this.whole.revision;
        const { revision, findings } = await (await send('GET', `${this.address}/findings`)).json();
        // It was changed here while preflight looked.
        if (this.whole.revision !== asked) continue;
        // Somebody else changed it; the next answer is looked through.
        if (revision !== asked) break;
        this.whole = { ...this.whole, findings, old: false };
        this.compose();
        this.tell('findings');
      } catch {
        failures += 1;
        await new Promise((resolve) => setTimeout(resolve, FIRST_RETRY_MS));
      }
    }
    this.isLooking = false;
  }

  /** How everything that can be mended would be mended: `{ edits, steps, left }`. */
  async mending() {
    await this.settled();
    return (await send('GET', `${this.address}/mending`)).json();
  }

  /** What is lost, or closes, when it is printed, element by element; nothing where it is not to be seen. */
  async loadPrinted(isWanted) {
    this.printed = isWanted ? [] : null;
    while (this.printed !== null && this.printedAt !== this.whole.revision) {
      const { revision, all } = await (await send('GET', `${this.address}/printed`)).json();
      if (this.printed === null) return;
      [this.printed, this.printedAt] = [all, revision];
      if (revision !== this.whole.revision) break;
    }
    if (this.printed === null) this.printedAt = null;
    this.tell('pointed');
  }

  /** Which finding is pointed at in their list. */
  pointAt(index) {
    this.pointed = index;
    this.tell('pointed');
  }

  /** The next press on the plan lays a bridge of an element; null: no longer. */
  layBridges(id) {
    this.laying = id;
    this.tell('laying');
  }

  /** Shows which of the bridges of what is selected is meant. */
  pointAtBridge(index) {
    this.bridge = index;
    this.tell('pointed');
  }

  /** The answer to a request, or why there is none; it is tried again while the server is not reached. */
  async carryOut(request) {
    request.word ??= newGesture();
    const isEdit = request.body !== undefined;
    // Sent again it is the same to the letter: with something else to say it would be another request.
    request.content ??= isEdit ? { ...request.body, revision: this.view.revision } : undefined;
    const body = request.content;
    let failures = 0;
    for (let pause = FIRST_RETRY_MS; ; pause = Math.min(2 * pause, LAST_RETRY_MS)) {
      try {
        const response = await send(request.method, request.address, body, { word: request.word });
        return decode(await response.arrayBuffer());
      } catch (error) {
        if (error instanceof Refused && error.status < 500) return error;
        if (error instanceof Refused) failures += 1;
        if (failures >= MOST_FAILURES) return error;
        // Not reached or not able: nothing typed is given up, the same request is tried again.
        this.setState('waiting');
        await new Promise((resolve) => setTimeout(resolve, pause));
      }
    }
  }

  /** Says why something was not done. What others did meanwhile is then shown. */
  refuse(request, error) {
    const isOvertaken = error.status === 409;
    const isAtTheEnd = isOvertaken && request.body === undefined;
    if (isOvertaken)
      this.waiting.unshift({
        method: 'GET',
        address: this.address,
        done: () => isAtTheEnd || this.tell('refused', error),
      });
    if (request.refused) request.refused(error);
    else if (!isOvertaken) this.tell('refused', error);
  }

  show({ view, bodies }) {
    // What was found last stays until preflight has looked at this, unless it cannot be made at all.
    const isStopped = view.findings.some((finding) => finding.weight === 'stop');
    const findings = isStopped ? view.findings : (this.whole?.findings ?? view.findings);
    this.whole = { ...view, findings, old: true };
    if (this.printed !== null) this.loadPrinted(true);
    // The bodies of one component come after those of another.
    const owners = view.components.flatMap((one) => Array(one.bodies ?? 0).fill(one.component));
    this.bodies = bodies.map((body, index) => ({ ...body, component: owners[index] ?? null }));
    const [component, element] = (view.added ?? '').split('/');
    if (component && component !== this.shown) [this.shown, this.face] = [component, null];
    this.compose();
    if (view.added) {
      this.selected = element ? view.added : null;
      this.others.clear();
      this.kept.clear();
    } else if (this.selected && !this.placed(this.selected)) this.selected = null;
    this.others.forEach((id) => {
      if (id === this.selected || this.selected === null || !this.placed(id)) this.others.delete(id);
    });
    this.tell('view');
    this.tell('select');
  }

  /** Puts together what is said of the component that is looked at, face by face. */
  compose() {
    const { components, ...whole } = this.whole;
    const part = components.find((one) => one.component === this.shown) ?? components[0];
    this.shown = part.component;
    this.views = viewsOf(whole, part);
    // A component is first seen from its main face.
    if (!this.views[this.face]) [this.face] = Object.keys(this.views);
  }

  setState(state) {
    if (state === this.state) return;
    this.state = state;
    this.tell('state');
  }

  tell(name, detail = null) {
    this.dispatchEvent(new CustomEvent(name, { detail }));
  }
}
