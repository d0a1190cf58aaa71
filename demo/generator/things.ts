import * as THREE from 'three';
import { type Build, type Place, colour, tinted } from './build';
import type { Random } from './random';

const WALLS = [
  '#d9c6a0',
  '#e3d8c3',
  '#c9b091',
  '#d2b7a4',
  '#b9bfae',
  '#c5c9c7',
  '#dcc7b4',
  '#c7a884',
  '#e6dfd2',
  '#aeb7ba',
  '#cfa995',
  '#d8cf9f',
].map((h) => colour(h));
const TILES = ['#a2553a', '#b0674a', '#93492f', '#a86a52', '#8a5240', '#b5734e', '#9c6147'].map((h) =>
  colour(h),
);
const SLATES = ['#5d646b', '#6b6f70', '#535a63', '#74716b'].map((h) => colour(h));
const SHUTTERS = ['#4f6b5c', '#5b7486', '#7d5a44', '#8c4b3f', '#6d7a4f', '#e5e0d4', '#48586b'].map((h) =>
  colour(h),
);
const CLOTHES = [
  '#b5443a',
  '#3f6d9e',
  '#e0b33f',
  '#efe9dc',
  '#5b7d4d',
  '#7e4b80',
  '#d98148',
  '#39424e',
  '#c9738d',
  '#4c9a94',
  '#8b8f94',
].map((h) => colour(h));
const SKIN = ['#d9a583', '#b97f5c', '#8a5a3d', '#e6bd9d'].map((h) => colour(h));
const HAIR = ['#2d221b', '#57402b', '#8b6b3f', '#3a3632', '#a89f93'].map((h) => colour(h));
const LEAVES = ['#56733a', '#647f40', '#48673a', '#77883f', '#6a7a45', '#4d7048', '#8a9348'].map((h) =>
  colour(h),
);
const WHITE = colour('#ece7da');
const GLASS = colour('#39444d');
const IRON = colour('#3b3f42');
const STONE = colour('#a9a296');

export const PALETTE = { WALLS, TILES, SLATES, CLOTHES, LEAVES, WHITE, IRON, STONE };

/** A point of a thing's own frame in the scene's. */
export function at(place: Place, x: number, y: number, z: number, turn = 0): Place {
  const t = place.turn ?? 0;
  return {
    x: place.x + x * Math.cos(t) + z * Math.sin(t),
    y: place.y + y,
    z: place.z - x * Math.sin(t) + z * Math.cos(t),
    turn: t + turn,
  };
}

export interface HouseSize {
  width: number;
  depth: number;
  storeys: number;
}

