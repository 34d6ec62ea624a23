// Names of fields as templates have them: "el.edges.top" is a field of the selected element.

/** The key of a value that is a word or an object of one key. */
export const kindOf = (value) => (typeof value === 'string' ? value : (Object.keys(value ?? {})[0] ?? ''));

/** "el.edges.top" → the selected element and "edges.top"; the target is null where nothing is selected. */
export function split(desk, path) {
  const [target, ...field] = path.split('.');
  return [target === 'el' ? desk.selected : target, field.join('.')];
}

/** What stands at a path. */
export function valueAt(desk, path) {
  const [target, field] = split(desk, path);
  return target === null ? undefined : desk.value(target, field);
}

/** The corners of a rectangle, in the order they are named. */
export const CORNERS = ['top_left', 'top_right', 'bottom_right', 'bottom_left'];

/** What the corners of an outline are, where it is a rectangle. */
export const cornersOf = (outline) =>
  outline?.rectangle ? CORNERS.map((name) => outline.rectangle[name]) : [];
