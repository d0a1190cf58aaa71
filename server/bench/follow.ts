// Follows places of the demo clip against the generator's own truth, and things that move over texture against theirs.
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { MotionTracker, bandOutline, bandSchema, greyOf, outlineBox } from '@hazy-lens/core';
import { transformPoint } from '../../core/src/geometry/similarity';
import { SCENES, followedThrough } from '../../core/test/moving-scenes';

const root = fileURLToPath(new URL('../..', import.meta.url));
const [width, height] = [1280, 720];
const { motion } = JSON.parse(readFileSync(`${root}demo/footage/tram-loop-truth.json`, 'utf8')) as {
  motion: number[][];
};
const { stdout, error } = spawnSync(
  'ffmpeg',
  ['-v', 'error', '-i', `${root}demo/footage/tram-loop.mp4`, '-f', 'rawvideo', '-pix_fmt', 'gray', '-'],
  { maxBuffer: 2 ** 30 },
);
if (error) {
  console.error(
    'The follow case decodes the clip with ffmpeg: please install it ("apt-get install ffmpeg").',
  );
  process.exit(2);
}
const frames = Array.from(
  { length: motion.length },
  (_, i) => new Uint8Array(stdout.buffer, stdout.byteOffset + i * width * height, width * height),
);

/** Where a place of frame 0 is in a frame, by the camera's true motion; pixels whose middle is a whole number. */
function truth(frame: number, [x, y]: readonly [number, number]): [number, number] {
  const h = motion[frame]!;
  const [u, v] = [x + 0.5, y + 0.5];
  const w = h[6]! * u + h[7]! * v + h[8]!;
  return [(h[0]! * u + h[1]! * v + h[2]!) / w - 0.5, (h[3]! * u + h[4]! * v + h[5]!) / w - 0.5];
}

const size = { width, height };
const bands = {
  'ellipse in the middle': { kind: 'elliptical', centre: [0.52, 0.47], radii: [0.08, 0.06] },
  'small ellipse': { kind: 'elliptical', centre: [0.3, 0.35], radii: [0.03, 0.03] },
  'low strip': { kind: 'planar', centre: [0.6, 0.75], angle: 4 },
};
for (const [name, shape] of Object.entries(bands)) {
  const band = bandSchema.parse({ id: 'b', ...shape });
  const [fx, fy] = shape.centre as [number, number];
  const at = [fx * width - 0.5, fy * height - 0.5] as const;
  const outline = bandOutline(band, size);
  const box = outlineBox(outline, size)!;
  const start = performance.now();
  const follower = new MotionTracker(greyOf(frames[0]!, width, height), {
    at,
    box,
    outline,
    isGround: band.kind === 'planar',
  });
  const errors: number[] = [];
  let lost: number | null = null;
  for (let i = 1; i < frames.length; i++) {
    const step = follower.next(greyOf(frames[i]!, width, height));
    if (!step.isSeen) {
      lost ??= i;
      continue;
    }
    const [x, y] = transformPoint(step.motion, at);
    const [u, v] = truth(i, at);
    errors.push(Math.hypot(x - u, y - v));
  }
  const seconds = (performance.now() - start) / 1000;
  const mean = errors.reduce((a, b) => a + b, 0) / errors.length;
  console.log(
    JSON.stringify({
      case: 'follow',
      what: name,
      framesPerSecond: Number((errors.length / seconds).toFixed(1)),
      meanErrorPx: Number(mean.toFixed(3)),
      mostErrorPx: Number(Math.max(...errors).toFixed(3)),
      lostAt: lost,
    }),
  );
}
for (const [name, scene] of Object.entries(SCENES)) {
  const outcome = followedThrough(scene);
  const shown = Object.entries(outcome).map(([key, value]) => [key, value && Number(value.toFixed(3))]);
  console.log(JSON.stringify({ case: 'follow', what: name, ...Object.fromEntries(shown) }));
}
