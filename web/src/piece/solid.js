// The solid: the very mesh that will be exported, turned by hand and drawn on demand.
import {
  AmbientLight,
  Box3,
  BufferAttribute,
  BufferGeometry,
  Color,
  DirectionalLight,
  DoubleSide,
  EdgesGeometry,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshBasicMaterial,
  MeshLambertMaterial,
  PerspectiveCamera,
  Raycaster,
  Scene,
  Vector2,
  Vector3,
  WebGLRenderer,
} from 'three';
import { OrbitControls } from 'three/addons/controls/OrbitControls.js';
import { solidInWords } from './facts.js';
import { isHere, ringsOf, spotsOf } from './spots.js';

/** Named views: where the eye stands, seen from the middle of the piece. */
export const VIEWS = {
  corner: [-0.28, -0.8, 1],
  face: [0, -0.001, 1],
  foot: [0, 0.001, -1],
  front: [0, -1, 0.02],
  end: [1, 0, 0.02],
};

const FEATURE_ANGLE_DEGREES = 24;

export class Solid {
  constructor(host, desk) {
    this.host = host;
    this.desk = desk;
    this.renderer = new WebGLRenderer({ antialias: window.devicePixelRatio < 2, alpha: true });
    this.renderer.domElement.className = 'solid-canvas';
    this.renderer.domElement.tabIndex = 0;
    this.renderer.domElement.setAttribute('role', 'img');
    host.append(this.renderer.domElement);
    this.camera = new PerspectiveCamera(32, 1, 1, 5000);
    this.camera.up.set(0, 0, 1);
    this.scene = new Scene();
    this.light = new DirectionalLight(0xffffff, 2.6);
    this.scene.add(new AmbientLight(0xffffff, 0.9), this.light, this.light.target);
    this.lineMaterial = new LineBasicMaterial({ transparent: true, opacity: 0.55 });
    // For every body a mesh and its lines.
    this.bodies = [];
    // "together", "apart", or the number of the one body that is shown.
    this.showing = 'together';
    // Of a piece of several components: "one", all side by side on the "bed", or "joined".
    this.company = 'one';
    this.controls = new OrbitControls(this.camera, this.renderer.domElement);
    this.controls.enableDamping = false;
    this.controls.addEventListener('change', () => this.request());
    // Until the solid is turned by hand it follows the size of the piece.
    this.follows = 'corner';
    this.controls.addEventListener('start', () => (this.follows = null));
    this.wire = false;
    this.listen();
    this.show();
  }

  listen() {
    this.desk.addEventListener('view', () => this.show());
    for (const name of ['view', 'findings', 'pointed'])
      this.desk.addEventListener(name, () => this.showTroubles());
    // Until it is turned by hand it shows the face the plan shows.
    this.desk.addEventListener('turned', () => this.follows && this.look(this.sideOf(this.desk.view)));
    new ResizeObserver(() => (this.follows ? this.look(this.follows) : this.request())).observe(this.host);
    matchMedia('(prefers-color-scheme: dark)').addEventListener('change', () => this.request());
    const canvas = this.renderer.domElement;
    let down = null;
    canvas.addEventListener('pointerdown', (event) => {
      down = [event.clientX, event.clientY];
    });
    canvas.addEventListener('pointerup', (event) => {
      if (down && Math.hypot(event.clientX - down[0], event.clientY - down[1]) < 4) this.pick(event);
      down = null;
    });
    canvas.addEventListener('keydown', (event) => {
      const turn = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
      if (!turn) return;
      event.preventDefault();
      event.stopPropagation();
      this.turn(turn[0] * 0.12, turn[1] * 0.12);
    });
  }

