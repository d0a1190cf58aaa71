import * as THREE from 'three';
import { Build, type Place, colour, tinted } from './build';
import { daylight, type Shot } from './light';
import { Random } from './random';
import {
  PALETTE,
  at,
  awning,
  bench,
  cable,
  conifer,
  house,
  person,
  ribbon,
  stall,
  tram,
  tree,
  van,
} from './things';

/** The square: the middle of the tram's loop, its radius, and the square's. */
export const LOOP = { x: 4, z: -4, track: 15.5, square: 27 };

/** The land: level round the square, a hill behind. */
export function ground(x: number, z: number): number {
  const far = Math.max(0, -z - 70);
  const bowl = 1 - Math.exp(-((far / 150) ** 2));
  const waves = Math.sin(x * 0.017 + 1.3) * 9 + Math.sin(x * 0.041 + z * 0.02) * 4;
  return bowl * (38 + waves + far * 0.07);
}

function circle(radius: number, from = 0, to = Math.PI * 2, steps = 120): { x: number; z: number }[] {
  return Array.from({ length: steps + 1 }, (_, i) => {
    const a = from + ((to - from) * i) / steps;
    return { x: LOOP.x + radius * Math.cos(a), z: LOOP.z + radius * Math.sin(a) };
  });
}

function street(
  fromX: number,
  fromZ: number,
  toX: number,
  toZ: number,
  sway: number,
): { x: number; z: number }[] {
  return Array.from({ length: 41 }, (_, i) => {
    const t = i / 40;
    const bend = Math.sin(t * Math.PI) * sway;
    const length = Math.hypot(toX - fromX, toZ - fromZ);
    return {
      x: fromX + (toX - fromX) * t - ((toZ - fromZ) / length) * bend,
      z: fromZ + (toZ - fromZ) * t + ((toX - fromX) / length) * bend,
    };
  });
}

/** The streets that leave the square; rails lie in the first two. */
export function townStreets(): { x: number; z: number }[][] {
  return [
    street(LOOP.x - 13, LOOP.z - 8, -150, -78, 12),
    street(LOOP.x + 14, LOOP.z + 6, 140, 52, -9),
    street(LOOP.x - 4, LOOP.z + 15, -60, 120, 6),
    street(LOOP.x + 9, LOOP.z - 12, 62, -190, 14),
    street(LOOP.x - 15, LOOP.z + 3, -150, 20, -6),
  ];
}

/** Light of the late morning. */
export const TOWN_SUN = {
  from: new THREE.Vector3(-0.75, 0.72, 0.18),
  tint: [4.6, 4.05, 3.3],
  sky: [0.4, 0.48, 0.6],
} as const;

/** A place on the loop's rails. */
export function onTrack(angle: number): Place {
  return {
    x: LOOP.x + LOOP.track * Math.cos(angle),
    y: 0.08,
    z: LOOP.z + LOOP.track * Math.sin(angle),
    turn: -angle + Math.PI / 2,
  };
}

