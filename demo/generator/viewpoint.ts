import * as THREE from 'three';
import type { Shot } from './light';

/** Where a scene is looked at from, in metres, and the vertical field of view in degrees. */
export interface Viewpoint {
  eye: [number, number, number];
  towards: [number, number, number];
  fov: number;
}

/** What is true of a view: the ground is taken to be level. */
export interface ViewTruth {
  /** How far the view looks down, in degrees. */
  down: number;
  /** Where the horizon lies, as a fraction of the height from the top; negative above the picture. */
  horizon: number;
  /** How much nearer the ground is at the bottom than at the top, or than a little below the horizon. */
  recession: number;
  /** Height of the tallest thing that stands well in front of the ground behind it, as a share of the picture's. */
  tallest: number;
  /** Where that is, as a fraction of the width. */
  tallestAt: number;
}

/** The share of the height below a horizon in the picture at which distance is no longer counted. */
const BELOW_HORIZON = 0.1;
/** A thing stands out where the ground behind it is so many times as far. */
const STANDS_OUT = 1.35;
/** Columns that are looked at for the tallest thing: one that is thinner is no more than a pole. */
const COLUMNS = 24;

/** A shot of the same scene from elsewhere. */
export function seenFrom(shot: Shot, { eye, towards, fov }: Viewpoint): Shot {
  const camera = new THREE.PerspectiveCamera(fov, shot.width / shot.height, 0.5, 900);
  camera.position.set(...eye);
  camera.lookAt(...towards);
  camera.updateMatrixWorld();
  camera.userData['nearest'] = 2;
  return { ...shot, camera };
}

/** @param depth as `Studio` renders it, of the picture's size. */
export function truthOf({ camera, width, height }: Shot, depth: Uint8Array): ViewTruth {
  const down = THREE.MathUtils.radToDeg(Math.asin(-camera.getWorldDirection(new THREE.Vector3()).y));
  const half = Math.tan(THREE.MathUtils.degToRad(camera.fov / 2));
  const horizon = 0.5 - Math.tan(THREE.MathUtils.degToRad(down)) / (2 * half);
  const [cos, sin] = [Math.cos(THREE.MathUtils.degToRad(down)), Math.sin(THREE.MathUtils.degToRad(down))];
  /** Distance along the view to level ground at a row, a fraction from the top. */
  const ground = (row: number): number => {
    const falls = sin - (1 - 2 * row) * half * cos;
    return falls > 0 ? camera.position.y / falls : Infinity;
  };
  const nearest = camera.userData['nearest'] as number;
  const seen = (x: number, y: number): number => {
    const i = ((height - 1 - y) * width + x) * 4;
    return nearest / ((depth[i]! * 256 + depth[i + 1]!) / 65535);
  };
  const columns = Array.from({ length: COLUMNS }, (_, i) => {
    const [from, to] = [Math.floor((i * width) / COLUMNS), Math.floor(((i + 1) * width) / COLUMNS)];
    let longest = 0;
    let run = 0;
    for (let y = 0; y < height; y++) {
      let out = 0;
      for (let x = from; x < to; x++) if (ground((y + 0.5) / height) > STANDS_OUT * seen(x, y)) out++;
      run = out * 2 > to - from ? run + 1 : 0;
      longest = Math.max(longest, run);
    }
    return longest / height;
  });
  const tallest = Math.max(...columns);
  return {
    down,
    horizon,
    recession: ground(Math.max(0, horizon + BELOW_HORIZON)) / ground(1),
    tallest,
    tallestAt: (columns.indexOf(tallest) + 0.5) / COLUMNS,
  };
}
