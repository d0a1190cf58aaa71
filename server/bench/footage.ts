// A clip's frames through the pipeline against ffmpeg's filters: planes in, planes out, then H.264 on both sides by ffmpeg.
import { spawn, spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import {
  type RenderSettings,
  SharedRenderer,
  type YuvFormat,
  diagonal,
  parseRecipe,
  resolveRecipe,
  wholeView,
} from '@hazy-lens/core';
import { startThreads } from '../src/render/threads';
import { inTurns, thousandth } from './timing';

const size = { width: 1920, height: 1080 };
const SIGMA = 12;
const RUNS = 3;
const clip = fileURLToPath(new URL('../../demo/footage/kite-meadow.mp4', import.meta.url));
const format: YuvFormat = { matrix: 'bt709', range: 'limited' };
const frameSize = size.width * size.height * 1.5;
// Speed 2 without blending: every other frame.
const decode = ['-v', 'error', '-i', clip, '-vf', "select='not(mod(n\\,2))'", '-fps_mode', 'passthrough'];
const { stdout: source } = spawnSync('ffmpeg', [...decode, '-f', 'rawvideo', '-'], {
  maxBuffer: 2 ** 31 - 1,
});
const frames = Math.floor(source.length / frameSize);
const folder = mkdtempSync(join(tmpdir(), 'hazy-lens-bench-'));
const raw = ['-f', 'rawvideo', '-pix_fmt', 'yuv420p', '-s', `${size.width}x${size.height}`, '-r', '30'];
const encode = ['-c:v', 'libx264', '-preset', 'veryfast', '-y'];

const lookWith = (parts: object): RenderSettings =>
  resolveRecipe(
    parseRecipe({
      format: 'hazy-lens-recipe',
      version: 1,
      focus: { bands: [{ id: 'a', kind: 'planar', near: { falloff: 0.2 }, far: { falloff: 0.2 } }] },
      blur: { radius: (2 * SIGMA) / diagonal(size), ...parts },
      colour: { saturation: 0.3 },
    }),
    size,
  );
const looks = { gaussian: lookWith({}), lens: lookWith({ kind: 'lens', lens: { blades: 6 } }) };
const threads = await startThreads(2);
const renderMs = { gaussian: 0, lens: 0 };

/** Writes raw frames to ffmpeg as they come, which encodes beside. */
async function piped(out: string, each: (i: number) => Promise<Uint8Array>): Promise<void> {
  const encoder = spawn('ffmpeg', ['-v', 'error', ...raw, '-i', '-', ...encode, join(folder, out)], {
    stdio: ['pipe', 'inherit', 'inherit'],
  });
  const ended = new Promise((resolve) => encoder.on('close', resolve));
  for (let i = 0; i < frames; i++)
    if (!encoder.stdin.write(await each(i)))
      await new Promise((resolve) => encoder.stdin.once('drain', resolve));
  encoder.stdin.end();
  await ended;
}

async function ours(kind: keyof typeof looks): Promise<void> {
  const look = looks[kind];
  const renderer = new SharedRenderer(threads);
  await renderer.open(wholeView(size, look, { input: format, output: format }));
  await piped('ours.mp4', async (i) => {
    const start = performance.now();
    renderer.input(0).set(source.subarray(i * frameSize, (i + 1) * frameSize));
    const bytes = await renderer.render({ slot: 0, source: `${i}`, look, content: 'picture' });
    renderMs[kind] += performance.now() - start;
    return bytes.slice();
  });
  await renderer.close();
}

async function peer(): Promise<void> {
  const mask = "geq=lum='255*clip((abs(Y/H-0.5)-0.05)/0.3,0,1)':cb=128:cr=128";
  const graph = `[0:v]split[a][b];[b]gblur=sigma=${SIGMA}:steps=2[c];color=black:s=${size.width}x${size.height}:r=30,format=yuv420p,trim=end_frame=1,${mask},loop=-1:1[m];[a][c][m]maskedmerge,eq=saturation=1.3[o]`;
  const encoder = spawn(
    'ffmpeg',
    [
      '-v',
      'error',
      ...raw,
      '-i',
      '-',
      '-filter_complex',
      graph,
      '-map',
      '[o]',
      '-frames:v',
      `${frames}`,
      ...encode,
      join(folder, 'peer.mp4'),
    ],
    { stdio: ['pipe', 'inherit', 'inherit'] },
  );
  encoder.stdin.on('error', () => undefined);
  const ended = new Promise((resolve) => encoder.on('close', resolve));
  encoder.stdin.end(source.subarray(0, frames * frameSize));
  await ended;
}

try {
  const [gaussianMs, lensMs, peerMs] = await inTurns(RUNS, [
    () => ours('gaussian'),
    () => ours('lens'),
    peer,
  ]);
  const each = (ms: number): number => thousandth(ms / ((RUNS + 1) * frames));
  console.log(
    JSON.stringify({
      case: 'footage',
      frames,
      oursFps: thousandth((frames * 1000) / gaussianMs!),
      lensFps: thousandth((frames * 1000) / lensMs!),
      peerFps: thousandth((frames * 1000) / peerMs!),
      ratio: thousandth(peerMs! / gaussianMs!),
      lensRatio: thousandth(peerMs! / lensMs!),
      renderMsPerFrame: { gaussian: each(renderMs.gaussian), lens: each(renderMs.lens) },
    }),
  );
} finally {
  await threads.close();
  rmSync(folder, { recursive: true });
}
