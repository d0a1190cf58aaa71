// Follows the middle of the demo clip's band through the clip, against the generator's own truth.
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { Follower, greyOf, moved } from '@hazy-lens/core';

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

for (const [name, fx, fy] of [
  ['middle', 0.52, 0.47],
  ['left', 0.3, 0.35],
  ['low', 0.6, 0.75],
] as const) {
  const at = [fx * width - 0.5, fy * height - 0.5] as const;
  const reach = 0.22 * width;
  const box = {
    left: at[0] - reach,
    right: at[0] + reach,
    top: at[1] - reach * 0.7,
    bottom: at[1] + reach * 0.7,
  };
  const start = performance.now();
  const follower = new Follower(greyOf(frames[0]!, width, height), { at, box });
  const errors: number[] = [];
  let lost: number | null = null;
  for (let i = 1; i < frames.length; i++) {
    const step = follower.next(greyOf(frames[i]!, width, height));
    if (!step) {
      lost = i;
      break;
    }
    const [x, y] = moved(step.motion, at);
    const [u, v] = truth(i, at);
    errors.push(Math.hypot(x - u, y - v));
  }
  const seconds = (performance.now() - start) / 1000;
  const mean = errors.reduce((a, b) => a + b, 0) / errors.length;
  console.log(
    JSON.stringify({
      case: 'follow',
      place: name,
      framesPerSecond: Number((errors.length / seconds).toFixed(1)),
      meanErrorPx: Number(mean.toFixed(3)),
      mostErrorPx: Number(Math.max(...errors).toFixed(3)),
      lostAt: lost,
    }),
  );
}
