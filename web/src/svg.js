// Small helpers to make SVG nodes.

const NAMESPACE = 'http://www.w3.org/2000/svg';

/** A new SVG node with attributes and children (nodes or text). */
export function node(name, attributes = {}, ...children) {
  const made = document.createElementNS(NAMESPACE, name);
  set(made, attributes);
  made.append(...children);
  return made;
}

/** Sets attributes; `null` and `false` take one away. */
export function set(target, attributes) {
  for (const [key, value] of Object.entries(attributes)) {
    if (value === null || value === false) target.removeAttribute(key);
    else if (target.getAttribute(key) !== String(value)) target.setAttribute(key, value);
  }
  return target;
}

/** Keeps one node per key below a parent, in order, so that focus and captured pointers survive a redraw. */
export function keyed(parent, items, key, make, update) {
  const known = new Map([...parent.children].map((child) => [child.dataset.key, child]));
  items.forEach((item, index) => {
    const name = key(item);
    let child = known.get(name);
    if (!child) {
      child = make(item);
      child.dataset.key = name;
    }
    known.delete(name);
    if (parent.children[index] !== child) parent.insertBefore(child, parent.children[index] ?? null);
    update(child, item);
  });
  known.forEach((child) => child.remove());
}
