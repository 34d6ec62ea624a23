// What the page does to take a piece away: which files there will be, and changes of filament.
import { send } from '../requests.js';
import { newGesture } from './desk.js';
import { sizeOf } from './facts.js';

const MESHES = ['stl', 'stl-text', '3mf', 'obj'];
const NOTES = {
  stl: 'Every program for printing reads it. It has no unit and no colours; the figures are millimetres.',
  'stl-text': 'The same to be read by people, about five times as large.',
  '3mf': 'With names, unit and colours, packed small. The piece lies where the printer’s bed begins.',
  obj: 'For drawing programs; in parts with a library of materials. It has no unit; the figures are millimetres.',
  svg: 'Outlines true to size, a group for what is cut and one for each depth and colour.',
  dxf: 'Outlines in millimetres, a layer for what is cut and one for each depth and colour.',
  'plan-png': 'A picture of the face, 1280 points along its longer side, on nothing.',
  'solid-png': 'A picture of the solid, 1280 × 960 points, on nothing.',
  piece: 'The piece itself, to be opened here again.',
};
const DIVISIONS = {
  stl: {
    together: 'All in one file.',
    split: 'A file for each colour, on one origin.',
    apart: 'A file for each colour, on one origin.',
  },
  '3mf': {
    together: 'One object in the colour of the plate.',
    split: 'One object of a part for each colour.',
    apart: 'An object for each colour, in their places.',
  },
  obj: {
    together: 'One object without colours.',
    split: 'One file, an object for each colour.',
    apart: 'A file for each colour, on one origin.',
  },
};

/** A size in bytes: "12 kB". */
const bytesOf = (bytes) =>
  bytes < 10_000
    ? `${(bytes / 1000).toFixed(1)} kB`
    : bytes < 1e6
      ? `${Math.round(bytes / 1000)} kB`
      : `${(bytes / 1e6).toFixed(1)} MB`;

