import * as THREE from 'three';
import { Build, colour, tinted, type Place } from './build';
import { daylight, type Shot } from './light';
import { Random } from './random';
import { PALETTE, at, bench, conifer, house, person, ribbon, tree } from './things';

const level = (): number => 0;

/** A glasshouse with its staging, pots and plants; its door looks along +z. */
function glasshouse(build: Build, random: Random, place: Place, width: number, length: number): void {
  const bar = colour(random.pick(['#eef0ea', '#e3e6dd', '#7fa093', '#d9dcd0']));
  const eaves = 1.75;
  const ridge = eaves + width * 0.36;
  build.box('brick', colour('#a8705a'), place, [width, 0.5, length]);
  build.box('soil', colour('#5a4636'), place, [width - 0.3, 0.03, length - 0.3], { x: 0, y: 0.5, z: 0 });
  const bays = Math.round(length / 0.75);
  const lean = Math.hypot(width / 2, ridge - eaves);
  const tilt = Math.atan2(ridge - eaves, width / 2);
  const rafter = (z: number, thick: number): void => {
    for (const side of [-1, 1]) {
      build.box('plain', bar, place, [thick, eaves - 0.5, thick], { x: (side * width) / 2, y: 0.5, z });
      const geometry = new THREE.BoxGeometry(lean, thick, thick)
        .rotateZ(-side * tilt)
        .translate((side * width) / 4, (eaves + ridge) / 2, z);
      build.mesh('plain', bar, geometry.rotateY(place.turn ?? 0).translate(place.x, place.y, place.z));
    }
  };
  for (let i = 0; i <= bays; i++) rafter((i / bays - 0.5) * length, i === 0 || i === bays ? 0.07 : 0.04);
  for (const x of [-width / 2, width / 2])
    build.box('plain', bar, place, [0.07, 0.07, length], { x, y: eaves, z: 0 });
  build.box('plain', bar, place, [0.09, 0.12, length + 0.1], { x: 0, y: ridge - 0.05, z: 0 });
  for (const z of [-length / 2, length / 2]) {
    build.box('plain', bar, place, [width, 0.06, 0.06], { x: 0, y: eaves, z });
    for (const x of [-width / 4, -0.45, 0.45, width / 4])
      build.box(
        'plain',
        bar,
        place,
        [0.05, eaves - 0.5 + (1 - Math.abs(x) / (width / 2)) * (ridge - eaves), 0.05],
        { x, y: 0.5, z },
      );
    build.pane(place, [width, eaves - 0.5, 0.01], { x: 0, y: 0.5, z });
  }
  for (const side of [-1, 1]) {
    build.pane(place, [0.01, eaves - 0.5, length], { x: (side * width) / 2, y: 0.5, z: 0 });
    for (const z of [-0.18, 0.22]) {
      const open = new THREE.BoxGeometry(0.7, 0.04, 0.7)
        .rotateZ(-side * (tilt - 0.5))
        .translate(side * 0.42, ridge - 0.02, z * length);
      build.mesh(
        'plain',
        tinted(bar, 0.95),
        open.rotateY(place.turn ?? 0).translate(place.x, place.y, place.z),
      );
    }
    // Staging with pots.
    build.box('planks', colour('#a58a66'), place, [0.8, 0.06, length - 0.6], {
      x: side * (width / 2 - 0.55),
      y: 0.95,
      z: 0,
    });
    for (let i = 0; i < length * 4.2; i++) {
      const p = at(
        place,
        side * (width / 2 - random.between(0.25, 0.85)),
        1.01,
        (random.next() - 0.5) * (length - 0.8),
      );
      potted(build, random, p, random.between(0.09, 0.16));
    }
  }
  for (let i = 0; i < length * 1.5; i++) {
    const p = at(
      place,
      random.between(-0.5, 0.5) * (width * 0.16),
      0.52,
      (random.next() - 0.5) * (length - 1.2),
    );
    tomato(build, random, p);
  }
}

