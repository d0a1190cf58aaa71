import type * as THREE from 'three';

/** A thin lens in the place of the pinhole. */
export interface ThinLens {
  /** Its radius in metres. */
  aperture: number;
  /** What of the depth map (nearest / distance) is in focus in the middle of the picture. */
  focus: number;
  /** By how much that is more at the upper edge of the picture: a plane of focus that is tilted. */
  tilt: number;
  /** Places in the aperture that each pass of light is seen from. */
  places: number;
}

/** Radius in pixels of the disc that the lens makes of a point, for each 1 that it lies off the plane of focus. */
export function discRadius(lens: ThinLens, camera: THREE.PerspectiveCamera, height: number): number {
  return (lens.aperture * scaleOf(camera) * height) / 2 / camera.userData['nearest'];
}

/** Distance of the image plane, in halves of the picture's height. */
const scaleOf = (camera: THREE.PerspectiveCamera): number => 1 / Math.tan((camera.fov * Math.PI) / 360);

/** Place i in a round aperture, -1..1: Roberts' evenly spread sequence R2, mapped to the disc by equal areas (Shirley and Chiu). */
export function placeInAperture(i: number): [number, number] {
  const [a, b] = [0.7548776662466927, 0.5698402909980532].map((step) => 2 * ((0.5 + i * step) % 1) - 1);
  const isWide = Math.abs(a!) > Math.abs(b!);
  const radius = isWide ? a! : b!;
  if (radius === 0) return [0, 0];
  const angle = isWide ? (Math.PI / 4) * (b! / a!) : Math.PI / 2 - (Math.PI / 4) * (a! / b!);
  return [radius * Math.cos(angle), radius * Math.sin(angle)];
}

/**
 * Moves the camera's eye to a place in the aperture, sheared so that what is in focus stays where it is: with the view's
 * depth z and the picture's y, a point moves by place x (1 / z(focus, y) - 1 / z).
 */
export function throughAperture(
  camera: THREE.PerspectiveCamera,
  lens: ThinLens,
  place: [number, number],
): void {
  const nearest = camera.userData['nearest'] as number;
  const perZ = lens.focus / nearest;
  const perY = (lens.tilt / nearest) * scaleOf(camera);
  const [dx, dy] = place.map((part) => part * lens.aperture) as [number, number];
  const shear = camera.projectionMatrix.clone();
  shear.set(1, dx * perY, -dx * perZ, -dx, 0, 1 + dy * perY, -dy * perZ, -dy, 0, 0, 1, 0, 0, 0, 0, 1);
  camera.projectionMatrix.multiply(shear);
  camera.projectionMatrixInverse.copy(camera.projectionMatrix).invert();
}
