import * as THREE from 'three';
import { Build, type Place, colour } from './build';
import type { Mover, Scene } from './footage';
import { MEADOW_SUN, meadow, slope } from './meadow';
import { Random } from './random';
import { person, tram } from './things';
import { LOOP, TOWN_SUN, ground, onTrack, town, townStreets } from './town';

type View = Omit<Scene, 'still' | 'gain'>;

function body(make: (build: Build) => void): THREE.Object3D {
  const group = new THREE.Group();
  const build = new Build();
  make(build);
  build.addTo(group, new THREE.MeshBasicMaterial());
  return group;
}

const ORIGIN: Place = { x: 0, y: 0, z: 0 };

/** A place on a line of points at a share of its length, looking along it. */
function along(line: readonly { x: number; z: number }[], share: number, lift: number): Place {
  const t = Math.min(0.9999, Math.max(0, share)) * (line.length - 1);
  const i = Math.floor(t);
  const [a, b] = [line[i]!, line[i + 1]!];
  const x = a.x + (b.x - a.x) * (t - i);
  const z = a.z + (b.z - a.z) * (t - i);
  return { x, y: ground(x, z) + lift, z, turn: Math.atan2(-(b.z - a.z), b.x - a.x) };
}

function townMovers(): Mover[] {
  const random = new Random(4711);
  const movers: Mover[] = [];
  for (const start of [1.75, -1.1])
    movers.push({
      body: body((build) => tram(build, ORIGIN, 0.27)),
      at: (time) => onTrack(start - time * 7.5),
      castsShadow: true,
    });
  const streets = townStreets();
  for (const [i, line] of streets.slice(0, 2).entries())
    movers.push({
      body: body((build) => tram(build, ORIGIN)),
      at: (time) => along(line, i === 0 ? 0.85 - time * 0.7 : 0.1 + time * 0.7, 0.08),
      castsShadow: true,
    });
  for (let i = 0; i < 150; i++) {
    const walker = body((build) => person(build, random, ORIGIN));
    const [start, radius] = [random.between(0, 6.28), random.between(18.8, LOOP.square)];
    const pace = random.between(0.5, 1.6) * (random.chance(0.5) ? 1 : -1);
    const sway = random.between(0, 6);
    movers.push({
      body: walker,
      at(time) {
        const a = start + time * pace;
        const r = radius + Math.sin(time * 9 + sway) * 0.8;
        return {
          x: LOOP.x + r * Math.cos(a),
          y: 0.03,
          z: LOOP.z + r * Math.sin(a),
          turn: -a - (pace > 0 ? Math.PI : 0),
        };
      },
      castsShadow: true,
    });
  }
  for (const line of streets)
    for (let i = 0; i < 22; i++) {
      const walker = body((build) => person(build, random, ORIGIN));
      const [start, side, pace] = [random.next(), random.between(1.9, 3.2), random.between(-0.35, 0.35)];
      const left = random.chance(0.5) ? 1 : -1;
      movers.push({
        body: walker,
        at(time) {
          const place = along(line, (start + time * pace + 1) % 1, 0.03);
          const turn = place.turn ?? 0;
          return {
            ...place,
            x: place.x + Math.sin(turn) * side * left,
            z: place.z + Math.cos(turn) * side * left,
          };
        },
        castsShadow: true,
      });
    }
  return movers;
}

const SAILS = ['#d8543f', '#e9b03c', '#3f8fb0', '#7aa64f', '#b0568f', '#efe6d2', '#e2763a', '#4f6fb8'];

/** A kite of two cloths with its tail of bows. */
function kite(build: Build, hex: string, other: string): void {
  const cloth = (tint: string, points: number[]): void => {
    const geometry = new THREE.BufferGeometry();
    const back = [points.slice(0, 3), points.slice(6, 9), points.slice(3, 6)].flat();
    geometry.setAttribute('position', new THREE.Float32BufferAttribute([...points, ...back], 3));
    geometry.computeVertexNormals();
    build.mesh('plain', colour(tint), geometry);
  };
  cloth(hex, [0, 1.5, 0, -1, 0.3, -0.15, 0, 0, 0.1]);
  cloth(other, [0, 1.5, 0, 0, 0, 0.1, 1, 0.3, -0.15]);
  cloth(other, [0, 0, 0.1, -1, 0.3, -0.15, 0, -1.3, 0]);
  cloth(hex, [0, 0, 0.1, 0, -1.3, 0, 1, 0.3, -0.15]);
  for (let i = 0; i < 7; i++)
    build.ball('plain', colour(i % 2 ? hex : other), ORIGIN, [0.16, 0.08, 0.08], {
      x: Math.sin(i * 0.8) * 0.25,
      y: -1.6 - i * 0.42,
      z: 0,
    });
}

function meadowMovers(): Mover[] {
  const random = new Random(2718);
  const movers: Mover[] = [];
  for (let i = 0; i < 15; i++) {
    const [x, z] = [random.between(-24, 24), random.between(-44, 0)];
    const [height, reach] = [random.between(4, 12), random.between(2, 4.5)];
    const [phase, speed] = [random.between(0, 6.28), random.between(5, 11)];
    const tints = [random.pick(SAILS), random.pick(SAILS)] as const;
    movers.push({
      body: body((build) => kite(build, ...tints)),
      at: (time) => ({
        x: x + reach * Math.sin(phase + time * speed),
        y: slope(x, z) + height + 0.9 * Math.sin(2 * (phase + time * speed)),
        z: z + 1.5 * Math.cos(phase + time * speed),
        turn: 0.4 * Math.sin(phase + time * speed * 0.7),
        lean: -0.5 * Math.cos(phase + time * speed),
      }),
      castsShadow: false,
    });
  }
  for (let i = 0; i < 26; i++) {
    const walker = body((build) => person(build, random, ORIGIN));
    const [x, z, turn] = [random.between(-30, 30), random.between(-40, 12), random.between(0, 6.28)];
    const far = random.between(2, 7);
    movers.push({
      body: walker,
      at(time) {
        const [px, pz] = [x + Math.sin(turn) * far * time, z + Math.cos(turn) * far * time];
        return { x: px, y: slope(px, pz), z: pz, turn };
      },
      castsShadow: true,
    });
  }
  return movers;
}

const drift = (time: number, ...waves: [number, number, number][]): number =>
  waves.reduce((sum, [size, turns, phase]) => sum + size * Math.sin(turns * time * Math.PI * 2 + phase), 0);

/** The clips that the generator knows, each as it is for a still of a scale. */
export const CLIPS: Record<string, (scale: number) => View> = {
  'tram-loop': (scale) => ({
    shot: { ...town(0.6 * scale, null, false), grain: 0 },
    movers: townMovers(),
    sun: TOWN_SUN,
    camera: (time) => ({
      pan: 2.6 - 5.2 * time + drift(time, [0.35, 1.7, 0.4]),
      tilt: -4.2 + 1.9 * time + drift(time, [0.25, 2.3, 1.1]),
      roll: -1.4 + 2.8 * time + drift(time, [0.3, 1.3, 2]),
      fov: 20.5 - 1.2 * time,
    }),
    clouds: 0.42,
    frames: 240,
    width: 1280,
    height: 720,
  }),
  'kite-meadow': (scale) => ({
    shot: meadow(scale),
    movers: meadowMovers(),
    sun: MEADOW_SUN,
    camera: () => ({ pan: 0, tilt: 0, roll: 0, fov: 34 }),
    clouds: 0.25,
    frames: 120,
    width: 1920,
    height: 1080,
  }),
};