function potted(build: Build, random: Random, place: Place, radius: number): void {
  build.post(
    'plain',
    random.pick([colour('#b5623f'), colour('#a8593a'), colour('#c27a55')]),
    place,
    radius,
    radius * 1.7,
  );
  const leaf = tinted(random.pick(PALETTE.LEAVES), 1.1);
  const bloom = random.pick(
    ['#d6433f', '#e59a2f', '#f0e7ec', '#c75a9b', '#f2cf45', '#7d6bc0'].map((h) => colour(h)),
  );
  for (let i = 0; i < 7; i++)
    build.clump(
      random.chance(0.3) ? bloom : leaf,
      place.x + random.between(-radius, radius),
      place.y + radius * random.between(1.9, 3.6),
      place.z + random.between(-radius, radius),
      radius * random.between(0.5, 0.85),
      random.next(),
    );
}

function tomato(build: Build, random: Random, place: Place): void {
  build.post('plain', colour('#9c8355'), place, 0.015, 1.4);
  for (let i = 0; i < 15; i++) {
    const fruit = random.chance(0.25);
    build.clump(
      fruit ? colour('#c8382a') : tinted(PALETTE.LEAVES[1]!, random.between(0.8, 1.25)),
      place.x + random.between(-0.18, 0.18),
      place.y + random.between(0.2, 1.5),
      place.z + random.between(-0.18, 0.18),
      fruit ? 0.05 : random.between(0.07, 0.14),
      random.next(),
    );
  }
}

/** A bed of one crop in rows. */
function bed(build: Build, random: Random, place: Place, width: number, length: number): void {
  build.box('soil', colour(random.pick(['#5c4633', '#66503b', '#54402f'])), place, [width, 0.14, length]);
  for (const x of [-width / 2, width / 2])
    build.box('planks', colour('#8f7551'), place, [0.06, 0.22, length], { x, y: 0, z: 0 });
  for (const z of [-length / 2, length / 2])
    build.box('planks', colour('#8f7551'), place, [width, 0.22, 0.06], { x: 0, y: 0, z });
  const crop = random.pick(['lettuce', 'cabbage', 'beans', 'flowers', 'leeks', 'squash', 'bare'] as const);
  const rows = Math.max(2, Math.floor(width / 0.42));
  const leaf = random.pick(['#7fa03f', '#93ad55', '#5d7f4a', '#88a06a', '#7b4a58'].map((h) => colour(h)));
  for (let row = 0; row < rows; row++) {
    const x = ((row + 0.5) / rows - 0.5) * (width - 0.2);
    for (let z = -length / 2 + 0.3; z < length / 2 - 0.2; z += crop === 'leeks' ? 0.16 : 0.36) {
      const p = at(place, x + random.between(-0.04, 0.04), 0.14, z + random.between(-0.05, 0.05));
      if (random.chance(0.06) || crop === 'bare') {
        if (crop === 'bare' && random.chance(0.2))
          build.clump(leaf, p.x, p.y + 0.03, p.z, 0.05, random.next());
        continue;
      }
      if (crop === 'beans') {
        build.post('plain', colour('#a98f62'), p, 0.015, 2.1);
        for (let k = 0; k < 16; k++)
          build.clump(
            random.chance(0.1) ? colour('#d0503f') : tinted(leaf, random.between(0.75, 1.15)),
            p.x + random.between(-0.13, 0.13),
            p.y + random.between(0.1, 2),
            p.z + random.between(-0.13, 0.13),
            random.between(0.06, 0.12),
            random.next(),
          );
      } else if (crop === 'flowers') {
        const bloom = random.pick(
          ['#d94f45', '#e8b23c', '#f1eadf', '#b65fa6', '#ec8d4d'].map((h) => colour(h)),
        );
        for (let k = 0; k < 7; k++)
          build.clump(
            k < 4 ? tinted(leaf, 0.9) : bloom,
            p.x + random.between(-0.12, 0.12),
            p.y + (k < 4 ? random.between(0.05, 0.3) : random.between(0.32, 0.46)),
            p.z + random.between(-0.12, 0.12),
            random.between(0.05, 0.1),
            random.next(),
          );
      } else if (crop === 'leeks') {
        build.cone('plain', tinted(leaf, random.between(0.8, 1.1)), p, 0.04, 0.42);
      } else {
        const size = crop === 'squash' ? 0.2 : 0.13;
        for (let k = 0; k < 6; k++)
          build.clump(
            tinted(leaf, random.between(0.78, 1.2)),
            p.x + random.between(-size, size) * 0.7,
            p.y + random.between(0.03, size),
            p.z + random.between(-size, size) * 0.7,
            size * random.between(0.5, 0.8),
            random.next(),
          );
        if (crop === 'squash' && random.chance(0.4))
          build.ball('plain', colour('#dd8a2e'), p, [0.17, 0.13, 0.17], { x: 0.1, y: 0.1, z: 0.05 });
      }
    }
  }
}