/** The part of the page that exports. */
export const exporting = (desk, id) => ({
  tolerance: 'normal',
  format: '3mf',
  colours: 'split',
  each: 'bed',
  copies: 1,
  files: [],
  archive: null,
  listedCopies: 1,
  working: false,
  fileTrouble: '',
  pause: 'm600',
  copied: null,

  get isMesh() {
    return MESHES.includes(this.format);
  },
  get dividesColours() {
    return this.isMesh && this.isColoured;
  },
  get dividesComponents() {
    return this.isMesh && this.isOfSeveral;
  },
  get wholeSize() {
    return sizeOf(this.view);
  },
  get formatNote() {
    return NOTES[this.format];
  },
  get divisionNote() {
    return DIVISIONS[this.format === 'stl-text' ? 'stl' : this.format]?.[this.colours] ?? '';
  },
  get options() {
    const colours = this.isColoured ? this.colours : 'together';
    const asked = { format: this.format, tolerance: this.tolerance, colours, each: this.each === 'each' };
    if (this.counts) asked.copies = this.copies;
    return new URLSearchParams(asked).toString();
  },
  /** While files are counted again, the last ones stay, paler. */
  get workingClass() {
    return this.working ? 'opacity-50' : '';
  },
  get isFirstList() {
    return this.working && this.files.length === 0;
  },
  get fileAddress() {
    return `/pieces/${id}/export?${this.options}`;
  },
  get fileWord() {
    return this.archive ? 'ZIP' : (this.files[0]?.name.split('.').pop() ?? this.format).toUpperCase();
  },

  chooseFormat(event) {
    this.format = event.target.value;
    this.list();
  },
  chooseColours(event) {
    this.colours = event.target.value;
    this.list();
  },
  chooseEach(event) {
    this.each = event.target.value;
    this.list();
  },
  /** What is said of copies beside the first, whose files are listed. */
  get otherCopies() {
    const others = this.files.length > 0 ? this.listedCopies - 1 : 0;
    if (others === 0) return '';
    return others === 1
      ? 'And the same for the other copy.'
      : `And the same for each of the ${others} other copies.`;
  },
  /** Whether a text of the piece counts, so that copies differ. */
  get counts() {
    return this.view?.piece.inputs.some((input) => input.counts) ?? false;
  },
  setCopies(event) {
    this.copies = Math.min(100, Math.max(1, Math.round(Number(event.target.value)) || 1));
    event.target.value = this.copies;
    this.list();
  },
  chooseTolerance(event) {
    this.tolerance = event.target.value;
    this.list();
  },

  afterSaving: (event) => desk.beforeLink(event),

  /** What would be written, by the server's own count. */
  async list() {
    const asked = this.options;
    this.working = true;
    try {
      await desk.settled();
      const { files, copies, archive } = await (await send('GET', `${desk.address}/export?${asked}`)).json();
      if (asked !== this.options) return;
      this.files = files.map((file) => ({
        ...file,
        // What is packed has its size once it is written.
        size: file.bytes === null ? '' : bytesOf(file.bytes),
        count:
          file.triangles === null
            ? ''
            : `${file.triangles.toLocaleString('en').replace(/,/g, ' ')} triangles`,
      }));
      this.archive = archive;
      this.listedCopies = copies;
      this.fileTrouble = '';
      this.working = false;
    } catch (error) {
      this.files = [];
      this.working = false;
      this.fileTrouble = error.message;
    }
  },
  /** What a name can be made of. */
  get fileWords() {
    return (this.view?.file_words ?? []).map((word) => `{${word}}`);
  },
  /** Puts a word where the caret is. */
  insertFileWord(event) {
    const { fileName } = this.$refs;
    const { selectionStart: from, selectionEnd: to, value } = fileName;
    const gap = from > 0 && !' -_'.includes(value[from - 1]) ? ' ' : '';
    fileName.setRangeText(gap + event.currentTarget.dataset.word, from, to, 'end');
    fileName.focus();
    fileName.dispatchEvent(new Event('input'));
  },
  /** The names follow the pattern as it is typed. */
  renameFiles(event) {
    desk.set('piece', 'file_name', event.target.value, {
      done: () => this.list(),
      refused: (error) => (this.fileTrouble = error.message),
    });
  },

  get swapList() {
    const { swaps, piece } = this.view ?? {};
    return (swaps?.swaps ?? []).map((swap) => ({
      ...swap,
      name: piece.filaments[swap.filament].name,
      fill: piece.filaments[swap.filament].colour,
      at: `${swap.height.toFixed(2)} mm`,
    }));
  },
  get beginsWith() {
    const filament = this.view?.piece.filaments[this.view.swaps?.begins_with ?? 0];
    return filament ?? { name: '', colour: 'none' };
  },
  /** Why layers have two colours, with what cures it. */
  get reasons() {
    return (this.view?.swaps?.reasons ?? []).map(({ text, remedies }, index) => ({
      text,
      ways: remedies.map(({ label }, way) => ({ label, way, index })),
    }));
  },
  heed(event) {
    const { index, way } = event.currentTarget.dataset;
    const { edits } = this.view.swaps.reasons[index].remedies[way];
    return desk.edit(edits, { gesture: newGesture(), done: () => this.closeIdleSwaps() });
  },
  swapsFromExport() {
    this.$refs.export.close();
    this.showSwaps();
  },
  get sheetAddress() {
    return `data:text/plain;charset=utf-8,${encodeURIComponent(this.swapSheet)}`;
  },
  /** Once the last change of colour is gone there is nothing to tell. */
  closeIdleSwaps() {
    if (!this.isColoured) this.$refs.swaps.close();
  },
  get layersInAll() {
    return this.view?.swaps?.layers ?? 0;
  },
  setStart(event) {
    desk.set('piece', 'layers.start', Number(event.target.value));
  },
  get layerStart() {
    return String(this.view?.piece.layers.start ?? 0);
  },
  choosePause(event) {
    this.pause = event.target.value;
  },
  /** The list to print and the lines for the printer, of the same answer as the list that is shown. */
  get swapSheet() {
    return this.view?.swaps?.sheet ?? '';
  },
  get pauseLines() {
    const lines = this.view?.swaps?.lines ?? [];
    return lines.find((one) => one.pause === this.pause)?.text ?? '';
  },
  copyLines() {
    return this.copyText(this.pauseLines, 'The lines are copied.');
  },
  copySheet() {
    return this.copyText(this.swapSheet, 'The list is copied.');
  },
  async copyText(text, said) {
    try {
      await navigator.clipboard.writeText(text);
      this.copied = { text, said };
    } catch {
      const cannot = 'The browser does not let a page copy here. Select the text and copy it by hand.';
      this.copied = { text, said: cannot };
    }
  },
  /** What became of copying, as long as that is what is shown. */
  get copySaid() {
    const isShown = [this.pauseLines, this.swapSheet].includes(this.copied?.text);
    return isShown ? this.copied.said : '';
  },
});
