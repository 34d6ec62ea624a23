// Lengths as figures. The core reads what is typed; here they are only written.
import { send } from './requests.js';

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

/** The reason under a field that belongs to no piece; made when it is first needed. */
function reasonUnder(input) {
  const row = input.closest('.row') ?? input.parentElement;
  const found = row.querySelector(`.field-error[data-of="${input.ariaLabel || input.id}"]`);
  if (found) return found;
  const reason = document.createElement('p');
  reason.className = 'field-error';
  reason.dataset.of = input.ariaLabel || input.id;
  reason.setAttribute('role', 'alert');
  row.append(reason);
  return reason;
}

/**
 * A figure as it was typed into a field that belongs to no piece, read as those of a piece are: in either unit,
 * sums and fractions too. Null where the field is empty; undefined where it is no such figure, which is then
 * said under the field, and what was typed stays there.
 */
export async function typed(event, measure = 'length') {
  const input = event.target;
  const text = input.value;
  const reason = reasonUnder(input);
  const say = (message) => {
    reason.textContent = message;
    if (message) input.setAttribute('aria-invalid', 'true');
    else input.removeAttribute('aria-invalid');
  };
  if (text.trim() === '') {
    say('');
    return null;
  }
  try {
    const { value } = await (await send('POST', '/api/figures', { text, measure })).json();
    say('');
    return value;
  } catch (error) {
    say(error.message);
    return undefined;
  }
}
