// The settings of a mesh that a piece is made of.
import { sized } from './facts.js';

/** Millimetres to the units a mesh may have been drawn in. */
const DRAWN_IN = [1, 10, 1000, 25.4, 304.8];

export const meshBlank = (desk) => ({
  anotherUnit: false,

  get onMesh() {
    return this.view !== null && desk.isMesh;
  },
  get asBlank() {
    return this.view ? `as the ${desk.blankNoun}` : 'as the plate';
  },
  get emptyWord() {
    return `A ${this.onMesh ? 'face of a mesh' : this.view && desk.blankNoun}, ready for a name.`;
  },
  get meshFile() {
    return this.onMesh ? desk.blank.file : '';
  },
  get meshExtent() {
    return this.view?.mesh ? sized(this.view.mesh.extent, this.units) : '';
  },
  get meshFaces() {
    const size = (face) =>
      sized(
        face.size.map((side) => side * desk.blank.scale),
        this.units,
      );
    return (this.view?.mesh?.faces ?? []).map((face, index) => ({
      index,
      word: `${index + 1}  ${face.facing}, ${size(face)}`,
    }));
  },
  get meshFace() {
    return this.view?.mesh?.face ?? 0;
  },
  setMeshFace(event) {
    const { normal, level } = this.view.mesh.faces[event.target.value];
    desk.set('blank', 'face', { normal, level });
  },
  get drawnIn() {
    return this.onMesh && !this.anotherUnit && DRAWN_IN.includes(desk.blank.scale)
      ? String(desk.blank.scale)
      : 'other';
  },
  setDrawnIn(event) {
    this.anotherUnit = event.target.value === 'other';
    if (!this.anotherUnit) desk.set('blank', 'scale', Number(event.target.value));
  },
});
