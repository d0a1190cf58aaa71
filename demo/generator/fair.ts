import * as THREE from 'three';
import { Build, colour, tinted, type Place } from './build';
import { daylight, type Pass, type Shot } from './light';
import { Random } from './random';
import { PALETTE, at, bench, cable, house, person, stall, tree, van } from './things';

const WARM = ['#ffd08a', '#ffdf9e', '#ffc16b'];
const GAY = ['#ff8a5c', '#ffd45c', '#8fd6ff', '#ff9ec7', '#a9f0b4', '#ffe9c4'];

interface Lamp {
  at: THREE.Vector3;
  tint: readonly [number, number, number];
  reach: number;
}

/** A round tent with a striped roof, lit from inside. */
function tent(build: Build, random: Random, place: Place, radius: number, lamps: Lamp[]): void {
  const tint = random.pick(PALETTE.CLOTHES);
  const segments = 18;
  const roof = build.newThing();
  for (let i = 0; i < segments; i++) {
    const geometry = new THREE.ConeGeometry(
      radius * 1.12,
      radius * 0.75,
      1,
      1,
      true,
      (i / segments) * Math.PI * 2,
      (Math.PI * 2) / segments,
    );
    geometry.translate(place.x, place.y + 2.6 + radius * 0.37, place.z);
    build.asThing(roof, () => build.mesh('canvas', i % 2 ? tint : PALETTE.WHITE, geometry));
    const a = ((i + 0.5) / segments) * Math.PI * 2;
    build.post('plain', PALETTE.WHITE, at(place, Math.sin(a) * radius, 0, Math.cos(a) * radius), 0.05, 2.6);
    bulb(
      build,
      lamps,
      random,
      new THREE.Vector3(
        place.x + Math.sin(a) * radius * 1.12,
        place.y + 2.55,
        place.z + Math.cos(a) * radius * 1.12,
      ),
      random.pick(WARM),
      0.09,
      i % 6 === 0 ? 1.6 : 0,
      9,
    );
  }
  build.post('planks', colour('#7c5a3c'), place, radius * 0.9, 0.25);
  lamps.push({
    at: new THREE.Vector3(place.x, 2.2, place.z),
    tint: colour('#ffc37a', 9),
    reach: radius * 3.2,
  });
}

function bulb(
  build: Build,
  lamps: Lamp[],
  random: Random,
  where: THREE.Vector3,
  hex: string,
  radius: number,
  light: number,
  reach: number,
): void {
  const glow = colour(hex, random.between(7, 13));
  build.asThing(build.newThing(), () => build.lamp(glow, where.x, where.y, where.z, radius));
  if (light > 0) lamps.push({ at: where.clone(), tint: colour(hex, light), reach });
}

/** The big wheel: rim, spokes, cabins, a bulb at every joint. */
function wheel(build: Build, random: Random, place: Place, radius: number, lamps: Lamp[]): void {
  const hub = radius + 2.4;
  const steel = colour('#c9ccd0');
  for (const z of [-1.1, 1.1]) {
    const ring = (r: number, thick: number): void => {
      const torus = new THREE.TorusGeometry(r, thick, 6, 72).translate(0, hub, z);
      build.mesh('plain', steel, torus.rotateY(place.turn ?? 0).translate(place.x, place.y, place.z));
    };
    ring(radius, 0.12);
    ring(radius * 0.62, 0.07);
    for (let i = 0; i < 20; i++) {
      const a = (i / 20) * Math.PI * 2;
      const spoke = new THREE.CylinderGeometry(0.05, 0.05, radius, 5)
        .translate(0, radius / 2, 0)
        .rotateZ(a)
        .translate(0, hub, z);
      build.mesh('plain', steel, spoke.rotateY(place.turn ?? 0).translate(place.x, place.y, place.z));
      for (const [k, r] of [0.3, 0.45, 0.62, 0.8, 1].entries()) {
        const p = at(place, -Math.sin(a) * radius * r, hub + Math.cos(a) * radius * r, z * 1.15);
        bulb(
          build,
          lamps,
          random,
          new THREE.Vector3(p.x, p.y, p.z),
          GAY[(i + k) % GAY.length]!,
          0.11,
          k === 4 && i % 4 === 0 && z > 0 ? 3 : 0,
          16,
        );
      }
    }
    for (const side of [-1, 1]) {
      const leg = new THREE.CylinderGeometry(0.16, 0.24, hub * 1.09, 6)
        .translate(0, hub * 0.5, 0)
        .rotateZ(side * 0.4)
        .translate(side * hub * 0.41, 0, z * 1.6);
      build.mesh(
        'plain',
        tinted(steel, 0.8),
        leg.rotateY(place.turn ?? 0).translate(place.x, place.y, place.z),
      );
    }
  }
  for (let i = 0; i < 20; i++) {
    const a = ((i + 0.5) / 20) * Math.PI * 2;
    const p = at(place, Math.sin(a) * radius, hub + Math.cos(a) * radius - 1.6, 0);
    build.box('plain', PALETTE.CLOTHES[i % 7]!, p, [1.4, 0.8, 1.4]);
    build.box('plain', PALETTE.WHITE, p, [1.5, 0.1, 1.5], { x: 0, y: 1.7, z: 0 });
    for (const x of [-0.65, 0.65]) build.box('plain', steel, p, [0.06, 1, 0.06], { x, y: 0.8, z: 0 });
  }
  lamps.push({ at: new THREE.Vector3(place.x, 3, place.z + 4), tint: colour('#ffd9a0', 26), reach: 24 });
}