/** A town house; its front looks along +z of its own frame. */
export function house(build: Build, random: Random, place: Place, size: HouseSize, detail = true): void {
  const { width, depth, storeys } = size;
  const tall = storeys * 2.9 + 0.5;
  const wall = random.pick(WALLS);
  const roof = random.chance(0.78) ? random.pick(TILES) : random.pick(SLATES);
  const surface = TILES.includes(roof) ? 'tiles' : 'slate';
  const shutter = random.pick(SHUTTERS);
  const hasShutters = random.chance(0.55);
  build.box(random.chance(0.14) ? 'brick' : 'plaster', wall, place, [width, tall, depth]);
  build.box('plaster', tinted(STONE, 0.8), place, [width + 0.16, 0.7, depth + 0.16]);
  const rise = depth * random.between(0.36, 0.52);
  const eaves = { x: 0, y: tall - 0.1, z: 0 };
  if (random.chance(0.25)) build.hip(surface, roof, place, [width + 0.9, rise, depth + 0.9], eaves);
  else {
    build.gable(surface, roof, place, [width + 0.5, rise, depth + 0.9], eaves);
    build.gable('plaster', wall, place, [width - 0.02, rise * 0.985, depth], { ...eaves, y: tall - 0.12 });
    build.box(surface, tinted(roof, 0.8), place, [width + 0.55, 0.16, 0.3], {
      x: 0,
      y: tall + rise - 0.22,
      z: 0,
    });
  }
  build.box('plain', tinted(WHITE, 0.75), place, [width + 0.55, 0.12, 0.14], {
    x: 0,
    y: tall - 0.14,
    z: depth / 2 + 0.42,
  });
  for (let i = 0, n = 1 + Math.floor(random.next() * 2); i < n; i++) {
    const x = random.between(-width * 0.38, width * 0.38);
    const z = random.between(-depth * 0.22, depth * 0.22);
    const high = random.between(0.9, 1.5);
    const base = tall + rise * (1 - Math.abs(z) / (depth * 0.5)) - 0.5;
    build.box('brick', colour('#9b6a55'), place, [0.7, high + 0.5, 0.6], { x, y: base, z });
    build.box('plain', tinted(STONE, 0.8), place, [0.84, 0.1, 0.74], { x, y: base + high + 0.5, z });
    build.post('plain', TILES[0]!, place, 0.11, 0.35, { x: x - 0.15, y: base + high + 0.6, z });
    build.post('plain', TILES[2]!, place, 0.11, 0.35, { x: x + 0.17, y: base + high + 0.6, z });
  }
  if (!detail) return;
  const window = (x: number, y: number, z: number, turn: number): void => {
    const pane = tinted(GLASS, random.between(0.7, 1.9));
    build.box('plain', WHITE, place, [1.02, 1.52, 0.1], { x, y: y - 0.06, z, turn });
    const out = 0.045;
    const dx = Math.sin(turn) * out;
    const dz = Math.cos(turn) * out;
    for (const side of [-0.23, 0.23])
      build.box('plain', pane, place, [0.38, 1.3, 0.06], {
        x: x + side * Math.cos(turn) + dx,
        y: y + 0.05,
        z: z - side * Math.sin(turn) + dz,
        turn,
      });
    build.box('plain', tinted(STONE, 1.05), place, [1.2, 0.1, 0.26], {
      x: x + dx,
      y: y - 0.13,
      z: z + dz,
      turn,
    });
    if (hasShutters)
      for (const side of [-0.78, 0.78])
        build.box('planks', shutter, place, [0.48, 1.5, 0.08], {
          x: x + side * Math.cos(turn) + dx * 0.6,
          y: y - 0.05,
          z: z - side * Math.sin(turn) + dz * 0.6,
          turn,
        });
  };
  const columns = Math.max(2, Math.floor(width / 2.5));
  for (const [z, turn] of [
    [depth / 2, 0],
    [-depth / 2, Math.PI],
  ] as const)
    for (let storey = 0; storey < storeys; storey++)
      for (let column = 0; column < columns; column++) {
        const x = ((column + 0.5) / columns - 0.5) * (width - 0.6);
        if (storey === 0 && column === Math.floor(columns / 2)) {
          build.box('plain', WHITE, place, [1.3, 2.35, 0.1], { x, y: 0, z, turn });
          build.box('planks', shutter, place, [1.05, 2.15, 0.16], { x, y: 0, z, turn });
        } else window(x, storey * 2.9 + 1.05, z, turn);
      }
  for (const [x, turn] of [
    [width / 2, Math.PI / 2],
    [-width / 2, -Math.PI / 2],
  ] as const)
    for (let storey = 0; storey < storeys; storey++)
      for (const z of depth > 8 ? [-depth / 4, depth / 4] : [0])
        if (random.chance(0.7)) window(x, storey * 2.9 + 1.05, z, turn);
  if (random.chance(0.5)) {
    for (let i = 0, n = 1 + Math.floor(width / 5); i < n; i++) {
      const x = ((i + 0.5) / n - 0.5) * width * 0.8;
      const z = depth * 0.27;
      const y = tall + rise * 0.3;
      build.box('plaster', wall, place, [1.3, 1.25, 1.9], { x, y: y - 0.3, z });
      build.box('plain', GLASS, place, [0.8, 0.8, 0.1], { x, y: y - 0.05, z: z + 0.96 });
      build.gable(surface, tinted(roof, 0.92), place, [2.2, 0.7, 1.7], {
        x,
        y: y + 0.93,
        z: z + 0.1,
        turn: Math.PI / 2,
      });
    }
  }
}