  /** Takes over the bodies the desk has. */
  show() {
    const { view } = this.desk;
    const key = [this.company, this.company === 'one' ? view.component : ''].join();
    if (this.desk.bodies.length === 0 || (this.desk.bodies === this.shown && key === this.shownAs)) return;
    [this.shown, this.shownAs] = [this.desk.bodies, key];
    const bodies = placedBodies(this.desk, this.company);
    for (const { mesh, lines } of this.bodies) {
      this.scene.remove(mesh, lines);
      for (const part of [mesh, lines]) part.geometry.dispose();
      mesh.material.dispose();
    }
    const box = new Box3();
    this.bodies = bodies.map(({ filament, component, positions, indices }) => {
      const geometry = new BufferGeometry();
      geometry.setAttribute('position', new BufferAttribute(positions, 3));
      geometry.setIndex(new BufferAttribute(indices, 1));
      geometry.computeBoundingBox();
      box.union(geometry.boundingBox);
      const material = new MeshLambertMaterial({
        color: lit(view.tones[filament].flat),
        flatShading: true,
        polygonOffset: true,
        polygonOffsetFactor: 1,
        polygonOffsetUnits: 1,
      });
      const mesh = new Mesh(geometry, material);
      const lines = new LineSegments(new BufferGeometry(), this.lineMaterial);
      this.scene.add(mesh, lines);
      return { filament, component, mesh, lines };
    });
    if (typeof this.showing === 'number' && !this.bodies.some((body) => body.filament === this.showing))
      this.showing = 'together';
    this.drawLines();
    this.middle = box.getCenter(new Vector3());
    this.size = box.getSize(new Vector3());
    this.arrange();
    // A mesh that is only looked at is no piece yet.
    const said = view.piece ? solidInWords(view) : `Solid, ${view.facts.triangles} triangles.`;
    this.renderer.domElement.setAttribute('aria-label', `${said} Arrow keys turn it.`);
    if (this.follows) this.look(this.follows);
    else this.request();
  }

  /** Puts the bodies where they are to be seen: in their places, apart by height, or but one. */
  arrange() {
    const height = (body) => {
      const { min, max } = body.mesh.geometry.boundingBox;
      return min.z + max.z;
    };
    const order = [...this.bodies].sort((a, b) => height(a) - height(b));
    const gap = this.showing === 'apart' ? Math.max(this.size.z * 1.4, 4) : 0;
    order.forEach((body, place) => {
      for (const part of [body.mesh, body.lines]) {
        part.position.z = gap * place;
        part.visible = typeof this.showing !== 'number' || body.filament === this.showing;
      }
    });
    const rise = gap * Math.max(0, this.bodies.length - 1);
    const { x: width, y: depth, z: tall } = this.size;
    this.centre = this.middle.clone().setZ(this.middle.z + rise / 2);
    this.radius = Math.hypot(width, depth, tall + rise) / 2 || 1;
    this.corners = [-1, 1].flatMap((x) =>
      [-1, 1].flatMap((y) =>
        [-1, 1].map((z) => new Vector3((x * width) / 2, (y * depth) / 2, (z * (tall + rise)) / 2)),
      ),
    );
  }

  /** Shows all bodies "together" or "apart", or one of them by its filament. */
  setShowing(showing) {
    this.showing = showing;
    this.arrange();
    if (this.follows) this.look(this.follows);
    else this.request();
  }

  /** Shows the component that is looked at, all "bed" side by side, or all "joined". */
  setCompany(company) {
    this.company = company;
    this.show();
  }

  /** Marks some triangles, given by their corners; without any, nothing. */
  mark(positions) {
    if (this.marked) {
      this.scene.remove(this.marked);
      this.marked.geometry.dispose();
      this.marked.material.dispose();
      this.marked = null;
    }
    if (positions?.length > 0) {
      const geometry = new BufferGeometry();
      geometry.setAttribute('position', new BufferAttribute(positions, 3));
      const accent = getComputedStyle(document.documentElement).getPropertyValue('--accent').trim();
      this.marked = new Mesh(geometry, new MeshBasicMaterial({ color: accent }));
      this.scene.add(this.marked);
    }
    this.request();
  }

