// What one person likes on this browser, piece by piece the same.
const keyOf = (name) => `kalotype-${name}`;

/** Whether something was switched on. */
export function remembered(name) {
  return localStorage.getItem(keyOf(name)) === 'yes';
}

/** Keeps that something is on or off. */
export function remember(name, isOn) {
  if (isOn) localStorage.setItem(keyOf(name), 'yes');
  else localStorage.removeItem(keyOf(name));
}
