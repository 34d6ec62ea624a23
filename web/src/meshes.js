// The page that looks into mesh files of others, and makes pieces of them.
import Alpine from '@alpinejs/csp';
import { decode } from './piece/decode.js';
import { attempting, make, send } from './requests.js';

/** What the solid needs of a desk, with faces instead of elements to be chosen. */
class Stand extends EventTarget {
  bodies = [];
  face = 'front';
  view = { tones: [], elements: [], lift: 0, facts: { triangles: 0 } };
  select() {}
}

const stand = new Stand();
const spaced = (count) => count.toLocaleString('en').replace(/,/g, ' ');
const dot = (a, b) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
let solid;
// The file that was chosen, until it is kept.
let file = null;

/** The corners of the triangles that lie in a flat face, a hair above it so that they are seen. */
function trianglesIn({ normal, level }, largest) {
  const hair = 2e-5 * largest;
  const found = [];
  for (const { positions, indices } of stand.bodies) {
    for (let i = 0; i < indices.length; i += 3) {
      const corners = [0, 1, 2].map((k) => [0, 1, 2].map((axis) => positions[3 * indices[i + k] + axis]));
      if (!corners.every((corner) => Math.abs(dot(corner, normal) - level) <= hair)) continue;
      const [a, b, c] = corners;
      const [u, v] = [b, c].map((end) => end.map((at, axis) => at - a[axis]));
      const across = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
      if (dot(across, normal) <= 0) continue;
      for (const corner of corners)
        found.push(...corner.map((at, axis) => at + normal[axis] * 5e-4 * largest));
    }
  }
  return new Float32Array(found);
}

Alpine.data('meshes', () => ({
  ...attempting,
  report: null,
  name: '',
  working: false,
  // The id of the mesh, once it is kept.
  kept: null,
  chosen: 0,
  scale: 1,
  // What the piece is to be called.
  called: '',

  get found() {
    return this.report !== null;
  },
  get title() {
    return this.name || 'Look into a mesh file';
  },
  get sound() {
    return this.report?.is_sound ?? false;
  },
  get verdict() {
    return this.sound ? 'Closed and turned outwards: it can be printed' : 'Not sound';
  },
  get sentences() {
    return this.report?.sentences ?? [];
  },
  get remarks() {
    return this.report?.remarks ?? [];
  },
  get hasRemarks() {
    return this.remarks.length > 0;
  },
  get kind() {
    return this.report?.format ?? '';
  },
  get unitWord() {
    return this.report?.likely_unit ?? '';
  },
  get size() {
    return this.report
      ? `${this.report.size.map((side) => Number(side.toFixed(3))).join(' × ')} ${this.unitWord}`
      : '';
  },
  get unit() {
    if (!this.report) return '';
    return this.report.unit ? `stated: ${this.report.unit}` : `not stated, by its size ${this.unitWord}`;
  },
  get volume() {
    return this.report ? `${Number(this.report.volume.toPrecision(6))} ${this.unitWord}³` : '';
  },
  get triangles() {
    return this.report ? spaced(this.report.triangles) : '';
  },
  get shells() {
    return String(this.report?.faults.shells ?? '');
  },
  get isSeveral() {
    return (this.report?.bodies.length ?? 0) > 1;
  },
  get bodies() {
    return (this.report?.bodies ?? []).map((body, key) => ({
      key,
      name: body.name || `Body ${key + 1}`,
      fill: stand.view.tones[key].flat,
      count: `${spaced(body.triangles)} triangles`,
    }));
  },
  get refusal() {
    return this.report?.blank.refusal ?? '';
  },
  get isMended() {
    return this.report?.blank.is_mended ?? false;
  },
  get faces() {
    return (this.report?.blank.faces ?? []).map((face, index) => ({
      index,
      word: `${index + 1}  ${face.facing}`,
      size: `${face.size.map((side) => Number((side * this.scale).toFixed(2))).join(' × ')} mm`,
    }));
  },

  look(event) {
    [file] = event.target.files;
    event.target.value = '';
    if (!file) return undefined;
    return this.take(file.name, null, () => send('POST', '/api/meshes/look', file));
  },

  /** One that is kept already. */
  open(event) {
    const { mesh } = event.target.closest('[data-mesh]').dataset;
    return this.take(event.target.dataset.name, mesh, () => send('GET', `/api/meshes/${mesh}`));
  },

  take(name, kept, ask) {
    this.report = null;
    this.name = name;
    this.kept = kept;
    this.working = true;
    return this.attempt(async () => {
      try {
        const { view, bodies } = decode(await (await ask()).arrayBuffer());
        stand.bodies = bodies;
        stand.view = { ...stand.view, tones: view.tones, facts: { triangles: view.report.triangles } };
        this.called = name.replace(/\.\w+$/, '');
        this.report = view.report;
        this.scale = view.report.blank.scale;
        this.chosen = 0;
        await this.show();
      } finally {
        this.working = false;
      }
    });
  },

  async show() {
    if (!solid) {
      const { Solid } = await import('./piece/solid.js');
      stand.hit = (hit) => this.pick(hit);
      solid = new Solid(this.$refs.solid, stand);
    } else {
      stand.dispatchEvent(new CustomEvent('view'));
    }
    solid.look('corner');
    this.mark();
    this.$refs.solid.dataset.ready = 'yes';
  },

  /** Shows on the solid which face is chosen. */
  mark() {
    const face = this.report.blank.faces[this.chosen];
    solid.mark(face ? trianglesIn(face, Math.max(...this.report.size)) : null);
  },

  chooseFace(event) {
    this.chosen = Number(event.target.value);
    this.mark();
  },

  /** The flat face that was clicked. */
  pick(hit) {
    if (!hit) return;
    const normal = hit.face.normal.toArray();
    const hair = 1e-3 * Math.max(...this.report.size);
    const lies = (face) =>
      dot(face.normal, normal) > 0.9999 &&
      Math.abs(dot(hit.point.toArray(), face.normal) - face.level) < hair;
    const found = this.report.blank.faces.findIndex(lies);
    if (found < 0) return;
    this.chosen = found;
    this.mark();
  },

  call(event) {
    this.called = event.target.value;
  },

  chooseUnit(event) {
    this.scale = Number(event.target.value);
  },

  /** Keeps the mesh and makes a piece of the face that is chosen. */
  make() {
    return this.attempt(async () => {
      this.kept ??= (
        await (await send('POST', `/api/meshes?name=${encodeURIComponent(this.name)}`, file)).json()
      ).id;
      const wanted = { name: this.called, units: 'mm', scale: this.scale, face: this.chosen };
      const { id } = await (await make(`/api/meshes/${this.kept}/pieces`, wanted)).json();
      location.assign(`/pieces/${id}`);
    });
  },

  drop(event) {
    const row = event.target.closest('[data-mesh]');
    return this.attempt(async () => {
      await send('POST', `/api/meshes/${row.dataset.mesh}/delete`);
      row.remove();
    });
  },
}));

Alpine.start();