  /** The places of the finding that is pointed at, through whatever lies before them. */
  showTroubles() {
    const before = this.troubles;
    if (this.troubles) {
      this.scene.remove(this.troubles);
      this.troubles.geometry.dispose();
      this.troubles.material.dispose();
      this.troubles = null;
    }
    const { desk } = this;
    const finding = desk.pointed === null ? null : desk.view?.findings?.[desk.pointed];
    const spots = finding && this.company === 'one' && isHere(desk, finding) ? spotsOf(desk, finding) : [];
    const positions = spots.flatMap((spot) => wallsOf(spot, desk.view));
    if (positions.length > 0) {
      const geometry = new BufferGeometry();
      geometry.setAttribute('position', new BufferAttribute(new Float32Array(positions), 3));
      const accent = getComputedStyle(document.documentElement).getPropertyValue('--accent').trim();
      const material = new MeshBasicMaterial({
        color: accent,
        side: DoubleSide,
        transparent: true,
        opacity: 0.8,
        depthTest: false,
      });
      this.troubles = new Mesh(geometry, material);
      this.troubles.renderOrder = 1;
      this.scene.add(this.troubles);
    }
    if (before || this.troubles) this.request();
  }

  drawLines() {
    for (const { mesh, lines } of this.bodies) {
      const { geometry } = mesh;
      lines.geometry.dispose();
      lines.geometry = this.wire ? wireOf(geometry) : new EdgesGeometry(geometry, FEATURE_ANGLE_DEGREES);
    }
  }

  setWire(wire) {
    this.wire = wire;
    this.drawLines();
    this.request();
  }

  /** The view that shows what the plan shows. */
  sideOf({ mirrored, chart }) {
    const isUpright = chart && Math.abs(chart.lies.out[2]) < 0.9 && this.company === 'one';
    return isUpright ? 'side' : mirrored ? 'foot' : 'corner';
  }

  /** From where a view is seen: of a face that stands, from before it and a little aside and above. */
  directionOf(name) {
    const { chart } = this.desk.view;
    if (name !== 'side') return new Vector3(...VIEWS[name]);
    if (!chart) return new Vector3(...VIEWS.corner);
    const { out, across } = chart.lies;
    return new Vector3(...out.map((part, i) => part - 0.28 * across[i] + (i === 2 ? 0.4 : 0)));
  }

  look(name) {
    this.follows = name;
    const direction = this.directionOf(name).normalize();
    const distance = this.distanceFor(direction);
    this.controls.target.copy(this.centre);
    this.camera.position.copy(this.centre).addScaledVector(direction, distance);
    this.controls.update();
    this.request();
  }

  /** How far the eye must stand off for the whole piece to be in sight, seen from a direction. */
  distanceFor(direction) {
    const aspect = Math.max(0.1, this.host.clientWidth / Math.max(1, this.host.clientHeight));
    const vertical = Math.tan(((this.camera.fov / 2) * Math.PI) / 180);
    const right = new Vector3(0, 0, 1).cross(direction).normalize();
    const up = direction.clone().cross(right);
    let distance = 0;
    for (const corner of this.corners) {
      const [x, y, near] = [right, up, direction].map((axis) => corner.dot(axis));
      distance = Math.max(distance, Math.abs(y) / vertical + near, Math.abs(x) / (vertical * aspect) + near);
    }
    return distance * 1.06;
  }

  turn(around, over) {
    this.follows = null;
    const arm = this.camera.position.clone().sub(this.controls.target);
    const length = arm.length();
    let azimuth = Math.atan2(arm.x, -arm.y) + around;
    let polar = Math.acos(Math.min(1, Math.max(-1, arm.z / length))) + over;
    polar = Math.min(Math.PI - 0.001, Math.max(0.001, polar));
    arm
      .set(Math.sin(polar) * Math.sin(azimuth), -Math.sin(polar) * Math.cos(azimuth), Math.cos(polar))
      .multiplyScalar(length);
    this.camera.position.copy(this.controls.target).add(arm);
    this.controls.update();
    this.request();
  }