/** A shop front with its awning, for ground floors on a square. */
export function awning(build: Build, random: Random, place: Place, width: number): void {
  const tint = random.pick(CLOTHES);
  const stripes = Math.round(width / 0.4);
  for (let i = 0; i < stripes; i++) {
    const x = ((i + 0.5) / stripes - 0.5) * width;
    slope(build, i % 2 ? WHITE : tint, at(place, x, 2.75, 0.1), width / stripes, 1.5, -0.5);
  }
}

/** A thin board that leans forward: rises (or falls) by `rise` over `reach`. */
function slope(
  build: Build,
  tint: readonly [number, number, number],
  place: Place,
  width: number,
  reach: number,
  rise: number,
): void {
  const geometry = new THREE.BoxGeometry(width, 0.04, Math.hypot(reach, rise));
  geometry.rotateX(-Math.atan2(rise, reach)).translate(0, rise / 2, reach / 2);
  geometry.rotateY(place.turn ?? 0).translate(place.x, place.y, place.z);
  build.mesh('canvas', tint, geometry);
}

/** A market stall: trestle with wares under a striped roof. */
export function stall(build: Build, random: Random, place: Place): void {
  const tint = random.pick(CLOTHES);
  build.box('planks', colour('#8d6d4a'), place, [2.6, 0.85, 1.1]);
  for (const x of [-1.25, 1.25])
    for (const z of [-0.8, 0.8]) build.post('plain', colour('#7a6248'), place, 0.04, 2.3, { x, y: 0, z });
  for (let i = 0; i < 7; i++) {
    const x = (i - 3) * 0.42;
    slope(build, i % 2 ? tint : WHITE, at(place, x, 2.75, 0), 0.42, 1.15, -0.45);
    slope(build, i % 2 ? tint : WHITE, at(place, x, 2.75, 0, Math.PI), 0.42, 1.15, -0.45);
  }
  for (let i = 0; i < 26; i++) {
    const p = at(place, random.between(-1.2, 1.2), 0.95, random.between(-0.45, 0.45));
    build.ball('plain', random.pick(CLOTHES), p, [0.12, 0.11, 0.12]);
  }
}

/** A broad-leaved tree made of tufts. */
export function tree(build: Build, random: Random, place: Place, height: number, tufts = 110): void {
  const leaf = random.pick(LEAVES);
  const crown = height * random.between(0.3, 0.4);
  build.post('planks', colour('#5d4a38'), place, height * 0.035, height * 0.6);
  const lobes = Array.from({ length: 6 }, () => ({
    x: random.between(-0.5, 0.5) * crown,
    y: height * random.between(0.5, 0.82),
    z: random.between(-0.5, 0.5) * crown,
    r: crown * random.between(0.5, 0.8),
  }));
  for (let i = 0; i < tufts; i++) {
    const lobe = lobes[i % lobes.length]!;
    const a = random.between(0, Math.PI * 2);
    const h = random.between(-0.75, 1);
    const r = lobe.r * Math.cbrt(random.between(0.5, 1));
    const flat = Math.sqrt(1 - h * h) * r;
    const light = 0.72 + 0.4 * ((lobe.y + h * r) / height) + random.between(-0.14, 0.14);
    build.clump(
      tinted(leaf, light),
      place.x + lobe.x + Math.cos(a) * flat,
      place.y + lobe.y + h * r * 0.9,
      place.z + lobe.z + Math.sin(a) * flat,
      crown * random.between(0.13, 0.26) * Math.min(1, Math.sqrt(130 / tufts)),
      random.next(),
    );
  }
}

/** A conifer: tufts in a cone. */
export function conifer(build: Build, random: Random, place: Place, height: number, tufts = 40): void {
  const leaf = tinted(random.pick(LEAVES), 0.7);
  build.post('planks', colour('#57452f'), place, height * 0.025, height * 0.5);
  for (let i = 0; i < tufts; i++) {
    const h = i / tufts;
    const r = (1 - h) * height * 0.2 + 0.1;
    const a = i * 2.4;
    build.clump(
      tinted(leaf, 0.75 + 0.35 * h + random.between(-0.1, 0.1)),
      place.x + Math.cos(a) * r * 0.7,
      place.y + height * (0.14 + 0.86 * h),
      place.z + Math.sin(a) * r * 0.7,
      r * 0.62 + 0.15,
      random.next(),
    );
  }
}

