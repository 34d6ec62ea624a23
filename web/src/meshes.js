// The page that looks into mesh files of others.
import Alpine from '@alpinejs/csp';
import { decode } from './piece/decode.js';
import { attempting, send } from './requests.js';

/** What the solid needs of a desk, with nothing on it to be chosen. */
class Stand extends EventTarget {
  bodies = [];
  side = 'front';
  view = { tones: [], elements: [], lift: 0, facts: { triangles: 0 } };
  select() {}
}

const stand = new Stand();
const spaced = (count) => count.toLocaleString('en').replace(/,/g, ' ');
let solid;

Alpine.data('meshes', () => ({
  ...attempting,
  report: null,
  name: '',
  working: false,

  get found() { return this.report !== null; },
  get title() { return this.name || 'Look into a mesh file'; },
  get sound() { return this.report?.is_sound ?? false; },
  get verdict() { return this.sound ? 'Closed and turned outwards: it can be printed' : 'Not sound'; },
  get sentences() { return this.report?.sentences ?? []; },
  get kind() { return this.report?.format ?? ''; },
  get unitWord() { return this.report?.likely_unit ?? ''; },
  get size() { return this.report ? `${this.report.size.map((side) => Number(side.toFixed(3))).join(' × ')} ${this.unitWord}` : ''; },
  get unit() {
    if (!this.report) return '';
    return this.report.unit ? `stated: ${this.report.unit}` : `not stated, by its size ${this.unitWord}`;
  },
  get volume() { return this.report ? `${Number(this.report.volume.toPrecision(6))} ${this.unitWord}³` : ''; },
  get triangles() { return this.report ? spaced(this.report.triangles) : ''; },
  get shells() { return String(this.report?.faults.shells ?? ''); },
  get isSeveral() { return (this.report?.bodies.length ?? 0) > 1; },
  get bodies() {
    return (this.report?.bodies ?? []).map((body, key) => ({ key, name: body.name || `Body ${key + 1}`, fill: stand.view.tones[key].flat, count: `${spaced(body.triangles)} triangles` }));
  },

  look(event) {
    const [file] = event.target.files;
    event.target.value = '';
    if (!file) return undefined;
    this.report = null;
    this.name = file.name;
    this.working = true;
    return this.attempt(async () => {
      try {
        const { view, bodies } = decode(await (await send('POST', '/api/meshes/look', file)).arrayBuffer());
        stand.bodies = bodies;
        stand.view = { ...stand.view, tones: view.tones, facts: { triangles: view.report.triangles } };
        this.report = view.report;
        await this.show();
      } finally {
        this.working = false;
      }
    });
  },

  async show() {
    if (!solid) {
      const { Solid } = await import('./piece/solid.js');
      solid = new Solid(this.$refs.solid, stand);
    } else {
      stand.dispatchEvent(new CustomEvent('view'));
    }
    solid.look('corner');
    this.$refs.solid.dataset.ready = 'yes';
  },
}));

Alpine.start();
