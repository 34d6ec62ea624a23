// What is drawn on: the face of a piece, with what is there already. The page of the piece leaves it in this
// browser, and what was drawn is left for that page again.

const FACE = 'kalotype-face-drawn-on';
const PUT = 'kalotype-shapes-to-put';

const kept = (key) => {
  try {
    return JSON.parse(sessionStorage.getItem(key));
  } catch {
    return null;
  }
};

/** Corners sharper than this are points to catch; what turns less is a chord of a curve. */
const SHARP = Math.cos((25 * Math.PI) / 180);

/** The rings of a path of straight lines, y downwards, as points with y upwards. */
export function ringsOf(path, isMirrored = false) {
  const rings = path.split('M').filter(Boolean);
  return rings.map((ring) =>
    ring
      .replace('Z', '')
      .split('L')
      .map((pair) => pair.split(' ').map(Number))
      .map(([x, y]) => [isMirrored ? -x : x, -y]),
  );
}

/** The points of a ring where it turns sharply. */
export function sharpPoints(ring) {
  return ring.filter((at, i) => {
    const [before, after] = [ring.at(i - 1), ring[(i + 1) % ring.length]];
    const [ux, uy] = [at[0] - before[0], at[1] - before[1]];
    const [vx, vy] = [after[0] - at[0], after[1] - at[1]];
    return ux * vx + uy * vy < SHARP * Math.hypot(ux, uy) * Math.hypot(vx, vy);
  });
}

/** Leaves a face to be drawn on: `view` as the desk has it. */
export function leaveFace(piece, face, view) {
  const { plate, elements, mirrored } = view;
  const seen = elements.filter((placed) => placed.face === face || placed.through);
  const what = {
    piece,
    name: view.piece.name,
    component: view.component,
    face,
    title: view.faces?.find((one) => one.name === face)?.title ?? face,
    mirrored: Boolean(mirrored),
    paths: [plate.path, ...seen.map((placed) => placed.path)],
    bed: view.piece.printer.bed.slice(0, 2),
  };
  sessionStorage.setItem(FACE, JSON.stringify(what));
}

/** The face that was left for a piece, ready to be shown and caught at; nothing where none was. */
export function faceOf(piece) {
  const face = kept(FACE);
  if (!piece || face?.piece !== piece) return null;
  const rings = face.paths.flatMap((path) => ringsOf(path, face.mirrored));
  return {
    ...face,
    d: face.paths.join(''),
    points: rings.flatMap(sharpPoints),
    edges: rings.flatMap((ring) => ring.map((at, i) => [at, ring[(i + 1) % ring.length]])),
  };
}

/** Leaves shapes to be put on their face: ids, and where the middle of their frame is. */
export function leaveShapes({ piece, component, face }, shapes, at) {
  sessionStorage.setItem(PUT, JSON.stringify({ piece, component, face, shapes, at }));
}

/** The shapes left for a piece, once. */
export function takeShapes(piece) {
  const put = kept(PUT);
  if (put?.piece !== piece) return null;
  sessionStorage.removeItem(PUT);
  return put;
}