  /** Selects what was clicked: the element whose outline and heights hold the point hit. */
  pick(event) {
    const box = this.renderer.domElement.getBoundingClientRect();
    const at = new Vector2(
      ((event.clientX - box.left) / box.width) * 2 - 1,
      1 - ((event.clientY - box.top) / box.height) * 2,
    );
    const ray = new Raycaster();
    ray.setFromCamera(at, this.camera);
    const shown = this.bodies.map((body) => body.mesh).filter((mesh) => mesh.visible);
    const [hit] = ray.intersectObjects(shown);
    if (this.desk.hit) return this.desk.hit(hit ?? null);
    if (!hit) return this.desk.select(null);
    if (this.company !== 'one') {
      const { component } = this.bodies.find((body) => body.mesh === hit.object);
      this.desk.select(null);
      return this.desk.lookAt(component);
    }
    const { normal } = hit.face;
    const NUDGE = 0.02;
    const test = (placed, outwards) => {
      const point = hit.point.clone().addScaledVector(normal, outwards ? NUDGE : -NUDGE);
      // The piece stands on the bed; heights count from the foot of its sections, or behind its face.
      point.z -= this.desk.view.lift + hit.object.position.z;
      const chart = this.desk.view.charts?.find((one) => one.name === placed.face);
      if (chart) point.copy(chart.round ? unrolled(point, chart.round) : inChart(point, chart.lies));
      if (point.z < placed.bottom - 0.01 || point.z > placed.top + 0.01) return false;
      const path = new Path2D(placed.path);
      return pathContext().isPointInPath(path, point.x, -point.y, 'evenodd');
    };
    // Inside what was added, or just off the wall or floor of what was cut.
    const found = this.desk.view.elements.filter((placed) => test(placed, !placed.adds)).at(-1);
    this.desk.select(found?.id ?? null);
    if (found) this.desk.lookFor(found.id);
    return undefined;
  }

  request() {
    if (this.pending) return;
    this.pending = true;
    requestAnimationFrame(() => {
      this.pending = false;
      this.render();
    });
  }

  render() {
    const [width, height] = [this.host.clientWidth, this.host.clientHeight];
    if (width === 0 || height === 0) return;
    this.renderer.setPixelRatio(Math.min(2, window.devicePixelRatio));
    this.renderer.setSize(width, height, false);
    this.camera.aspect = width / height;
    this.camera.updateProjectionMatrix();
    const style = getComputedStyle(document.documentElement);
    this.lineMaterial.color = new Color(style.getPropertyValue('--ink').trim());
    // The light comes over the viewer's left shoulder, wherever the viewer stands.
    const toLeft = new Vector3(-0.9, 0.9, 0).applyQuaternion(this.camera.quaternion);
    this.light.position.copy(this.camera.position).addScaledVector(toLeft, this.radius * 3);
    this.light.target.position.copy(this.controls.target);
    this.renderer.render(this.scene, this.camera);
  }
}

/** The bodies that are shown, each where it is to be seen. */
function placedBodies(desk, company) {
  if (company === 'one') return desk.bodies.filter((body) => (body.component ?? '') === (desk.shown ?? ''));
  const poses = new Map(desk.components.map((one) => [one.component, one]));
  return desk.bodies.map((body) => {
    const { across, up, out, origin } =
      company === 'bed'
        ? poses.get(body.component).bed
        : joinedPose(desk, poses, body.component, company === 'apart');
    const positions = new Float32Array(body.positions.length);
    for (let i = 0; i < positions.length; i += 3) {
      const [x, y, z] = body.positions.subarray(i, i + 3);
      for (let axis = 0; axis < 3; axis += 1) {
        positions[i + axis] = origin[axis] + x * across[axis] + y * up[axis] + z * out[axis];
      }
    }
    return { ...body, positions };
  });
}

/**
 * Where a component stands when the piece is put together; drawn apart, what goes into another is lifted
 * out of it along the joint. What is joined to nothing stands beside the rest, as on the bed.
 */
