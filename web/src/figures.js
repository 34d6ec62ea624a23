// Lengths as figures. The core reads what is typed; here they are only written.

const IN_MM = { mm: 1, in: 25.4 };

/** The finest fraction of an inch that is written as one. */
const FINEST = 64;

/** Inches as a fraction, "1 1/2", where they are one; else nothing. */
function fraction(inches) {
  const parts = Math.round(Math.abs(inches) * FINEST);
  if (Math.abs(Math.abs(inches) * FINEST - parts) > 1e-4 || parts % FINEST === 0) return null;
  let [over, under] = [parts % FINEST, FINEST];
  while (over % 2 === 0) [over, under] = [over / 2, under / 2];
  const whole = Math.floor(parts / FINEST);
  return `${inches < 0 ? '-' : ''}${whole > 0 ? `${whole} ` : ''}${over}/${under}`;
}

/** A length in mm as a figure in a unit, without needless zeros and without the unit. */
export function figure(mm, unit, decimals = unit === 'in' ? 4 : 3) {
  const asFraction = unit === 'in' ? fraction(mm / IN_MM.in) : null;
  if (asFraction) return asFraction;
  const text = (mm / IN_MM[unit]).toFixed(decimals);
  const short = text.includes('.') ? text.replace(/\.?0+$/, '') : text;
  return short === '-0' ? '0' : short;
}

/** A length in mm with its unit. */
export function length(mm, unit, decimals) {
  return `${figure(mm, unit, decimals)} ${unit}`;
}

/** The step a length is dragged or stepped by, in mm. */
export function step(unit) {
  return unit === 'in' ? 25.4 / 64 : 0.5;
}

/** A length in mm rounded to what a drag should leave: a tenth of a millimetre, or 1/128 in. */
export function rounded(mm, unit) {
  const grain = unit === 'in' ? 25.4 / 128 : 0.1;
  return Math.round(Math.round(mm / grain) * grain * 1e6) / 1e6;
}

/** A plain figure as it was typed into a field, with a comma or a point; null where it is none. */
export function typed(event) {
  const text = event.target.value.replace(',', '.').replace(/\s*(mm|°)$/, '');
  const value = Number(text);
  return text.trim() !== '' && Number.isFinite(value) ? value : null;
}