/** A roundabout with its horses under a lit canopy. */
function roundabout(build: Build, random: Random, place: Place, lamps: Lamp[]): void {
  tent(build, random, place, 4.6, lamps);
  build.post('plain', colour('#d8b04a'), place, 0.9, 3.2);
  for (let i = 0; i < 12; i++) {
    const a = (i / 12) * Math.PI * 2;
    const p = at(place, Math.sin(a) * 3.3, 0.9 + 0.3 * Math.sin(i * 2.4), Math.cos(a) * 3.3, a + Math.PI / 2);
    build.ball('plain', i % 3 ? PALETTE.WHITE : colour('#8a5a3a'), p, [0.24, 0.28, 0.6]);
    build.ball('plain', i % 3 ? PALETTE.WHITE : colour('#8a5a3a'), p, [0.13, 0.28, 0.18], {
      x: 0,
      y: 0.35,
      z: 0.5,
    });
    build.post('plain', colour('#e6c25a'), p, 0.03, 2, { x: 0, y: -0.6, z: 0 });
  }
  for (let i = 0; i < 40; i++) {
    const a = (i / 40) * Math.PI * 2;
    bulb(
      build,
      lamps,
      random,
      new THREE.Vector3(
        place.x + Math.sin(a) * 1.2,
        place.y + 3.1 + (i % 2) * 0.5,
        place.z + Math.cos(a) * 1.2,
      ),
      GAY[i % GAY.length]!,
      0.08,
      0,
      0,
    );
  }
}