/** The tram loop of Orrin Bank on a bright late morning, seen from the clock tower. Footage brings trams of its own. */
/** @param without see `Build`. */
export function town(scale: number, without: number | null = null, withTrams = true): Shot {
  const random = new Random(20_417);
  const build = new Build(without);
  const land = new THREE.PlaneGeometry(900, 700, 220, 180).rotateX(-Math.PI / 2).translate(0, 0, -190);
  const position = land.getAttribute('position');
  for (let i = 0; i < position.count; i++)
    position.setY(i, ground(position.getX(i), position.getZ(i)) - 0.05);
  land.computeVertexNormals();
  build.mesh('grass', colour('#66734a'), land);

  // The square, its island, the rails.
  build.mesh(
    'cobble',
    colour('#a79d8d'),
    new THREE.CircleGeometry(LOOP.square + 2, 90).rotateX(-Math.PI / 2).translate(LOOP.x, 0.02, LOOP.z),
  );
  build.mesh('cobble', colour('#8d867b'), ribbon(circle(LOOP.track), 4.2, ground, 0.035));
  build.mesh(
    'grass',
    colour('#74914a'),
    new THREE.CircleGeometry(10.6, 60).rotateX(-Math.PI / 2).translate(LOOP.x, 0.16, LOOP.z),
  );
  build.mesh(
    'plain',
    PALETTE.STONE,
    new THREE.TorusGeometry(10.7, 0.22, 6, 90).rotateX(-Math.PI / 2).translate(LOOP.x, 0.1, LOOP.z),
  );
  const rails = (line: { x: number; z: number }[]): void => {
    for (const side of [-0.72, 0.72]) {
      const shifted = line.map((p, i) => {
        const a = line[Math.max(0, i - 1)]!;
        const b = line[Math.min(line.length - 1, i + 1)]!;
        const length = Math.hypot(b.x - a.x, b.z - a.z);
        return { x: p.x - ((b.z - a.z) / length) * side, z: p.z + ((b.x - a.x) / length) * side };
      });
      build.mesh('plain', colour('#5b5c5c'), ribbon(shifted, 0.16, ground, 0.07));
    }
  };
  rails(circle(LOOP.track));
  const avenues = townStreets();
  for (const [i, line] of avenues.entries()) {
    build.mesh(
      'cobble',
      colour(i < 2 ? '#8b8479' : '#9b9184'),
      ribbon(line, i < 2 ? 8.5 : 6, ground, 0.03 + i * 0.002),
    );
    if (i < 2) rails(line);
  }
  const onStreet = (x: number, z: number, margin: number): boolean =>
    avenues.some((line, i) => line.some((p) => Math.hypot(p.x - x, p.z - z) < (i < 2 ? 5 : 3.8) + margin));

  // Houses in rings round the square, shops on the first.
  let ring = LOOP.square + 7.5;
  for (let index = 0; ring < 230; index++) {
    const depth = random.between(8, 10.5);
    let angle = random.between(0, 0.2);
    while (angle < Math.PI * 2) {
      const width = random.between(6.5, 12.5);
      const mid = angle + width / 2 / ring;
      angle += (width + (random.chance(0.25) ? random.between(1.5, 5) : 0.15)) / ring;
      const r = ring + random.between(-0.7, 0.7);
      const x = LOOP.x + r * Math.cos(mid);
      const z = LOOP.z + r * Math.sin(mid);
      if (z > 74 || z < -175 || Math.abs(x) > 75 - z * 0.75 || onStreet(x, z, 5.2)) continue;
      // Nothing tall between the tower and the loop.
      const inView = z > LOOP.z + 16 && Math.abs(x - LOOP.x - 3) < 25;
      if (inView && index < 2) {
        if (index === 1 && random.chance(0.8))
          tree(build, random, { x, y: 0, z }, random.between(4.5, 7), 130);
        continue;
      }
      if (index > 3 && random.chance(0.12 + index * 0.025)) {
        tree(build, random, { x, y: ground(x, z), z }, random.between(6, 11), 90);
        continue;
      }
      const inward = Math.atan2(LOOP.x - x, LOOP.z - z) + (index % 2 ? Math.PI : 0);
      const place = { x, y: ground(x, z) - 0.1, z, turn: inward };
      const size = {
        width,
        depth: depth + random.between(-1, 1),
        storeys: random.pick(inView ? [1, 1, 2] : index === 0 ? [3, 3, 4, 2] : [2, 2, 3, 3, 1]),
      };
      build.asThing(build.newThing(), () => house(build, random, place, size, z > -150));
      if (index === 0) awning(build, random, at(place, 0, 0, size.depth / 2), width * 0.8);
    }
    // Gardens behind each pair of rings.
    ring += index % 2 ? 15 : 19;
    if (index % 2 === 0)
      for (let i = 0; i < ring * 1.5; i++) {
        const a = random.between(0, Math.PI * 2);
        const r = ring - 9.5 + random.between(-1.6, 1.6);
        const x = LOOP.x + r * Math.cos(a);
        const z = LOOP.z + r * Math.sin(a);
        if (z > 78 || z < -190 || Math.abs(x) > 85 - z * 0.75 || onStreet(x, z, 1.5)) continue;
        if (random.chance(0.45)) tree(build, random, { x, y: ground(x, z), z }, random.between(4.5, 9), 90);
        else
          for (let k = 0; k < 5; k++)
            build.clump(
              tinted(random.pick(PALETTE.LEAVES), 0.95),
              x + random.between(-1, 1),
              ground(x, z) + 0.35,
              z + random.between(-1, 1),
              random.between(0.3, 0.7),
              random.next(),
            );
      }
  }

  // The lawn before the loop: beds, hedges, trees, people on blankets.
  for (let i = 0; i < 46; i++) {
    const x = LOOP.x + random.between(-34, 40);
    const z = LOOP.z + random.between(29, 66);
    if (onStreet(x, z, 2) || Math.hypot(x - LOOP.x, z - LOOP.z) < LOOP.square + 4) continue;
    const place = { x, y: 0, z, turn: random.between(0, 3) };
    const kind = random.next();
    if (kind < 0.45) tree(build, random, place, random.between(4, 7.5), 230);
    else if (kind < 0.7) {
      build.box('soil', colour('#5c4633'), place, [random.between(3, 6), 0.12, 1.6]);
      for (let k = 0; k < 60; k++) {
        const p = at(place, random.between(-1.6, 1.6), 0.22, random.between(-0.7, 0.7));
        build.clump(
          random.pick([
            colour('#c8494b'),
            colour('#e2b23e'),
            colour('#efe6ea'),
            colour('#a75c9c'),
            colour('#5d8a45'),
          ]),
          p.x,
          p.y,
          p.z,
          0.17,
          random.next(),
        );
      }
    } else if (kind < 0.85) {
      build.box('canvas', random.pick(PALETTE.CLOTHES), at(place, 0, 0.02, 0), [1.8, 0.03, 1.5]);
      person(build, random, at(place, 1.2, 0, 0.3));
      person(build, random, at(place, -1.2, 0, -0.4, 2));
    } else
      for (let k = 0; k < 26; k++) {
        const p = at(place, (k - 13) * 0.28, 0.45, random.between(-0.2, 0.2));
        build.clump(tinted(PALETTE.LEAVES[2]!, random.between(0.8, 1.1)), p.x, p.y, p.z, 0.55, random.next());
      }
  }

  // The clock house on the hill, a landmark.
  const hall = { x: -52, y: ground(-52, -128) - 0.3, z: -128, turn: 0.35 };
  build.box('plaster', colour('#ddd0b6'), hall, [17, 10, 11]);
  build.hip('slate', PALETTE.SLATES[0]!, hall, [18, 6, 12], { x: 0, y: 10, z: 0 });
  build.box('plaster', colour('#e4d9c2'), hall, [5, 23, 5], { x: 7, y: 0, z: 4 });
  build.cone('slate', PALETTE.SLATES[2]!, hall, 3.6, 8, { x: 7, y: 23, z: 4 });
  build.ball('plain', colour('#f4eeda'), hall, [1.5, 1.5, 0.2], { x: 7, y: 19.5, z: 6.5 });
  for (let i = 0; i < 5; i++)
    build.box('plain', colour('#39444d'), hall, [1.3, 3.6, 0.2], { x: -6.5 + i * 2.4, y: 3.5, z: 5.5 });

  // Woods on the ridge, meadows with hedges between.
  for (let i = 0; i < 3400; i++) {
    const x = random.between(-360, 360);
    const z = -random.between(170, 470);
    if (Math.sin(x * 0.03 + 2) + Math.sin(z * 0.045 + x * 0.011) < 0.1 - (-z - 170) * 0.004) continue;
    const place = { x, y: ground(x, z) - 0.3, z };
    if (random.chance(0.55)) conifer(build, random, place, random.between(8, 15), 26);
    else tree(build, random, place, random.between(7, 12), 34);
  }

  // Life on the square.
  for (let i = 0; i < 9; i++) {
    const a = 0.35 + i * 0.7;
    tree(
      build,
      random,
      { x: LOOP.x + 8.4 * Math.cos(a), y: 0.1, z: LOOP.z + 8.4 * Math.sin(a) },
      random.between(4.2, 5.6),
      130,
    );
    bench(build, {
      x: LOOP.x + 9.6 * Math.cos(a + 0.35),
      y: 0.15,
      z: LOOP.z + 9.6 * Math.sin(a + 0.35),
      turn: -a - 0.35 + Math.PI / 2,
    });
  }
  const kiosk = { x: LOOP.x, y: 0.15, z: LOOP.z };
  build.post('plaster', colour('#e7dcc0'), kiosk, 2.1, 2.6);
  build.cone('slate', colour('#4d7a6d'), kiosk, 3.1, 1.9, { x: 0, y: 2.6, z: 0 });
  for (let i = 0; i < 8; i++)
    build.post('plain', PALETTE.WHITE, kiosk, 0.07, 2.6, {
      x: 2.8 * Math.cos(i * 0.785),
      y: 0,
      z: 2.8 * Math.sin(i * 0.785),
    });
  for (let i = 0; i < 260; i++) {
    const a = random.between(0, Math.PI * 2);
    const r = 5 + random.next() * 0.9 + (i % 2) * 1.3;
    build.clump(
      random.pick([
        colour('#c8494b'),
        colour('#e2b23e'),
        colour('#efe6ea'),
        colour('#a75c9c'),
        colour('#5d8a45'),
      ]),
      LOOP.x + r * Math.cos(a),
      0.25,
      LOOP.z + r * Math.sin(a),
      0.16,
      random.next(),
    );
  }
  const along = (line: { x: number; z: number }[], i: number, lift: number) => ({
    x: line[i]!.x,
    y: ground(line[i]!.x, line[i]!.z) + lift,
    z: line[i]!.z,
    turn: Math.atan2(-(line[i + 1]!.z - line[i]!.z), line[i + 1]!.x - line[i]!.x),
  });
  if (withTrams) {
    tram(build, onTrack(1.75), 0.27);
    tram(build, onTrack(-0.75), 0.27);
    tram(build, along(avenues[0]!, 9, 0.08));
    tram(build, along(avenues[1]!, 13, 0.08));
  }
  const mastTops: THREE.Vector3[] = [];
  for (let i = 0; i <= 16; i++) {
    const a = (i / 16) * Math.PI * 2;
    const p = { x: LOOP.x + 18.6 * Math.cos(a), y: 0, z: LOOP.z + 18.6 * Math.sin(a) };
    if (i < 16) build.post('plain', colour('#4a5a55'), p, 0.09, 6.2);
    if (i < 16) build.ball('plain', colour('#f2ead0'), p, [0.24, 0.28, 0.24], { x: 0, y: 6.3, z: 0 });
    mastTops.push(
      new THREE.Vector3(LOOP.x + LOOP.track * Math.cos(a), 5.2, LOOP.z + LOOP.track * Math.sin(a)),
    );
    if (i < 16) cable(build, new THREE.Vector3(p.x, 5.6, p.z), mastTops[i]!, 0, 0.025);
    if (i > 0) cable(build, mastTops[i - 1]!, mastTops[i]!, 0.1, 0.025);
  }
  for (let i = 0; i < 20; i++) {
    const a = 2.35 + (i % 10) * 0.135;
    const r = i < 10 ? 21.3 : 24.6;
    stall(build, random, {
      x: LOOP.x + r * Math.cos(a),
      y: 0.03,
      z: LOOP.z + r * Math.sin(a),
      turn: -a - Math.PI / 2,
    });
  }
  for (let i = 0; i < 330; i++) {
    const a = random.chance(0.45) ? random.between(2.2, 3.8) : random.between(0, Math.PI * 2);
    const r = random.between(18.5, LOOP.square + 1);
    person(build, random, {
      x: LOOP.x + r * Math.cos(a),
      y: 0.03,
      z: LOOP.z + r * Math.sin(a),
      turn: random.between(0, 6.28),
    });
  }
  for (const line of avenues)
    for (let i = 2; i < 38; i++) {
      const here = along(line, i, 0.03);
      for (const side of [-1, 1]) {
        if (random.chance(0.5))
          person(
            build,
            random,
            at(here, random.between(-2, 2), 0, side * random.between(2.1, 2.9), random.between(0, 6)),
          );
        if (random.chance(0.2))
          build.asThing(build.newThing(), () => van(build, random, at(here, 0, 0, side * 2.1, 0)));
      }
    }
  for (let i = 0; i < 26; i++)
    person(build, random, {
      x: LOOP.x + random.between(-5, 5),
      y: 0.17,
      z: LOOP.z + random.between(3, 9),
      turn: random.between(0, 6),
    });

  const scene = new THREE.Scene();
  scene.add(new THREE.AmbientLight(new THREE.Color(0.05, 0.045, 0.038), 1));
  build.addTo(scene);
  const camera = new THREE.PerspectiveCamera(37, 1.5, 20, 900);
  camera.position.set(16, 72, 112);
  camera.lookAt(0, 0, -27);
  camera.userData['nearest'] = 60;
  return {
    scene,
    camera,
    width: 4800 * scale,
    height: 3200 * scale,
    passes: daylight(TOWN_SUN.from, TOWN_SUN.tint, TOWN_SUN.sky, 14, 26),
    air: { tint: [0.46, 0.54, 0.64], distance: 1700 },
    sky: { low: [0.75, 0.8, 0.85], high: [0.42, 0.58, 0.8] },
    exposure: 0.84,
    grain: 2.2,
    shadowCentre: new THREE.Vector3(0, 0, -50),
    shadowReach: 190,
  };
}
