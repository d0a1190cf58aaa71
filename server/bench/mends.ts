/**
 * How near a fill comes to the scene without what it took away, in decibels; beside it a plain diffusion of what is around
 * the same place. The scenes with and without a thing are the generator's, see `demo/mends`.
 */
import { readdir } from 'node:fs/promises';
import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import { IDENTITY_CARRY, type Mend, type Size, Scratch, diagonal, mendSamples } from '@hazy-lens/core';
import { interpolateHole } from '../../core/src/tidy/mend/membrane';
import { threads } from './large-picture';

const folder = fileURLToPath(new URL('../../demo/mends/', import.meta.url));
/** Levels by which a pixel differs where the thing was seen, or its shadow; a few further off are noise. */
const DIFFERS = 8;
/** Share of what differs that the stroke may leave out, and how much wider than that it is, in pixels. */
const LEFT_OUT = 0.02;
const WIDER = 3;

interface Pixels extends Size {
  data: Buffer;
}

async function read(file: string): Promise<Pixels> {
  const { data, info } = await sharp(folder + file)
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { data, width: info.width, height: info.height };
}

/** A stroke along the longer axis of what differs, wide enough to cover it. */
function strokeOver(
  present: Pixels,
  gone: Pixels,
): { from: [number, number]; to: [number, number]; radius: number } {
  const { width } = present;
  const places: [number, number][] = [];
  for (let i = 0; i < present.data.length / 3; i++)
    if ([0, 1, 2].some((c) => Math.abs(present.data[i * 3 + c]! - gone.data[i * 3 + c]!) > DIFFERS))
      places.push([(i % width) + 0.5, Math.floor(i / width) + 0.5]);
  const mean = (of: (place: [number, number]) => number): number =>
    places.reduce((sum, place) => sum + of(place), 0) / places.length;
  const [mx, my] = [mean(([x]) => x), mean(([, y]) => y)];
  const [xx, yy, xy] = [
    mean(([x]) => (x - mx) ** 2),
    mean(([, y]) => (y - my) ** 2),
    mean(([x, y]) => (x - mx) * (y - my)),
  ];
  const angle = Math.atan2(2 * xy, xx - yy) / 2;
  const [ux, uy] = [Math.cos(angle), Math.sin(angle)];
  const quantile = (of: (place: [number, number]) => number, share: number): number =>
    places.map(of).sort((a, b) => a - b)[Math.min(places.length - 1, Math.floor(share * places.length))]!;
  const along = ([x, y]: [number, number]): number => (x - mx) * ux + (y - my) * uy;
  const across = ([x, y]: [number, number]): number => Math.abs((y - my) * ux - (x - mx) * uy);
  const radius = quantile(across, 1 - LEFT_OUT) + WIDER;
  const ends = [LEFT_OUT, 1 - LEFT_OUT].map((share) => quantile(along, share)) as [number, number];
  const [a, b] = [Math.min(0, ends[0] + radius / 2), Math.max(0, ends[1] - radius / 2)];
  return { from: [mx + a * ux, my + a * uy], to: [mx + b * ux, my + b * uy], radius };
}

const module = await threads.module;
const things = (await readdir(folder)).flatMap((file) => /^(.+)-with\.png$/.exec(file)?.[1] ?? []);
for (const thing of things) {
  const [present, gone] = [await read(`${thing}-with.png`), await read(`${thing}-without.png`)];
  const { width, height } = present;
  const { from, to, radius } = strokeOver(present, gone);
  const mend: Mend = {
    id: thing,
    on: true,
    kind: 'fill',
    radius: radius / diagonal(present),
    softness: 0,
    points: [from, to].map(([x, y]): [number, number] => [x / width, y / height]),
    from: [0, 0],
    carry: IDENTITY_CARRY,
  };
  const samples = { width, height, channels: 3 as const, data: new Uint8Array(present.data) };
  await mendSamples(new Scratch(), module, samples, mend);
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const hole = Uint8Array.from({ length: width * height }, (_, i) => {
    const [x, y] = [(i % width) + 0.5 - from[0], Math.floor(i / width) + 0.5 - from[1]];
    const t = Math.min(1, Math.max(0, (x * dx + y * dy) / Math.max(1e-9, dx * dx + dy * dy)));
    return Math.hypot(x - t * dx, y - t * dy) < radius ? 1 : 0;
  });
  const diffused = Float32Array.from(present.data);
  interpolateHole(diffused, hole, { width, height }, 3);
  const decibels = (data: ArrayLike<number>): number => {
    let [sum, count] = [0, 0];
    for (let i = 0; i < gone.data.length; i++)
      if (hole[Math.floor(i / 3)]) {
        sum += (data[i]! - gone.data[i]!) ** 2;
        count++;
      }
    return 10 * Math.log10((65025 * count) / sum);
  };
  const [ours, theirs] = [decibels(samples.data), decibels(diffused)];
  const tenth = (v: number): number => Number(v.toFixed(1));
  console.log(
    JSON.stringify({
      case: 'mends',
      thing,
      pixels: hole.reduce((a, b) => a + b, 0),
      fillDb: tenth(ours),
      diffusionDb: tenth(theirs),
      nearerDb: tenth(ours - theirs),
      withThingDb: tenth(decibels(present.data)),
    }),
  );
  await sharp(Buffer.from(samples.data), { raw: { width, height, channels: 3 } })
    .png()
    .toFile(fileURLToPath(new URL(`../../.cache/mend-${thing}.png`, import.meta.url)));
}
await threads.close();
