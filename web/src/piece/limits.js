// What figures can be, by the core's own table.
import { length } from '../figures.js';

/**
 * The limit of a field of something, the nearest to it first: that of its own kind before that of
 * anything with such a field, and the longest name before a shorter one. `*` stands for one name.
 */
export function limitOf(limits, kind, field) {
  const names = field.split('.');
  const rank = (limit) => {
    const wanted = limit.field.split('.');
    const end = names.slice(-wanted.length);
    const isAlike =
      wanted.length === end.length && wanted.every((name, i) => name === '*' || name === end[i]);
    const isOwn = limit.of === kind && wanted.length === names.length;
    if (!isAlike || !(isOwn || limit.of === '*')) return 0;
    return wanted.length + (limit.of === kind ? 100 : 0);
  };
  const best = limits.reduce(
    (found, limit) => (rank(limit) > (found ? rank(found) : 0) ? limit : found),
    null,
  );
  return best;
}

/** The nearest figure a limit allows. */
export const within = (limit, value) => (limit ? Math.min(limit.high, Math.max(limit.low, value)) : value);

/** A limit in words: "0.2 mm to 480 mm". */
export function limitInWords(limit, units) {
  const shown =
    { length: (value) => length(value, units), angle: (value) => `${value}°` }[limit.measure] ?? String;
  return `${shown(limit.low)} to ${shown(limit.high)}`;
}
