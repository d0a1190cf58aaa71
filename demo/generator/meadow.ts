import * as THREE from 'three';
import { Build, colour } from './build';
import { daylight, type Shot } from './light';
import { Random } from './random';
import { PALETTE, bench, conifer, house, person, ribbon, tree } from './things';

/** Light of the early evening on the meadow. */
export const MEADOW_SUN = {
  from: new THREE.Vector3(0.7, 0.55, 0.35),
  tint: [4.4, 3.7, 2.8],
  sky: [0.42, 0.48, 0.6],
} as const;

/** The slope of the kite meadow: gentle, with a dip in the middle. */
export function slope(x: number, z: number): number {
  return Math.sin(x * 0.03) * 0.9 + Math.sin(z * 0.045 + x * 0.01) * 0.7 + Math.max(0, -z - 45) * 0.16;
}

/** The kite meadow above Orrin Bank from the bank of the hill; the kites themselves are footage's. */
export function meadow(scale: number): Shot {
  const random = new Random(31_415);
  const build = new Build();
  const land = new THREE.PlaneGeometry(420, 380, 140, 120).rotateX(-Math.PI / 2).translate(0, 0, -110);
  const position = land.getAttribute('position');
  for (let i = 0; i < position.count; i++) position.setY(i, slope(position.getX(i), position.getZ(i)));
  land.computeVertexNormals();
  build.mesh('grass', colour('#7d9150'), land);
  const path = Array.from({ length: 60 }, (_, i) => ({
    x: -46 + i * 1.7 + Math.sin(i * 0.21) * 5,
    z: 24 - i * 1.5,
  }));
  build.mesh('soil', colour('#b09a76'), ribbon(path, 2.2, slope, 0.05));
  const on = (x: number, z: number, turn = 0) => ({ x, y: slope(x, z), z, turn });
  for (let i = 0; i < 1500; i++) {
    const [x, z] = [random.between(-70, 70), random.between(-70, 26)];
    const tint = random.pick([colour('#e8d65c'), colour('#f1eee4'), colour('#c76f8f'), colour('#9aa75a')]);
    build.clump(tint, x, slope(x, z) + 0.12, z, random.between(0.1, 0.2), random.next());
  }
  for (let i = 0; i < 60; i++)
    tree(build, random, on(random.between(-90, 90), random.between(-100, -58)), random.between(5, 10), 110);
  for (let i = 0; i < 24; i++)
    conifer(build, random, on(random.between(-80, 80), random.between(-98, -62)), random.between(6, 11));
  for (let i = 0; i < 16; i++) {
    const side = random.chance(0.5) ? 1 : -1;
    tree(
      build,
      random,
      on(side * random.between(34, 60), random.between(-40, 14)),
      random.between(4, 7),
      160,
    );
  }
  for (let i = 0; i < 26; i++) {
    const place = on(random.between(-95, 95), random.between(-150, -104), random.between(-0.4, 0.4));
    house(
      build,
      random,
      place,
      { width: random.between(7, 11), depth: 9, storeys: random.pick([1, 2, 2]) },
      false,
    );
  }
  for (let i = 0; i < 46; i++) {
    const [x, z] = [random.between(-26, 30), random.between(-36, 16)];
    if (random.chance(0.35))
      build.box('canvas', random.pick(PALETTE.CLOTHES), on(x + 1, z), [1.9, 0.05, 1.5]);
    person(build, random, on(x, z, random.between(0, 6)));
    if (random.chance(0.5)) person(build, random, on(x + 0.9, z + 0.5, random.between(0, 6)));
  }
  for (let i = 0; i < 7; i++) bench(build, on(-24 + i * 9, 12 - i * 7.5, 0.6));
  const scene = new THREE.Scene();
  scene.add(new THREE.AmbientLight(new THREE.Color(0.05, 0.045, 0.038), 1));
  build.addTo(scene);
  const camera = new THREE.PerspectiveCamera(34, 16 / 9, 10, 600);
  camera.position.set(6, 26, 58);
  camera.lookAt(0, 1.5, -22);
  camera.userData['nearest'] = 30;
  return {
    scene,
    camera,
    width: 1920 * scale,
    height: 1080 * scale,
    passes: daylight(MEADOW_SUN.from, MEADOW_SUN.tint, MEADOW_SUN.sky, 12, 20),
    air: { tint: [0.5, 0.55, 0.62], distance: 900 },
    sky: { low: [0.78, 0.82, 0.86], high: [0.5, 0.62, 0.8] },
    exposure: 0.8,
    grain: 0,
    shadowCentre: new THREE.Vector3(0, 0, -40),
    shadowReach: 130,
  };
}