function shed(build: Build, random: Random, place: Place): void {
  const tint = colour(random.pick(['#6f8a86', '#8c6a4c', '#a3543f', '#5f7d5a', '#88796a', '#4d6c86']));
  build.box('planks', tint, place, [2.4, 2.1, 2]);
  build.gable('slate', colour(random.pick(['#5d625f', '#7a5142', '#6c6a64'])), place, [2.8, 0.85, 2.5], {
    x: 0,
    y: 2.06,
    z: 0,
  });
  build.gable('planks', tint, place, [2.38, 0.82, 2], { x: 0, y: 2.06, z: 0 });
  build.box('planks', tinted(tint, 0.7), place, [0.85, 1.8, 0.06], { x: -0.4, y: 0.05, z: 1 });
  build.box('plain', colour('#ece7da'), place, [0.72, 0.66, 0.06], { x: 0.65, y: 1, z: 1 });
  build.box('plain', colour('#46525a'), place, [0.58, 0.52, 0.08], { x: 0.65, y: 1.07, z: 1 });
  build.post('plain', colour('#3f6b50'), at(place, 1.6, 0, 0.6), 0.34, 1);
  build.post('plain', colour('#33413a'), at(place, 1.6, 1, 0.6), 0.3, 0.02);
}

function barrow(build: Build, random: Random, place: Place): void {
  build.box('plain', colour(random.pick(['#4f8a5a', '#b6523d', '#58789a'])), place, [0.62, 0.34, 0.9], {
    x: 0,
    y: 0.35,
    z: 0,
  });
  build.ball('plain', colour('#2a2a2a'), place, [0.08, 0.2, 0.2], { x: 0, y: 0.2, z: -0.65 });
  for (const x of [-0.26, 0.26])
    build.box('plain', colour('#6e5a40'), place, [0.05, 0.05, 1], { x, y: 0.5, z: 0.75 });
}

function fence(build: Build, from: [number, number], to: [number, number]): void {
  const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
  const turn = Math.atan2(-(to[1] - from[1]), to[0] - from[0]);
  const place = { x: from[0], y: 0, z: from[1], turn };
  for (const y of [0.35, 0.8])
    build.box('planks', colour('#8b8172'), place, [length, 0.08, 0.04], { x: length / 2, y, z: 0 });
  for (let d = 0; d < length; d += 0.16)
    build.box('plain', colour('#a39884'), place, [0.09, 1.0 + 0.05 * Math.sin(d * 5), 0.03], {
      x: d,
      y: 0,
      z: 0.03,
    });
}

