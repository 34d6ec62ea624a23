// The page of typefaces.
import Alpine from '@alpinejs/csp';
import { attempting, make, send } from './requests.js';

Alpine.data('typefaces', () => ({
  ...attempting,
  file: null,
  faces: [],
  licence: '',
  chosen: null,
  weight: 0,

  get found() {
    return this.faces.length > 0;
  },
  get isVariable() {
    return Boolean(this.chosen?.weights);
  },
  get least() {
    return this.chosen?.weights?.[0] ?? 0;
  },
  get greatest() {
    return this.chosen?.weights?.[2] ?? 0;
  },

  look(event) {
    const most = Number(event.target.dataset.mostMb);
    [this.file] = event.target.files;
    event.target.value = '';
    this.faces = [];
    return this.attempt(async () => {
      if (this.file.size > most << 20)
        throw new Error(
          `The file has ${(this.file.size / (1 << 20)).toFixed(0)} MB; a font may have ${most} MB at most.`,
        );
      const found = await (await send('POST', '/api/typefaces/look', this.file)).json();
      this.faces = found.faces;
      this.licence = found.licence || 'The font states none.';
      this.$nextTick(() => this.choose());
    });
  },

  /** Another face of a collection, at its usual weight. */
  choose() {
    const index = Number(this.$refs.face.value || this.faces[0].index);
    this.chosen = this.faces.find((face) => face.index === index) ?? this.faces[0];
    this.weight = 0;
    this.$refs.name.value = this.chosen.name;
    if (!this.chosen.weights) return;
    // Heavy faces print best; a variable one starts near its bold.
    const [least, , greatest] = this.chosen.weights;
    this.weight = Math.min(greatest, Math.max(least, 800));
    this.callIt();
  },

  weigh(event) {
    this.weight = Number(event.target.value);
    this.callIt();
  },

  /** A variable face is called by its weight, until it is given another name. */
  callIt() {
    const plain = this.chosen.name.replace(/ (Regular|Thin|Light|Medium|Bold)$/, '');
    const { value } = this.$refs.name;
    if (value === this.chosen.name || value.startsWith(`${plain} `))
      this.$refs.name.value = `${plain} ${this.weight}`;
  },

  keep() {
    return this.attempt(async () => {
      const asked = new URLSearchParams({ index: this.chosen.index, name: this.$refs.name.value });
      if (this.chosen.weights) asked.set('weight', this.weight);
      await make(`/api/typefaces?${asked}`, this.file);
      location.reload();
    });
  },

  drop(event) {
    return this.attempt(async () => {
      await send('POST', `/api/typefaces/${event.target.closest('[data-face]').dataset.face}/delete`);
      location.reload();
    });
  },
}));

Alpine.start();
