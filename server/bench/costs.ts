/**
 * One kind of render again and again, to be watched by a profiler: `costs <kind> <folder>`, where the folder has kernels
 * that still have their names. Kinds are those of `KINDS`, of a still of 24 megapixels, or of frames with `frame-` before.
 */
import { spawnSync } from 'node:child_process';
import { fileURLToPath, pathToFileURL } from 'node:url';
import {
  type FrameFormat,
  type Size,
  SharedRenderer,
  diagonal,
  resolveRecipe,
  wholeView,
} from '@hazy-lens/core';
import { startThreads } from '../src/render/threads';
import { LARGE, SIGMA, bandRecipe, demoPixels, threads as nameless } from './large-picture';
import { time } from './timing';

const KINDS: Record<string, object> = {
  gaussian: {},
  lens: { kind: 'lens', lens: { blades: 6 } },
  motion: { kind: 'motion', motion: { angle: 20 } },
  spin: { kind: 'spin' },
  zoom: { kind: 'zoom' },
};
const STILLS = 6;
const FRAMES = 40;
const FRAME: Size = { width: 1920, height: 1080 };

/** The first frames of a demo clip as planes. */
function frames(): Buffer[] {
  const clip = fileURLToPath(new URL('../../demo/footage/kite-meadow.mp4', import.meta.url));
  const args = ['-v', 'error', '-i', clip, '-frames:v', String(FRAMES), '-f', 'rawvideo', '-'];
  const { stdout } = spawnSync('ffmpeg', args, { maxBuffer: 2 ** 31 - 1 });
  const bytes = FRAME.width * FRAME.height * 1.5;
  return Array.from({ length: FRAMES }, (_, i) => stdout.subarray(i * bytes, (i + 1) * bytes));
}

const [, , name, built] = process.argv as [string, string, string, string];
const isFrame = name.startsWith('frame-');
const size = isFrame ? FRAME : LARGE;
const format: FrameFormat = isFrame ? { matrix: 'bt709', range: 'limited' } : { channels: 3, bytes: 1 };
const recipe = bandRecipe(
  size,
  (SIGMA * diagonal(size)) / diagonal(LARGE),
  0,
  KINDS[name.replace('frame-', '')],
);
const look = resolveRecipe(recipe, size);
const sources = isFrame ? frames() : Array<Buffer>(STILLS).fill(await demoPixels(LARGE));
// Their kernels have lost their names.
await nameless.close();
const threads = await startThreads(2, pathToFileURL(`${built}/`));
const renderer = new SharedRenderer(threads);
await renderer.open(wholeView(size, recipe, { input: format, output: format }));

/** Puts the bytes of a picture in, and takes those of the rendered one out. */
async function render(source: Buffer, i: number): Promise<void> {
  renderer.input(0).set(source);
  const out = await renderer.render({ slot: 0, source: `${i}`, look, content: 'picture' });
  Buffer.from(out);
}
const taken: number[] = [];
for (const [i, source] of sources.entries()) taken.push(await time(() => render(source, i)));
await renderer.close();
await threads.close();
taken.sort((a, b) => a - b);
console.log(JSON.stringify({ renders: taken.length, wallMs: taken[taken.length >> 1] }));
