// Answers that hold JSON and meshes in one.

/** Reads an answer: JSON and the meshes of the bodies in one. */
export function decode(buffer) {
  const data = new DataView(buffer);
  const jsonLength = data.getUint32(0, true);
  const view = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, jsonLength)));
  let at = 4 + jsonLength;
  const next = () => data.getUint32((at += 4) - 4, true);
  const bodies = Array.from({ length: next() }, () => {
    const [filament, vertices, triangles] = [next(), next(), next()];
    const positions = new Float32Array(buffer, at, 3 * vertices);
    const indices = new Uint32Array(buffer, at + 12 * vertices, 3 * triangles);
    at += 12 * (vertices + triangles);
    return { filament, positions, indices };
  });
  return { view: Object.freeze(view), bodies };
}
