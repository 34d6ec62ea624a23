// The components of a piece: which is looked at, what is added, and what joins them.
import { length } from '../figures.js';
import { massOf } from './facts.js';

const TITLES = {
  plate: 'Plate',
  block: 'Block',
  'bent-bar': 'Bent bar',
  tent: 'Tent',
  cap: 'Cap',
  plug: 'Plug',
  ring: 'Ring',
  box: 'Box',
  mesh: 'Mesh',
};

// What takes no slot.
const HOLLOW = ['cap', 'plug', 'ring', 'box', 'mesh'];

export const components = (desk) => ({
  get parts() {
    return (this.view ? desk.components : []).map(({ component, called }) => ({
      id: component,
      called,
      isShown: component === this.view.component,
    }));
  },
  get isOfSeveral() {
    return this.parts.length > 1;
  },
  get partShown() {
    return this.view?.component ?? '';
  },
  get partCalled() {
    return this.view?.called ?? '';
  },
  /** Of all of it, where the other figures are those of one component. */
  get allWord() {
    return this.isOfSeveral ? `${massOf(this.view)}, ${this.view.facts.cost.toFixed(2)}` : '';
  },
  get faces() {
    return this.view?.faces ?? [];
  },
  get hasManyFaces() {
    return this.faces.length > 2;
  },
  get isPlateShown() {
    return this.view !== null && desk.isPlate;
  },

  showPart(event) {
    desk.lookAt(event.currentTarget.dataset.part);
  },
  addPart(event) {
    const { value, selectedOptions } = event.target;
    const file = selectedOptions[0]?.textContent ?? '';
    event.target.value = '';
    if (value === 'read') window.open('/meshes');
    else if (value.startsWith('mesh-')) desk.addMesh(value, file);
    else if (value) desk.addComponent(value);
  },
  duplicatePart() {
    desk.edit([{ duplicate: { target: this.partShown } }]);
  },
  removePart() {
    desk.edit([{ remove: { target: this.partShown } }]);
  },
  /** Which side of the component lies on the bed. */
  get lies() {
    return this.view ? desk.component.lies : 'as-made';
  },
  lieBest() {
    desk.turn(this.partShown, 'lies', 'best');
  },
  setTent(event) {
    desk.turn('blank', 'thickness', event.target.value);
  },
  get tentKind() {
    return this.view && desk.blank.thickness === null ? 'solid' : 'card';
  },

  /** What the blank is called by itself. */
  get blankTitle() {
    return this.view ? TITLES[desk.blankKind] : '';
  },
  get ventKind() {
    return this.view && desk.blank.vent === null ? 'closed' : 'open';
  },
  /** Whether a grip goes all the way up or is kept to a band. */
  get gripPart() {
    return this.view && desk.blank.grip_band ? 'band' : 'all';
  },
  get shankKind() {
    return this.view && desk.blank.wall === null ? 'solid' : 'hollow';
  },
  /** A class of fits with what it comes to on the printer of the piece. */
  fitWord(kind) {
    const printer = this.view?.piece.printer;
    const mm = printer?.fits[kind] === undefined ? undefined : printer.fits[kind] + 2 * printer.growth;
    return mm === undefined ? kind : `${kind}, ${length(mm, this.units, this.units === 'in' ? 4 : 2)}`;
  },
  /** How a recess fits what was measured; exactly, where its sizes are its own. */
  get measuredFit() {
    return this.kindAt('el.shape.own.fit') || 'exact';
  },
  measuredWord(kind) {
    return `of what goes in, ${this.fitWord(kind)}`;
  },
  /** A nominal size in the place of a measured one. */
  setNominal(event) {
    const { value } = event.target;
    event.target.value = '';
    if (value) desk.set('blank', 'over', Number(value));
  },

  // The printer the piece is made on.
  printers: [],
  get printerId() {
    return this.view?.piece.printer.id ?? '';
  },
  get printerWord() {
    const source = this.view?.piece.printer.source;
    if (source === undefined) return '';
    if (source === 'shipped') return 'Fits by common practice; measure yours';
    return source === 'typed' ? 'Fits typed by hand' : `Fits measured on ${source.measured}`;
  },
  setPrinter(event) {
    const printer = desk.printers.find((one) => one.id === event.target.value);
    if (printer) desk.set('piece', 'printer', printer);
  },

  // What was measured, and how it goes together with what is made.
  get sliver() {
    return this.view?.sliver ?? null;
  },
  get hasSliver() {
    return this.sliver !== null;
  },
  get sliverBody() {
    return this.sliver?.body ?? '';
  },
  get sliverGuest() {
    return this.sliver?.guest ?? '';
  },
  get sliverBox() {
    const bounds = this.sliver?.bounds;
    if (!bounds) return '0 0 1 1';
    const { x1, y0, y1 } = bounds;
    return [-1, -y1 - 1, x1 + 2, y1 - y0 + 2].join(' ');
  },
  get sliverWord() {
    if (!this.sliver) return '';
    const { measured, across } = this.sliver;
    const shown = (mm) => length(mm, this.units, this.units === 'in' ? 4 : 2);
    const room = Math.abs(across - measured);
    const goes =
      across > measured ? `${shown(measured)} in ${shown(across)}` : `${shown(across)} in ${shown(measured)}`;
    return `${goes}: ${shown(room / 2)} of room all round`;
  },

  /** Whether the component is shown cut through its middle. */
  get hasSide() {
    return Boolean(this.view?.side);
  },
  /** What is said of the elevation lies over it, below the cut. */
  get hintTop() {
    return this.hasSide ? 'top-46' : 'top-10';
  },
  get elevationTop() {
    return this.hasSide ? 'top-44' : 'top-8';
  },

  // Joints, by their places in the list of the piece.
  get joints() {
    return this.view?.piece.joints ?? [];
  },
  /** The joint at a place of the list, where it is cut into what is shown. */
  isCutHere(index) {
    return this.joints[index]?.into === this.partShown;
  },
  jointTitle(index) {
    const joint = this.joints[index];
    return joint ? `${joint.slot ? 'Slot' : 'Socket'} for ${this.nameOf(joint.part)}` : '';
  },
  nameOf(id) {
    return desk.components.find((one) => one.component === id)?.called ?? id;
  },
  fitKind(index) {
    const fit = this.joints[index]?.fit;
    return typeof fit === 'string' ? fit : 'clearance';
  },
  slotAt(index) {
    return this.view?.slots.find((one) => one.joint === this.joints[index]?.id) ?? null;
  },
  slotWord(index) {
    const slot = this.slotAt(index);
    if (!slot) return '';
    const shown = (mm) => length(mm, this.units, this.units === 'in' ? 4 : 2);
    const room = shown(slot.clearance / 2);
    return this.isSlot(index)
      ? `${shown(slot.width)} wide, ${room} of room on either side`
      : `${shown(slot.depth)} deep, ${room} of room all round`;
  },
  slotSection(index) {
    return this.slotAt(index)?.section ?? '';
  },
  slotPlate(index) {
    return this.slotAt(index)?.plate ?? '';
  },
  /** What of the section is shown: all of what the slot is cut into, and some of the plate. */
  slotBox(index) {
    const slot = this.slotAt(index);
    if (!slot) return '0 0 1 1';
    if (slot.bounds) {
      const { x0, x1, y0, y1 } = slot.bounds;
      return [x0, -y1, x1 - x0, y1 - y0].join(' ');
    }
    const [deep, high] = this.view.side_box;
    const above = Math.min(slot.depth / 2, high / 2) + 1;
    return [-deep / 2 - 1, -high - above, deep + 2, high + above + 1].join(' ');
  },
  isSlot(index) {
    return Boolean(this.joints[index]?.slot);
  },
  socketDepth(index) {
    return (this.joints[index]?.socket?.depth ?? null) === null ? 'level' : 'deep';
  },
  setSocketDepth(event) {
    const index = Number(event.target.dataset.joint);
    const depth = event.target.value === 'level' ? null : this.slotAt(index).depth;
    desk.set('piece', `joints.${index}.socket.depth`, depth);
  },
  isOpen(index) {
    return this.joints[index]?.slot?.open ?? false;
  },
  setOpen(event) {
    desk.set('piece', `joints.${event.target.dataset.joint}.slot.open`, event.target.checked);
  },
  removeJoint(event) {
    const index = Number(event.currentTarget.dataset.joint);
    desk.set(
      'piece',
      'joints',
      this.joints.filter((_, other) => other !== index),
    );
  },
  /** What could be joined to what is shown: plates to what stands or holds, and the other way round. */
  get joinable() {
    if (!this.view || this.blankShown === '') return [];
    const { components: all } = this.view.piece;
    const isHeld = (one) => this.joints.some((joint) => joint.part === one.id);
    const holds = (one) => this.joints.some((joint) => joint.into === one.id);
    const goesIn = (one) => one.blank.plate && !isHeld(one) && !holds(one);
    const stands = (one) => !one.blank.plate && !HOLLOW.some((kind) => one.blank[kind]);
    const takes = (one) => (one.blank.plate || stands(one)) && !isHeld(one);
    const shown = all.find((one) => one.id === this.partShown);
    const pairs = all
      .filter((one) => one.id !== shown.id)
      .flatMap((one) => [
        [shown, one],
        [one, shown],
      ]);
    return pairs.flatMap(([into, part]) => {
      if (!goesIn(part)) return [];
      const [receiver, plate] = [this.nameOf(into.id), this.nameOf(part.id)];
      const offer = (word, socket) => ({ key: `${word}`, into: into.id, part: part.id, socket, word });
      if (into.blank.box) return [offer(`Make ${plate} the lid of ${receiver}`, true)];
      const isInto = into === shown;
      return [
        ...(stands(into)
          ? [offer(isInto ? `Cut a slot for ${plate}` : `Stand it in ${receiver}`, false)]
          : []),
        ...(takes(into) ? [offer(isInto ? `Let ${plate} into it` : `Let it into ${receiver}`, true)] : []),
      ];
    });
  },
  join(event) {
    const { into, part, socket } = event.currentTarget.dataset;
    desk.edit([{ join: { into, part, socket: socket === 'true' } }], { done: () => desk.lookAt(into) });
  },
  /** What the shown component stands in. */
  get standsIn() {
    const joint = this.joints.find((one) => one.part === this.partShown);
    return joint ? joint.into : '';
  },
  get standsInWord() {
    const joint = this.joints.find((one) => one.part === this.partShown);
    return joint ? `${joint.slot ? 'Stands' : 'Lies'} in ${this.nameOf(joint.into)}` : '';
  },
});