/** A person about 1.7 m tall, walking or standing. */
export function person(build: Build, random: Random, place: Place): void {
  const grown = random.between(0.82, 1.06);
  const coat = random.pick(CLOTHES);
  const legs = random.chance(0.6) ? colour('#3a4250') : tinted(random.pick(CLOTHES), 0.7);
  const step = random.between(0, 0.22);
  const skin = random.pick(SKIN);
  const s = (v: number): number => v * grown;
  build.box('plain', legs, place, [s(0.14), s(0.82), s(0.16)], { x: s(-0.09), y: 0, z: step / 2 });
  build.box('plain', legs, place, [s(0.14), s(0.82), s(0.16)], { x: s(0.09), y: 0, z: -step / 2 });
  build.ball('plain', coat, place, [s(0.23), s(0.36), s(0.16)], { x: 0, y: s(1.1), z: 0 });
  build.ball('plain', tinted(coat, 0.9), place, [s(0.07), s(0.3), s(0.08)], {
    x: s(-0.26),
    y: s(1.06),
    z: step / 3,
  });
  build.ball('plain', tinted(coat, 0.9), place, [s(0.07), s(0.3), s(0.08)], {
    x: s(0.26),
    y: s(1.06),
    z: -step / 3,
  });
  build.ball('plain', skin, place, [s(0.11), s(0.14), s(0.12)], { x: 0, y: s(1.58), z: 0 });
  build.ball('plain', random.pick(HAIR), place, [s(0.118), s(0.1), s(0.125)], {
    x: 0,
    y: s(1.65),
    z: s(-0.02),
  });
  if (random.chance(0.2))
    build.post('plain', random.pick(CLOTHES), place, s(0.22), 0.03, { x: 0, y: s(1.68), z: 0 });
  if (random.chance(0.25))
    build.box('plain', random.pick(CLOTHES), place, [s(0.24), s(0.3), s(0.14)], {
      x: s(0.3),
      y: s(0.5),
      z: 0,
    });
}

/** A two-car tram, cream over teal, 19 m long, along its own x axis. */
export function tram(build: Build, place: Place, bend = 0): void {
  const teal = colour('#2f7f7a');
  const cream = colour('#efe3c4');
  for (const car of [-1, 1]) {
    const own = at(place, car * 4.9, 0, -Math.abs(bend) * 3, bend * car);
    build.box('plain', IRON, own, [7.6, 0.5, 1.9], { x: 0, y: 0.15, z: 0 });
    build.box('plain', teal, own, [9.2, 1.05, 2.35], { x: 0, y: 0.45, z: 0 });
    build.box('plain', colour('#d8a545'), own, [9.24, 0.09, 2.39], { x: 0, y: 1.42, z: 0 });
    build.box('plain', cream, own, [9.2, 1.25, 2.35], { x: 0, y: 1.5, z: 0 });
    build.box('plain', tinted(cream, 0.85), own, [8.9, 0.22, 2.1], { x: 0, y: 2.75, z: 0 });
    build.box('plain', colour('#9aa3a4'), own, [3.4, 0.3, 1.3], { x: 1.2, y: 2.95, z: 0 });
    for (const z of [-1.18, 1.18]) {
      for (let i = 0; i < 7; i++)
        build.box('plain', tinted(GLASS, 1.2), own, [0.98, 0.95, 0.05], { x: (i - 3) * 1.22, y: 1.62, z });
      for (const x of [-1.85, 1.85]) {
        build.box('plain', tinted(teal, 0.8), own, [1.1, 2.1, 0.07], { x, y: 0.5, z });
        build.box('plain', tinted(GLASS, 1.3), own, [0.85, 1.1, 0.09], { x, y: 1.4, z });
      }
    }
    build.box('plain', GLASS, own, [0.06, 1, 2], { x: car * 4.61, y: 1.6, z: 0 });
    for (const z of [-0.8, 0.8])
      build.ball('plain', colour('#fff3cf', 1.6), own, [0.1, 0.14, 0.14], { x: car * 4.62, y: 0.85, z });
    for (const x of [-2.7, 2.7]) build.box('plain', IRON, own, [1.7, 0.4, 1.7], { x, y: 0, z: 0 });
  }
  build.box('plain', IRON, at(place, 0, 0, -Math.abs(bend) * 3), [0.9, 2.3, 2.1], { x: 0, y: 0.5, z: 0 });
  const mast = at(place, -3.4, 3.1, 0);
  for (const side of [-0.35, 0.35])
    build.box('plain', IRON, mast, [0.06, 1.5, 0.06], { x: side, y: 0, z: 0 });
  build.box('plain', IRON, mast, [0.1, 0.06, 1.8], { x: 0, y: 1.5, z: 0 });
}