function joinedPose(desk, poses, component, isApart) {
  const { pose, aside } = poses.get(component);
  const joint = desk.whole.piece.joints.find((one) => one.part === component);
  const beside = joint ? poses.get(joint.into).aside : aside;
  const origin = [pose.origin[0] + beside, pose.origin[1], pose.origin[2]];
  if (!joint || !isApart) return { ...pose, origin };
  // A plate is drawn out of its slot along its height, and lifted out of its socket.
  const slots = desk.components.find((one) => one.component === joint.into)?.slots ?? [];
  const depth = slots.find((one) => one.joint === joint.id)?.depth ?? 0;
  const ROOM_MM = 8;
  const way = joint.slot ? pose.up : pose.out;
  return { ...pose, origin: origin.map((mm, axis) => mm + (depth + ROOM_MM) * way[axis]) };
}

/** A point of a component in the chart of one of its faces. */
function inChart(point, { origin, across, up, out }) {
  const from = point.clone().sub(new Vector3(...origin));
  return new Vector3(...[across, up, out].map((axis) => from.dot(new Vector3(...axis))));
}

/** A point of a component in the chart of a face that runs round. */
function unrolled({ x, y, z }, { radius, middle, thickness, is_inside: isInside }) {
  const angle = Math.atan2(y, x);
  const turned = isInside ? Math.PI / 2 - angle : angle + Math.PI / 2;
  // From the middle of the chart to either end of it.
  const nearest = Math.atan2(Math.sin(turned), Math.cos(turned));
  const over = Math.hypot(x, y) - radius;
  return new Vector3(nearest * radius, z - middle, thickness + (isInside ? -over : over));
}

/** Where a point of a chart at a height lies in the component: the inverse of `inChart` and `unrolled`. */
function outOfChart([u, v, height], { lies, round }) {
  if (!round) {
    const { origin, across, up, out } = lies;
    return [0, 1, 2].map((i) => origin[i] + u * across[i] + v * up[i] + height * out[i]);
  }
  const { radius, middle, thickness, is_inside: isInside } = round;
  const angle = isInside ? Math.PI / 2 - u / radius : u / radius - Math.PI / 2;
  const from = radius + (isInside ? thickness - height : height - thickness);
  return [from * Math.cos(angle), from * Math.sin(angle), v + middle];
}

/** The walls of a place, as triangles: its outline drawn out from its lower height to its upper one. */
function wallsOf({ seen, path, bottom, top }, { lift, charts, profile }) {
  const lies = {
    sections: { origin: [0, 0, 0], across: [1, 0, 0], up: [0, 1, 0], out: [0, 0, 1] },
    profile,
  }[seen];
  const chart = lies ? { lies } : charts?.find((one) => one.name === seen);
  if (!chart) return [];
  const at = (u, v, height) => {
    const [x, y, z] = outOfChart([u, v, height], chart);
    return [x, y, z + lift];
  };
  return ringsOf(path).flatMap((ring) =>
    ring.flatMap(([u, v], i) => {
      const [nextU, nextV] = ring[(i + 1) % ring.length];
      const [a, b, c, d] = [at(u, v, bottom), at(nextU, nextV, bottom), at(nextU, nextV, top), at(u, v, top)];
      return [...a, ...b, ...c, ...a, ...c, ...d];
    }),
  );
}

/** A colour as a lit surface shows it: the light takes something off, so it starts lighter. */
function lit(colour) {
  return new Color(colour).lerp(new Color('#ffffff'), 0.035);
}

function wireOf(geometry) {
  const { index } = geometry;
  const pairs = new Uint32Array(index.count * 2);
  for (let i = 0; i < index.count; i += 3) {
    const [a, b, c] = [index.getX(i), index.getX(i + 1), index.getX(i + 2)];
    pairs.set([a, b, b, c, c, a], 2 * i);
  }
  const lines = new BufferGeometry();
  lines.setAttribute('position', geometry.getAttribute('position'));
  lines.setIndex(new BufferAttribute(pairs, 1));
  return lines;
}

let context = null;
function pathContext() {
  context ??= document.createElement('canvas').getContext('2d');
  return context;
}
