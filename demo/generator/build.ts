import * as THREE from 'three';
import { mergeGeometries } from 'three/examples/jsm/utils/BufferGeometryUtils.js';
import { SURFACES, glassMaterial, lampMaterial, solidMaterial, type Surface } from './surfaces';

/** Where a part stands: position in metres, turn about the vertical axis in radians. */
export interface Place {
  x: number;
  y: number;
  z: number;
  turn?: number;
}

type Colour = readonly [number, number, number];

/** '#rrggbb' as linear RGB, optionally brightened. */
export function colour(hex: string, gain = 1): Colour {
  const c = new THREE.Color(hex);
  return [c.r * gain, c.g * gain, c.b * gain];
}

export function tinted(base: Colour, gain: number): Colour {
  return [base[0] * gain, base[1] * gain, base[2] * gain];
}

const UNIT_BOX = new THREE.BoxGeometry(1, 1, 1);
const UNIT_BALL = new THREE.IcosahedronGeometry(1, 2);
const UNIT_CLUMP = new THREE.IcosahedronGeometry(1, 0);
const UNIT_POST = new THREE.CylinderGeometry(1, 1, 1, 10);
const UNIT_CONE = new THREE.ConeGeometry(1, 1, 12);

/** A triangular prism, base 1 x 1 in x and z, ridge along x at y = 1. */
const UNIT_GABLE = (() => {
  const a = [-0.5, 0, -0.5],
    b = [0.5, 0, -0.5],
    c = [0.5, 0, 0.5],
    d = [-0.5, 0, 0.5],
    e = [-0.5, 1, 0],
    f = [0.5, 1, 0];
  const faces = [d, c, f, d, f, e, b, a, e, b, e, f, a, d, e, c, b, f];
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute('position', new THREE.Float32BufferAttribute(faces.flat(), 3));
  geometry.computeVertexNormals();
  return geometry;
})();

/** A hipped roof: like the gable, its ridge half as long. */
const UNIT_HIP = (() => {
  const geometry = UNIT_GABLE.clone();
  const position = geometry.getAttribute('position');
  for (let i = 0; i < position.count; i++)
    if (position.getY(i) > 0.5) position.setX(i, position.getX(i) * 0.45);
  geometry.computeVertexNormals();
  return geometry;
})();

/** Collects the parts of a scene in metres and turns them into few large meshes. */
export class Build {
  private readonly solids: THREE.BufferGeometry[] = [];
  private readonly panes: THREE.BufferGeometry[] = [];
  private readonly shining: THREE.BufferGeometry[] = [];
  private readonly clumps: { matrix: THREE.Matrix4; colour: Colour }[] = [];
  private things = 0;
  private thing = 0;

  /** @param without the number of a thing that is left out; all else stays where it is. */
  constructor(private readonly without: number | null = null) {}

  private get isLeftOut(): boolean {
    return this.thing !== 0 && this.thing === this.without;
  }

  /** A number for a thing whose true outline can be drawn. */
  newThing(): number {
    return ++this.things;
  }

  /** What is built inside belongs to a thing. */
  asThing(thing: number, build: () => void): void {
    this.thing = thing;
    build();
    this.thing = 0;
  }

  box(surface: Surface, tint: Colour, at: Place, size: Colour, local: Place = { x: 0, y: 0, z: 0 }): void {
    this.part(UNIT_BOX, surface, tint, at, { ...local, y: local.y + size[1] / 2 }, size);
  }

  gable(surface: Surface, tint: Colour, at: Place, size: Colour, local: Place = { x: 0, y: 0, z: 0 }): void {
    this.part(UNIT_GABLE, surface, tint, at, local, size);
  }

  hip(surface: Surface, tint: Colour, at: Place, size: Colour, local: Place = { x: 0, y: 0, z: 0 }): void {
    this.part(UNIT_HIP, surface, tint, at, local, size);
  }

  post(
    surface: Surface,
    tint: Colour,
    at: Place,
    radius: number,
    height: number,
    local: Place = { x: 0, y: 0, z: 0 },
  ): void {
    this.part(UNIT_POST, surface, tint, at, { ...local, y: local.y + height / 2 }, [radius, height, radius]);
  }

  cone(
    surface: Surface,
    tint: Colour,
    at: Place,
    radius: number,
    height: number,
    local: Place = { x: 0, y: 0, z: 0 },
  ): void {
    this.part(UNIT_CONE, surface, tint, at, { ...local, y: local.y + height / 2 }, [radius, height, radius]);
  }