/** The night fair on the kite meadow: lamps by the hundred under a late blue sky. */
export function fair(scale: number, without: number | null = null): Shot {
  const random = new Random(88_003);
  const build = new Build(without);
  const lamps: Lamp[] = [];
  build.mesh('grass', colour('#5d6b45'), new THREE.PlaneGeometry(500, 500, 4, 4).rotateX(-Math.PI / 2));
  build.mesh(
    'grass',
    colour('#4d5a3f'),
    new THREE.PlaneGeometry(600, 140)
      .rotateX(-Math.PI / 2 + Math.atan(0.22))
      .translate(0, 70 * Math.sin(Math.atan(0.22)) - 0.2, -92 - 70 * Math.cos(Math.atan(0.22))),
  );
  build.mesh(
    'soil',
    colour('#9a8a6c'),
    new THREE.PlaneGeometry(9, 110).rotateX(-Math.PI / 2).translate(0, 0.02, -10),
  );
  build.mesh(
    'soil',
    colour('#93856a'),
    new THREE.PlaneGeometry(90, 6).rotateX(-Math.PI / 2).translate(0, 0.025, -6),
  );
  build.mesh(
    'soil',
    colour('#93856a'),
    new THREE.PlaneGeometry(70, 5).rotateX(-Math.PI / 2).translate(0, 0.024, -30),
  );

  wheel(build, random, { x: -15, y: 0, z: -41, turn: 0.45 }, 11, lamps);
  roundabout(build, random, { x: 14, y: 0, z: -17 }, lamps);
  for (const [x, z, r] of [
    [-12, -16, 3.4],
    [-21, -20, 2.8],
    [23, -26, 3.6],
    [13, -36, 3],
    [-11, 4, 2.6],
    [25, -11, 2.4],
    [-25, -8, 3],
    [30, -40, 3.4],
    [-33, -33, 3],
  ] as const)
    tent(build, random, { x, y: 0, z, turn: random.next() }, r, lamps);

  // Stalls along the lanes, a lantern over each.
  const lane: Place[] = [];
  for (let z = 15; z > -58; z -= 3.6) {
    if (Math.abs(z + 6) < 4 || Math.abs(z + 30) < 4) continue;
    lane.push({ x: -5.9, y: 0, z, turn: Math.PI / 2 }, { x: 5.9, y: 0, z: z - 1.2, turn: -Math.PI / 2 });
  }
  for (let x = 10; x < 42; x += 3.7)
    lane.push(
      { x, y: 0, z: -10, turn: 0 },
      { x: -x, y: 0, z: -1.8, turn: Math.PI },
      { x: -x - 1, y: 0, z: -10.2, turn: 0 },
    );
  for (const place of lane) {
    stall(build, random, place);
    for (const x of [-1, 0, 1]) {
      const p = at(place, x, 2.2, 0.95);
      bulb(
        build,
        lamps,
        random,
        new THREE.Vector3(p.x, p.y, p.z),
        random.pick(WARM),
        0.1,
        x === 0 ? 3.4 : 0,
        9,
      );
    }
  }

  // Strings of lamps from mast to mast across the lanes.
  const string = (from: [number, number, number], to: [number, number, number], count: number): void => {
    const points = cable(build, new THREE.Vector3(...from), new THREE.Vector3(...to), 0.9, 0.018);
    const curve = new THREE.CatmullRomCurve3(points);
    for (let i = 0; i <= count; i++) {
      const p = curve.getPoint(i / count);
      bulb(
        build,
        lamps,
        random,
        p.setY(p.y - 0.1),
        random.chance(0.7) ? random.pick(WARM) : random.pick(GAY),
        0.085,
        i % 5 === 2 ? 1.5 : 0,
        8,
      );
    }
  };
  for (let z = 17; z > -56; z -= 5) {
    for (const x of [-7.6, 7.6]) build.post('plain', colour('#4d4a45'), { x, y: 0, z }, 0.07, 5);
    string([-7.6, 5, z], [7.6, 5, z - 2.5], 13);
    if (z > -50) string([-7.6, 5, z], [-7.6, 5, z - 5], 5);
    if (z > -50) string([7.6, 5, z], [7.6, 5, z - 5], 5);
  }
  for (let x = 10; x < 45; x += 6)
    for (const s of [-1, 1]) string([s * x, 5, -3.5], [s * (x + 6), 5, -8.5], 8);

  const crowd = (x: number, z: number): void =>
    person(build, random, { x, y: 0.02, z, turn: random.between(0, 6.3) });
  for (let i = 0; i < 250; i++) crowd(random.between(-4, 4), random.between(-58, 18));
  for (let i = 0; i < 190; i++) crowd(random.between(-42, 42), -6 + random.between(-2.6, 2.6));
  for (let i = 0; i < 110; i++) crowd(random.between(-34, 34), -30 + random.between(-3, 3));
  for (let i = 0; i < 60; i++) crowd(14 + random.between(-8, 8), -17 + random.between(-8, 8));
  for (let i = 0; i < 26; i++)
    van(build, random, {
      x: random.between(-46, -14),
      y: 0,
      z: random.between(9, 24),
      turn: 0.3 + random.between(-0.1, 0.1),
    });
  for (let i = 0; i < 18; i++)
    bench(build, { x: random.between(9, 30), y: 0, z: random.between(2, 9), turn: random.between(0, 6) });

  // Trees and the sleeping town behind, some windows lit.
  for (let i = 0; i < 150; i++)
    tree(
      build,
      random,
      { x: random.between(-110, 110), y: 0, z: -random.between(66, 92) },
      random.between(5, 10),
      80,
    );
  for (let i = 0; i < 22; i++)
    tree(
      build,
      random,
      {
        x: random.chance(0.5) ? random.between(-44, -30) : random.between(32, 46),
        y: 0,
        z: random.between(-30, 20),
      },
      random.between(4, 7),
      120,
    );
  for (let i = 0; i < 110; i++) {
    const z = -random.between(95, 175);
    const x = random.between(-130, 130);
    const place = { x, y: (-z - 95) * 0.22, z, turn: random.between(-0.3, 0.3) };
    house(
      build,
      random,
      place,
      { width: random.between(7, 11), depth: 9, storeys: random.pick([2, 3]) },
      false,
    );
    for (let k = 0; k < 4; k++)
      if (random.chance(0.4)) {
        const p = at(place, random.between(-3, 3), random.pick([1.6, 4.5]), 4.6);
        build.lamp(colour(random.pick(WARM), random.between(1.2, 3)), p.x, p.y, p.z, 0.42);
      }
  }

  const dusk = daylight(new THREE.Vector3(0.3, 0.6, -0.5), [0.16, 0.21, 0.38], [0.05, 0.07, 0.13], 3, 11);
  const passes: Pass[] = [];
  const group = 16;
  for (let i = 0; i < lamps.length; i += group)
    passes.push({ kind: 'lamps', lamps: lamps.slice(i, i + group) });
  const scene = new THREE.Scene();
  build.addTo(scene);
  const camera = new THREE.PerspectiveCamera(34, 1.5, 8, 600);
  camera.position.set(5, 17, 40);
  camera.lookAt(-0.5, 2.4, -16);
  camera.userData['nearest'] = 24;
  return {
    scene,
    camera,
    width: 3600 * scale,
    height: 2400 * scale,
    passes: [...passes, ...dusk],
    air: { tint: [0.012, 0.017, 0.035], distance: 420 },
    sky: { low: [0.1, 0.12, 0.2], high: [0.02, 0.03, 0.075] },
    exposure: 2.1,
    grain: 3,
    shadowCentre: new THREE.Vector3(0, 0, -30),
    shadowReach: 110,
  };
}