/** A small van or car. */
export function van(build: Build, random: Random, place: Place): void {
  const tint = random.pick(CLOTHES);
  const long = random.between(3.4, 4.6);
  build.box('plain', tint, place, [long, 0.75, 1.65], { x: 0, y: 0.35, z: 0 });
  build.box('plain', tinted(GLASS, 1.1), place, [long * 0.62, 0.55, 1.5], { x: -long * 0.06, y: 1.08, z: 0 });
  build.box('plain', tinted(tint, 1.05), place, [long * 0.56, 0.1, 1.5], { x: -long * 0.06, y: 1.6, z: 0 });
  for (const x of [-long * 0.3, long * 0.3])
    for (const z of [-0.76, 0.76])
      build.ball('plain', colour('#26282a'), place, [0.32, 0.32, 0.12], { x, y: 0.32, z });
}

export function bench(build: Build, place: Place): void {
  build.box('planks', colour('#8a6a45'), place, [1.7, 0.07, 0.5], { x: 0, y: 0.42, z: 0 });
  build.box('planks', colour('#8a6a45'), place, [1.7, 0.4, 0.07], { x: 0, y: 0.55, z: -0.24 });
  for (const x of [-0.7, 0.7]) build.box('plain', IRON, place, [0.08, 0.42, 0.45], { x, y: 0, z: 0 });
}

/** A cable from one point to another that sags in the middle. */
export function cable(
  build: Build,
  from: THREE.Vector3,
  to: THREE.Vector3,
  sag: number,
  thickness: number,
): THREE.Vector3[] {
  const points = Array.from({ length: 17 }, (_, i) => {
    const t = i / 16;
    return from
      .clone()
      .lerp(to, t)
      .setY(from.y + (to.y - from.y) * t - sag * 4 * t * (1 - t));
  });
  build.mesh('plain', IRON, new THREE.TubeGeometry(new THREE.CatmullRomCurve3(points), 16, thickness, 4));
  return points;
}

/** A flat ribbon on the ground along a line of points. */
export function ribbon(
  points: { x: number; z: number }[],
  width: number,
  ground: (x: number, z: number) => number,
  lift: number,
): THREE.BufferGeometry {
  const positions: number[] = [];
  const edge = points.map((p, i) => {
    const a = points[Math.max(0, i - 1)]!;
    const b = points[Math.min(points.length - 1, i + 1)]!;
    const length = Math.hypot(b.x - a.x, b.z - a.z) || 1;
    const nx = (-(b.z - a.z) / length) * (width / 2);
    const nz = ((b.x - a.x) / length) * (width / 2);
    const corner = (s: number): number[] => [
      p.x + s * nx,
      ground(p.x + s * nx, p.z + s * nz) + lift,
      p.z + s * nz,
    ];
    return [corner(1), corner(-1)] as const;
  });
  for (let i = 1; i < edge.length; i++) {
    const [a, b] = edge[i - 1]!;
    const [c, d] = edge[i]!;
    positions.push(...a, ...c, ...b, ...b, ...c, ...d);
  }
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute('position', new THREE.Float32BufferAttribute(positions, 3));
  geometry.computeVertexNormals();
  return geometry;
}