/** The allotments of Orrin Bank in afternoon sun, from the embankment. */
export function glasshouses(scale: number, without: number | null = null): Shot {
  const random = new Random(5_151);
  const build = new Build(without);
  build.mesh('grass', colour('#71894a'), new THREE.PlaneGeometry(400, 400, 4, 4).rotateX(-Math.PI / 2));
  const gravel = colour('#b5a88f');
  for (const z of [9.4, -1.4, -12.4, -24.5, -38])
    build.mesh(
      'soil',
      gravel,
      ribbon(
        [
          { x: -60, z },
          { x: 60, z: z - 1.5 },
        ],
        1.5,
        level,
        0.03,
      ),
    );
  for (const x of [-16.2, -5.3, 6.2, 17.4])
    build.mesh(
      'soil',
      gravel,
      ribbon(
        [
          { x, z: 26 },
          { x: x - 1.5, z: -60 },
        ],
        1.3,
        level,
        0.035,
      ),
    );

  // Plots of about 10 x 10 m: each has a glasshouse or a shed, and beds.
  const columns = [-33, -22, -10.8, 0.4, 11.8, 23, 34];
  const rows = [15.2, 4, -6.8, -18.2, -31, -44];
  for (const [j, z] of rows.entries())
    for (const [i, x] of columns.entries()) {
      const hero = i === 3 && j === 1;
      const hasGlass = hero || ((i + j * 2) % 3 === 0 && random.chance(0.85)) || random.chance(0.16);
      const plot = { x: x - z * -0.012, y: 0, z, turn: 0.02 * (j - 2) };
      if (hasGlass)
        glasshouse(
          build,
          random,
          at(plot, hero ? -0.4 : -2.2, 0, hero ? 0.2 : -0.6, hero ? 0.18 : random.between(-0.05, 0.08)),
          hero ? 3.6 : random.between(2.4, 3),
          hero ? 6 : random.between(4, 5.6),
        );
      else {
        const place = at(plot, -2.8, 0, -2.6, random.between(-0.1, 0.1));
        build.asThing(build.newThing(), () => shed(build, random, place));
      }
      const slots: [number, number, number, number][] = hero
        ? [
            [3.4, 0, 1.7, 7],
            [-3.9, 0.4, 1.6, 6.4],
          ]
        : hasGlass
          ? [
              [1.2, 0, 1.5, 7],
              [3.4, 0.2, 1.7, 6.6],
              [-2.2, 3.6, 2.6, 1.5],
            ]
          : [
              [-2.8, 1.9, 2.6, 4],
              [0.1, 0, 1.6, 7.4],
              [2.2, 0.1, 1.4, 7.2],
              [4, 0.1, 1.3, 7],
            ];
      for (const [bx, bz, w, l] of slots) bed(build, random, at(plot, bx, 0, bz), w, l);
      for (let k = 0; k < 9; k++)
        potted(
          build,
          random,
          at(plot, random.between(-4.4, -3.6), 0.02, random.between(-3.5, 4)),
          random.between(0.11, 0.2),
        );
      if (random.chance(0.75))
        person(
          build,
          random,
          at(
            plot,
            random.between(-1, 0.1) + (hero ? 3 : 0),
            0.02,
            random.between(-3, 4.2),
            random.between(0, 6),
          ),
        );
      if (random.chance(0.4))
        barrow(build, random, at(plot, random.between(-0.8, 0.4), 0.02, 4.2, random.between(0, 6)));
      if (random.chance(0.5)) tree(build, random, at(plot, -4.6, 0, -4.2), random.between(2.4, 3.8), 420);
      if (random.chance(0.3)) bench(build, at(plot, 0.4, 0, -4.3));
      fence(build, [x - 5, z - 4.9], [x + 5, z - 4.9]);
    }
  for (let i = 0; i < 16; i++)
    person(build, random, {
      x: random.between(-30, 30),
      y: 0.04,
      z: random.pick([9.4, -1.5, -12.5, -24.6]) + random.between(-0.4, 0.4),
      turn: random.between(0, 6),
    });

  // A row of cottages and an orchard close the view.
  for (let i = 0; i < 16; i++)
    house(
      build,
      random,
      { x: -75 + i * 10 + random.between(-1, 1), y: 0, z: -66 + random.between(-2, 2) },
      { width: random.between(7, 9.5), depth: 8, storeys: random.pick([1, 2, 2]) },
    );
  for (let i = 0; i < 130; i++) {
    const place = {
      x: random.between(-100, 100),
      y: 0,
      z: random.chance(0.25) ? random.between(-60, -53) : random.between(-130, -76),
    };
    if (random.chance(0.7)) tree(build, random, place, random.between(4, 10), 190);
    else conifer(build, random, place, random.between(8, 13), 60);
  }
  const scene = new THREE.Scene();
  scene.add(new THREE.AmbientLight(new THREE.Color(0.06, 0.055, 0.045), 1));
  build.addTo(scene);
  const camera = new THREE.PerspectiveCamera(30, 1.5, 6, 500);
  camera.position.set(-6, 14.5, 34);
  camera.lookAt(0.5, 0.3, -3);
  camera.userData['nearest'] = 18;
  return {
    scene,
    camera,
    width: 3600 * scale,
    height: 2400 * scale,
    passes: daylight(new THREE.Vector3(0.62, 0.6, 0.32), [4.7, 4.0, 3.0], [0.36, 0.44, 0.56], 9, 15),
    air: { tint: [0.6, 0.62, 0.62], distance: 2000 },
    sky: { low: [0.8, 0.82, 0.84], high: [0.5, 0.62, 0.8] },
    exposure: 0.84,
    grain: 2,
    shadowCentre: new THREE.Vector3(0, 0, -20),
    shadowReach: 75,
  };
}
