// The page of filaments: a table whose cells are kept as they are left.
import Alpine from '@alpinejs/csp';
import { attempting, changeField, make, send } from './requests.js';

const root = document.querySelector('[data-filaments]');
const FIGURES = ['density', 'spool_price', 'spool_mass'];

Alpine.data('filaments', () => ({
  ...attempting,
  rows: JSON.parse(root.dataset.filaments).map((filament) => ({ ...filament, key: filament.id })),
  said: '',

  add() {
    const key = `new-${this.rows.length}-${Date.now()}`;
    this.rows.push({
      id: '',
      key,
      name: 'New filament',
      colour: '#8a8f98',
      material: 'PLA',
      density: 1.24,
      spool_price: 25,
      spool_mass: 1000,
    });
    this.$nextTick(() => {
      const field = root.querySelector(`[data-key="${key}"] [data-field="name"]`);
      field.select();
      field.focus();
    });
  },

  keep(event) {
    const { field } = event.target.dataset;
    const row = this.rows.find((one) => one.key === event.currentTarget.dataset.key);
    const text = event.target.value.trim();
    const figure = Number(text.replace(',', '.'));
    return this.attemptInTurn(async () => {
      this.said = '';
      if (FIGURES.includes(field) && (text === '' || Number.isNaN(figure)))
        throw new Error(`“${text}” is no number.`);
      const value = FIGURES.includes(field) ? figure : text;
      const { key, ...filament } = row;
      // Of one that is kept this field alone is changed: others may have changed the rest.
      const kept = row.id
        ? await changeField('/api/filaments', row.id, { field, seen: row[field], value }, this.rows)
        : await (await make('/api/filaments', { ...filament, [field]: value })).json();
      Object.assign(row, kept, { key });
      this.said = `${kept.name} is kept.`;
    });
  },

  drop(event) {
    const { key } = event.target.closest('tr').dataset;
    const row = this.rows.find((one) => one.key === key);
    return this.attempt(async () => {
      if (row.id) await send('POST', `/api/filaments/${row.id}/delete`);
      this.rows = this.rows.filter((one) => one.key !== key);
      this.said = `${row.name} is gone.`;
    });
  },
}));

Alpine.start();