  ball(surface: Surface, tint: Colour, at: Place, size: Colour, local: Place = { x: 0, y: 0, z: 0 }): void {
    this.part(UNIT_BALL, surface, tint, at, local, size);
  }

  /** A ready geometry in world coordinates. */
  mesh(surface: Surface, tint: Colour, geometry: THREE.BufferGeometry): void {
    if (this.isLeftOut) return;
    this.solids.push(dressed(geometry, new THREE.Matrix4(), surface, tint, this.thing));
  }

  /** A tuft of leaves: many of these make a crown, a hedge, a row of lettuce. */
  clump(tint: Colour, x: number, y: number, z: number, size: number, spin: number): void {
    if (this.isLeftOut) return;
    const matrix = new THREE.Matrix4().compose(
      new THREE.Vector3(x, y, z),
      new THREE.Quaternion().setFromEuler(new THREE.Euler(spin * 7, spin * 13, spin * 3)),
      new THREE.Vector3(size, size * 0.8, size),
    );
    this.clumps.push({ matrix, colour: tint });
  }

  pane(at: Place, size: Colour, local: Place): void {
    if (this.isLeftOut) return;
    this.panes.push(
      dressed(UNIT_BOX, placed(at, { ...local, y: local.y + size[1] / 2 }, size), 'plain', [1, 1, 1]),
    );
  }

  lamp(tint: Colour, x: number, y: number, z: number, radius: number): void {
    if (this.isLeftOut) return;
    this.shining.push(
      dressed(
        UNIT_CLUMP,
        placed({ x, y, z }, { x: 0, y: 0, z: 0 }, [radius, radius, radius]),
        'plain',
        tint,
        this.thing,
      ),
    );
  }

  addTo(scene: THREE.Object3D, solid: THREE.Material = solidMaterial()): void {
    const add = (parts: THREE.BufferGeometry[], material: THREE.Material, shadows: boolean): void => {
      if (parts.length === 0) return;
      const mesh = new THREE.Mesh(mergeGeometries(parts), material);
      mesh.castShadow = mesh.receiveShadow = shadows;
      scene.add(mesh);
    };
    add(this.solids, solid, true);
    add(this.panes, glassMaterial(), false);
    add(this.shining, lampMaterial(), false);
    if (this.clumps.length === 0) return;
    const leaf = dressed(UNIT_CLUMP, new THREE.Matrix4(), 'leaf', [1, 1, 1]);
    const leaves = new THREE.InstancedMesh(leaf, solid, this.clumps.length);
    this.clumps.forEach((clump, i) => {
      leaves.setMatrixAt(i, clump.matrix);
      leaves.setColorAt(i, new THREE.Color(...clump.colour));
    });
    leaves.castShadow = leaves.receiveShadow = true;
    leaves.frustumCulled = false;
    scene.add(leaves);
  }

  private part(
    geometry: THREE.BufferGeometry,
    surface: Surface,
    tint: Colour,
    at: Place,
    local: Place,
    size: Colour,
  ): void {
    if (this.isLeftOut) return;
    this.solids.push(dressed(geometry, placed(at, local, size), surface, tint, this.thing));
  }
}

function placed(at: Place, local: Place, size: Colour): THREE.Matrix4 {
  const world = new THREE.Matrix4().makeRotationY(at.turn ?? 0).setPosition(at.x, at.y, at.z);
  const own = new THREE.Matrix4().makeRotationY(local.turn ?? 0).setPosition(local.x, local.y, local.z);
  return world.multiply(own).scale(new THREE.Vector3(...size));
}

/** A copy with only what the materials read: position, normal, colour, surface, and which thing it belongs to. */
function dressed(
  geometry: THREE.BufferGeometry,
  matrix: THREE.Matrix4,
  surface: Surface,
  tint: Colour,
  thing = 0,
): THREE.BufferGeometry {
  const source = geometry.index ? geometry.toNonIndexed() : geometry.clone();
  source.applyMatrix4(matrix);
  const count = source.getAttribute('position').count;
  const result = new THREE.BufferGeometry();
  result.setAttribute('position', source.getAttribute('position'));
  result.setAttribute('normal', source.getAttribute('normal'));
  const colours = new Float32Array(count * 3);
  for (let i = 0; i < count; i++) colours.set(tint, i * 3);
  result.setAttribute('color', new THREE.BufferAttribute(colours, 3));
  result.setAttribute(
    'surface',
    new THREE.BufferAttribute(new Float32Array(count).fill(SURFACES.indexOf(surface)), 1),
  );
  result.setAttribute('thing', new THREE.BufferAttribute(new Float32Array(count).fill(thing), 1));
  return result;
}
