// Balloons over a town, as the demo's generator photographs them: sharp and apart, and all of them through a thin lens.
import { readFile } from 'node:fs/promises';
import sharp from 'sharp';
import {
  type Raster,
  type RecipeAssets,
  Scratch,
  type Size,
  diagonal,
  keepMasksOf,
  layerImage,
  liftSubject,
  makeRaster,
} from '../src/index';
import { asLight, laidOver, nearOutline } from '../reference/optical';
import { type Picture, recipe } from './harness';

const folder = new URL('../../demo/optical/', import.meta.url);

/** The lens, and how near each balloon is, the farthest first, in shares of what is nearest on the ground. */
interface MeadowLens {
  focus: number;
  /** Radius in pixels of the disc of a point, for each 1 that it lies off the focus. */
  disc: number;
  depths: number[];
}

const NAMES = ['far', 'middle', 'near'] as const;
/** What a depth map can hold is as near as the nearest ground; a balloon is nearer. */
const DEPTH_RANGE = 1.25;

async function read(name: string, channels: 3 | 4): Promise<Size & { data: Uint8Array }> {
  const image = sharp(await readFile(new URL(`${name}.png`, folder)));
  const { data, info } = await (channels === 4 ? image.ensureAlpha() : image.removeAlpha())
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { data: new Uint8Array(data), width: info.width, height: info.height };
}

/** A picture of scene light under a recipe. */
export interface MeadowCase {
  picture: Picture;
  how: ReturnType<typeof recipe>;
  pictures: Partial<RecipeAssets>;
}

/** The balloons by three ways to tell how near they are, and what a lens sees of them. */
export async function meadow(kernels: WebAssembly.Module) {
  const lens = JSON.parse(await readFile(new URL('meadow.json', folder), 'utf8')) as MeadowLens;
  const town = await read('meadow', 3);
  const truth = await read('meadow-lens', 3);
  const size: Size = { width: town.width, height: town.height };
  const { width, height } = size;
  const depth = await sharp(await readFile(new URL('meadow-depth.png', folder)))
    .toColourspace('grey16')
    .raw({ depth: 'ushort' })
    .toBuffer();
  const ground = new Uint16Array(depth.buffer, depth.byteOffset, width * height);
  const balloons = await Promise.all(
    NAMES.map(async (name, i) => {
      const { data } = await read(`meadow-${name}`, 4);
      const coverage = (x: number, y: number): number => data[4 * (y * width + x) + 3]! / 255;
      const nearness = lens.depths[i]!;
      const off = Math.abs(nearness - lens.focus);
      return { name, light: asLight(data, 4), coverage, nearness, off };
    }),
  );
  const outlines = balloons.map(({ coverage, off }) =>
    nearOutline(coverage, size, Math.max(2, off * lens.disc)),
  );
  const below = asLight(town.data, 3);
  const flat = balloons.reduce((under, { light }) => laidOver(light, under), below);
  const nearness = ground.map((value, p) => {
    const [x, y] = [p % width, Math.floor(p / width)];
    const seen = balloons.findLast(({ coverage }) => coverage(x, y) >= 0.5);
    return Math.round((seen ? 65535 * seen.nearness : value) / DEPTH_RANGE);
  });
  const mapOf = (id: string, samples: Uint16Array): Raster => makeRaster(id, width, height, samples);
  const blur = { kind: 'lens', radius: lens.disc / diagonal(size) };
  const depthMap = (range: number): object => ({
    image: 'depth.png',
    focus: lens.focus / range,
    clear: 0,
    falloff: 1 / range,
    profile: 'linear',
  });
  const picture = (data: Uint16Array): Picture => ({ ...size, data, channels: 3 });
  const byDepth = (kind: string, focus: object = {}): MeadowCase => ({
    picture: picture(flat),
    how: recipe({ blur: { ...blur, kind }, focus: { depthMap: depthMap(DEPTH_RANGE), ...focus } }),
    pictures: { depth: mapOf('all', nearness) },
  });

  const elements = (): MeadowCase => ({
    picture: picture(below),
    how: recipe({
      blur,
      focus: { depthMap: depthMap(1) },
      elements: balloons.map(({ name, off }) => ({
        id: name,
        image: `${name}.png`,
        width: width / diagonal(size),
        focus: { rest: off },
      })),
    }),
    pictures: {
      depth: mapOf('ground', ground),
      images: new Map(
        balloons.map(({ name, light }) => [
          `${name}.png`,
          layerImage(name, size, { samples: light, channels: 4, top: 65535 }),
        ]),
      ),
    },
  });

  /** The nearest of them lifted off the picture. */
  const lifted = async (): Promise<MeadowCase> => {
    const { coverage } = balloons.at(-1)!;
    const cover = Uint16Array.from({ length: width * height }, (_, p) =>
      Math.round(65535 * coverage(p % width, Math.floor(p / width))),
    );
    const matte = mapOf('near', cover);
    // Anywhere on it: all of it is as near.
    const inside = cover.indexOf(65535);
    const foot = [((inside % width) + 0.5) / width, (Math.floor(inside / width) + 0.5) / height];
    const made = byDepth('lens', {
      mattes: [{ id: 'near', image: 'near.png', as: 'standing', lifted: true, foot }],
    });
    const subject = await liftSubject(new Scratch(), kernels, made.picture, matte, 'near');
    if (!subject) throw new Error('There is nothing to lift.');
    const keep = keepMasksOf([{ how: made.how.focus.mattes[0]!, picture: matte }], width, false);
    return { ...made, pictures: { ...made.pictures, keep, lifted: new Map([['near', subject]]) } };
  };

  const cases = { elements: elements(), lifted: await lifted(), depthMap: byDepth('lens') };
  const others = { gaussian: byDepth('gaussian'), sharp: byDepth('lens', { on: false }) };
  return {
    size,
    truth: truth.data,
    cases,
    others,
    outlines: {
      all: outlines[0]!.map((_, p) => Math.max(...outlines.map((one) => one[p]!))),
      near: outlines.at(-1)!,
    },
  };
}
