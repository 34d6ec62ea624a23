// The page of printers: fields that are kept as they are left, gauges, and what was read off them.
import Alpine from '@alpinejs/csp';
import { attempting, changeField, make, send, valueOf } from './requests.js';

const root = document.querySelector('[data-printers]');
const SHIPPED = 'shipped';

/** What a field says: a name, or a figure; of what may be left open nothing. */
function valueIn(field, text) {
  if (field === 'name') return text;
  if (field === 'filaments' && text === '') return null;
  const figure = Number(text.replace(',', '.'));
  if (text === '' || Number.isNaN(figure)) throw new Error(`“${text}” is no number.`);
  return figure;
}

Alpine.data('printers', () => ({
  ...attempting,
  rows: JSON.parse(root.dataset.printers).map((printer) => ({ ...printer, key: printer.id })),
  said: '',
  left: [],
  reading: null,

  isShipped: (printer) => printer.id === SHIPPED,
  isOwn: (printer) => printer.id !== SHIPPED,
  isReading(printer) {
    return this.reading === printer.key;
  },
  filamentsOf: (printer) => printer.filaments ?? '',
  figureOf: (printer, field) => valueOf(printer, field),
  sourceOf({ source }) {
    if (source === 'shipped') return 'common practice, not measured';
    return source === 'typed' ? 'typed by hand' : `measured on a gauge on ${source.measured}`;
  },

  rowOf(event) {
    const { key } = event.target.closest('[data-key]').dataset;
    return this.rows.find((one) => one.key === key);
  },
  tellOf({ printer, pieces, left }) {
    const follow = pieces === 1 ? 'One piece follows it.' : `${pieces} pieces follow it.`;
    this.said = `${printer.name} is kept.${pieces > 0 ? ` ${follow}` : ''}`;
    this.left = left.map((line) => `Left as it was – ${line}`);
  },

  add() {
    return this.attempt(async () => {
      const { key, ...shipped } = this.rows.find(this.isShipped);
      const wanted = { ...shipped, id: '', name: 'New printer' };
      const kept = await (await make('/api/printers', wanted)).json();
      this.rows.push({ ...kept, key: kept.id });
      this.said = '';
      this.$nextTick(() => {
        const field = root.querySelector(`[data-key="${kept.id}"] [data-field="name"]`);
        field.select();
        field.focus();
      });
    });
  },

  keep(event) {
    const { field } = event.target.dataset;
    const row = this.rowOf(event);
    const text = event.target.value.trim();
    return this.attemptInTurn(async () => {
      this.said = '';
      const value = valueIn(field, text);
      const change = { field, seen: valueOf(row, field) ?? null, value };
      const kept = await changeField('/api/printers', row.id, change, this.rows);
      Object.assign(row, kept.printer);
      this.tellOf(kept);
    });
  },

  drop(event) {
    const row = this.rowOf(event);
    return this.attempt(async () => {
      await send('POST', `/api/printers/${row.id}/delete`);
      this.rows = this.rows.filter((one) => one.key !== row.key);
      this.said = `${row.name} is gone. Pieces made on it keep its figures.`;
    });
  },

  gauge(event) {
    const row = this.rowOf(event);
    const { joint } = event.target.dataset;
    return this.attempt(async () => {
      const made = await (await make(`/api/printers/${row.id}/gauge`, { joint })).json();
      window.location.assign(`/pieces/${made.id}`);
    });
  },

  beginReading(event) {
    this.reading = this.rowOf(event).key;
  },
  endReading() {
    this.reading = null;
  },
  read(event) {
    const row = this.rowOf(event);
    const answers = [...event.target.querySelectorAll('[data-place]')];
    return this.attempt(async () => {
      this.said = '';
      const went = answers.map((one) => one.value);
      const kept = await (await send('POST', `/api/printers/${row.id}/reading`, { went })).json();
      Object.assign(row, kept.printer);
      this.reading = null;
      this.tellOf(kept);
    });
  },
}));

Alpine.start();
