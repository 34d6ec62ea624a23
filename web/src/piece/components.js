// The components of a piece: which is looked at, what is added, and what joins them.
import { length } from '../figures.js';
import { massOf } from './facts.js';

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
    const { value } = event.target;
    event.target.value = '';
    if (value) desk.addComponent(value);
  },
  duplicatePart() {
    desk.edit([{ duplicate: { target: this.partShown } }]);
  },
  removePart() {
    desk.edit([{ remove: { target: this.partShown } }]);
  },
  setTent(event) {
    desk.turn('blank', 'thickness', event.target.value);
  },
  get tentKind() {
    return this.view && desk.blank.thickness === null ? 'solid' : 'card';
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
    return this.joints[index] ? `Slot for ${this.nameOf(this.joints[index].part)}` : '';
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
    return `${shown(slot.width)} wide, ${shown(slot.clearance / 2)} of room on either side`;
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
    const [deep, high] = this.view.side_box;
    const above = Math.min(slot.depth / 2, high / 2) + 1;
    return [-deep / 2 - 1, -high - above, deep + 2, high + above + 1].join(' ');
  },
  isOpen(index) {
    return this.joints[index]?.slot.open ?? false;
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
  /** What could be joined to what is shown: plates to what stands, and the other way round. */
  get joinable() {
    if (!this.view || this.blankShown === 'mesh') return [];
    const { components: all } = this.view.piece;
    const goesIn = (one) => one.blank.plate && !this.joints.some((joint) => joint.part === one.id);
    const stands = (one) => !one.blank.plate && !one.blank.mesh;
    const shown = all.find((one) => one.id === this.partShown);
    const others = all.filter((one) => one.id !== this.partShown);
    if (stands(shown)) {
      return others.filter(goesIn).map(({ id }) => ({
        key: id,
        into: shown.id,
        part: id,
        word: `Cut a slot for ${this.nameOf(id)}`,
      }));
    }
    if (!goesIn(shown)) return [];
    return others.filter(stands).map(({ id }) => ({
      key: id,
      into: id,
      part: shown.id,
      word: `Stand it in ${this.nameOf(id)}`,
    }));
  },
  join(event) {
    const { into, part } = event.currentTarget.dataset;
    desk.edit([{ join: { into, part } }], { done: () => desk.lookAt(into) });
  },
  /** What the shown component stands in. */
  get standsIn() {
    const joint = this.joints.find((one) => one.part === this.partShown);
    return joint ? joint.into : '';
  },
  get standsInWord() {
    return this.standsIn ? `Stands in ${this.nameOf(this.standsIn)}` : '';
  },
});
