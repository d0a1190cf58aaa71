import { fileURLToPath } from 'node:url';
import fc from 'fast-check';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import {
  CUT_LONG_EDGE_PX,
  type GreyImage,
  type Scribble,
  alignDepth,
  cutOut,
  cutRegion,
  lumaOf,
  makeRaster,
  refineCut,
} from '../src/index';
import { GridCut, NEIGHBOURS } from '../src/matte/min-cut';
import { boxMean } from '../src/matte/grey-image';
import { combineMattes } from '../src/matte/combine';
import { offsetOutline } from '../src/matte/edge';
import { matteSchema } from '../src/recipe/focus-schema';

const demo = (name: string): string => fileURLToPath(new URL(`../../demo/pictures/${name}`, import.meta.url));

const WHOLE = { x: 0, y: 0, width: 1, height: 1 };

/** A window of a demo picture, seen as a picture of the given width. */
async function pixels(name: string, pictureWidth: number, window = WHOLE) {
  const [w, h] = [pictureWidth, Math.round((pictureWidth * 2) / 3)];
  const [left, top] = [Math.floor(window.x * w), Math.floor(window.y * h)];
  const [width, height] = [Math.floor(window.width * w), Math.floor(window.height * h)];
  const part = await sharp(demo(`${name}.jpg`))
    .resize(w, h)
    .png()
    .toBuffer();
  const image = sharp(part).extract({ left, top, width, height }).ensureAlpha();
  return { left, top, width, height, data: new Uint8Array(await image.raw().toBuffer()) };
}

function overlap(ours: GreyImage, outline: Uint8Array): number {
  let [both, either] = [0, 0];
  ours.values.forEach((v, i) => {
    const [a, b] = [v >= 0.5, outline[i]! > 127];
    if (a && b) both++;
    if (a || b) either++;
  });
  return both / either;
}

const scribble = (inside: boolean, ...points: [number, number][]): Scribble => ({
  inside,
  radius: 0.006,
  points,
});

/** Five lines a person would draw over each thing and beside it. */
const SUBJECTS: Record<string, { outline: string; scribbles: Scribble[] }> = {
  'tram-loop': {
    outline: 'tram-loop-house.png',
    scribbles: [
      scribble(true, [0.24, 0.64], [0.285, 0.61], [0.32, 0.67]),
      scribble(true, [0.237, 0.72], [0.239, 0.755], [0.262, 0.805], [0.3, 0.787], [0.34, 0.757]),
      scribble(true, [0.295, 0.73], [0.33, 0.715]),
      scribble(false, [0.2, 0.62], [0.205, 0.8], [0.25, 0.84], [0.36, 0.78]),
      scribble(false, [0.25, 0.55], [0.33, 0.6], [0.345, 0.64], [0.355, 0.72]),
    ],
  },
  glasshouses: {
    outline: 'glasshouses-shed.png',
    scribbles: [
      scribble(true, [0.665, 0.32], [0.72, 0.32]),
      scribble(true, [0.66, 0.37], [0.675, 0.39], [0.72, 0.37]),
      scribble(true, [0.69, 0.355], [0.705, 0.35]),
      scribble(false, [0.63, 0.29], [0.635, 0.44], [0.7, 0.44], [0.77, 0.43]),
      scribble(false, [0.65, 0.26], [0.75, 0.28], [0.755, 0.35]),
    ],
  },
  'night-fair': {
    outline: 'night-fair-tent.png',
    scribbles: [
      scribble(true, [0.7, 0.5], [0.74, 0.52], [0.79, 0.527], [0.84, 0.522], [0.868, 0.508]),
      scribble(true, [0.74, 0.46], [0.81, 0.46]),
      scribble(true, [0.775, 0.42], [0.775, 0.51]),
      scribble(false, [0.67, 0.52], [0.78, 0.55], [0.89, 0.52]),
      scribble(false, [0.68, 0.44], [0.77, 0.385], [0.86, 0.44]),
    ],
  },
};

describe('cutting a subject out', () => {
  for (const [name, { outline, scribbles }] of Object.entries(SUBJECTS)) {
    it(`finds the outline of a thing in ${name} from five scribbles`, async () => {
      const truth = await sharp(demo(outline)).greyscale().raw().toBuffer({ resolveWithObject: true });
      const { width, height } = truth.info;
      const window = cutRegion(scribbles);
      const small = await pixels(name, Math.round(CUT_LONG_EDGE_PX / window.width), window);
      const fine = await pixels(name, width, window);
      const part = refineCut(cutOut(small, scribbles, window), lumaOf(small), lumaOf(fine));
      const matte = { width, height, values: new Float32Array(width * height) };
      for (let y = 0; y < part.height; y++)
        matte.values.set(
          part.values.subarray(y * part.width, (y + 1) * part.width),
          (fine.top + y) * width + fine.left,
        );
      if (process.env['LOOK'])
        await sharp(
          Uint8Array.from(matte.values, (v) => v * 255),
          { raw: { width, height, channels: 1 } },
        )
          .png()
          .toFile(`${process.env['LOOK']}/${name}.png`);
      expect(overlap(matte, truth.data)).toBeGreaterThan(0.9);
    });
  }

  it('keeps nothing where nothing is scribbled inside, and takes the frame for outside where that is not said', async () => {
    const small = await pixels('glasshouses', 300);
    expect(Math.max(...cutOut(small, [scribble(false, [0.5, 0.5])], WHOLE).values)).toBe(0);
    expect(Math.max(...cutOut(small, [], WHOLE).values)).toBe(0);
    const { values } = cutOut(small, [scribble(true, [0.665, 0.32], [0.72, 0.32], [0.7, 0.37])], WHOLE);
    expect(values[0]).toBe(0);
    expect(values[Math.floor(0.32 * 200) * 300 + Math.floor(0.69 * 300)]).toBe(1);
  });
});

describe('the least cut', () => {
  it('is as little as the best of all cuts of a small grid', () => {
    const [width, height] = [3, 3];
    const cost = fc.integer({ min: 0, max: 9 });
    const ends = fc.array(fc.tuple(cost, cost), { minLength: 9, maxLength: 9 });
    fc.assert(
      fc.property(ends, fc.array(cost, { minLength: 36, maxLength: 36 }), (terminals, links) => {
        const edges: [number, number, number][] = [];
        const cut = new GridCut(width, height);
        for (let i = 0; i < 9; i++) {
          const [x, y] = [i % 3, Math.floor(i / 3)];
          cut.setTerminal(x, y, terminals[i]![0], terminals[i]![1]);
          for (let k = 4; k < 8; k++) {
            const [u, v] = [x + NEIGHBOURS[k]![0], y + NEIGHBOURS[k]![1]];
            if (u < 0 || u >= 3 || v >= 3) continue;
            cut.setNeighbour(x, y, k, links[i * 4 + k - 4]!);
            edges.push([i, v * 3 + u, links[i * 4 + k - 4]!]);
          }
        }
        const price = (inside: (i: number) => boolean): number =>
          terminals.reduce((sum, [outside, within], i) => sum + (inside(i) ? within : outside), 0) +
          edges.reduce((sum, [a, b, c]) => sum + (inside(a) === inside(b) ? 0 : c), 0);
        const found = cut.solve();
        let best = Infinity;
        for (let mask = 0; mask < 512; mask++)
          best = Math.min(
            best,
            price((i) => (mask >> i) % 2 === 1),
          );
        expect(price((i) => found[i] === 1)).toBe(best);
      }),
      { numRuns: 60 },
    );
  });
});

describe('mattes', () => {
  const disc = (size: number, radius: number) =>
    makeRaster(
      'disc',
      size,
      size,
      Uint16Array.from({ length: size * size }, (_, i) =>
        Math.hypot((i % size) - size / 2 + 0.5, Math.floor(i / size) - size / 2 + 0.5) < radius ? 65535 : 0,
      ),
    );
  const how = (parts: object) => matteSchema.parse({ id: 'm', image: 'm.png', ...parts });
  const area = (...mattes: object[]): number => {
    const all = mattes.map((parts) => ({ how: how(parts), picture: disc(120, 30) }));
    const { samples } = combineMattes(all, 4000)!.levels[0];
    return samples.reduce((sum, v) => sum + v / 65535, 0);
  };
  const circle = (radius: number): number => Math.PI * radius ** 2;

  it('grow, shrink, feather, turn inside out, add up and take away', () => {
    const pixel = 1 / Math.hypot(120, 120);
    expect(area({})).toBeCloseTo(circle(30), -2);
    expect(Math.abs(area({ grow: 8 * pixel }) - circle(38))).toBeLessThan(60);
    expect(Math.abs(area({ grow: -8 * pixel }) - circle(22))).toBeLessThan(60);
    expect(Math.abs(area({ feather: 6 * pixel }) - circle(30))).toBeLessThan(20);
    expect(Math.abs(area({ invert: true }) - (120 * 120 - circle(30)))).toBeLessThan(60);
    expect(area({}, {})).toBeCloseTo(area({}), 3);
    expect(area({}, { combine: 'subtract' })).toBeLessThan(1);
    expect(area({}, { on: false, combine: 'subtract' })).toBeCloseTo(area({}), 3);
    expect(combineMattes([{ how: how({ on: false }), picture: disc(8, 2) }], 100)).toBeNull();
  });

  it('of one value stay finite whatever is done to them', () => {
    for (const value of [0, 65535]) {
      const flat = makeRaster('flat', 40, 30, new Uint16Array(1200).fill(value));
      for (const parts of [{}, { grow: 0.05 }, { grow: -0.05 }, { feather: 0.2 }, { invert: true }]) {
        const { samples } = combineMattes([{ how: how(parts), picture: flat }], 100)!.levels[0];
        const kept = (value === 65535) !== 'invert' in parts;
        expect(samples.every((v) => v === (kept ? 65535 : 0))).toBe(true);
      }
    }
  });
});

describe('filters', () => {
  const random = (width: number, height: number): GreyImage => ({
    width,
    height,
    values: Float32Array.from({ length: width * height }, (_, i) => ((i * 7919) % 101) / 101),
  });

  it('take means over squares, cut off at the edges', () => {
    for (const [width, height, radius] of [
      [13, 9, 2],
      [5, 4, 7],
      [1, 6, 1],
    ] as const) {
      // prettier-ignore
      const plane = random(width, height);
      const ours = boxMean(plane, radius).values;
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++) {
          let [sum, count] = [0, 0];
          for (let v = Math.max(0, y - radius); v <= Math.min(height - 1, y + radius); v++)
            for (let u = Math.max(0, x - radius); u <= Math.min(width - 1, x + radius); u++) {
              sum += plane.values[v * width + u]!;
              count++;
            }
          expect(ours[y * width + x]).toBeCloseTo(sum / count, 5);
        }
    }
  });

  it('measure the distance to an outline exactly', () => {
    const plane = { width: 30, height: 20, values: new Float32Array(600) };
    plane.values[10 * 30 + 12] = 1;
    plane.values[3 * 30 + 25] = 1;
    for (const by of [3, 6]) {
      const { values } = offsetOutline(plane, by);
      for (let i = 0; i < 600; i++) {
        const [x, y] = [i % 30, Math.floor(i / 30)];
        const far = Math.min(Math.hypot(x - 12, y - 10), Math.hypot(x - 25, y - 3));
        expect(values[i]).toBeCloseTo(Math.min(1, Math.max(0, 1 + by - far)), 5);
      }
    }
  });

  it('draw the edges of a depth map to those of the picture', () => {
    const [width, height] = [800, 40];
    const row = (value: (x: number) => number): number[] =>
      Array.from({ length: width * height }, (_, i) => value(i % width));
    const guide = { width, height, values: Float32Array.from(row((x) => (x < 400 ? 0.2 : 0.8))) };
    // The map's edge is soft and three pixels off.
    const soft = (x: number): number => 65535 / (1 + Math.exp((403 - x) / 1.2));
    const map = makeRaster('map', width, height, Uint16Array.from(row(soft)));
    const step = (raster: typeof map): number => {
      const samples = raster.levels[0].samples.subarray(20 * width, 21 * width);
      return (samples[400]! - samples[399]!) / 65535;
    };
    expect(step(map)).toBeLessThan(0.05);
    expect(step(alignDepth(map, guide, 1))).toBeGreaterThan(0.25);
    expect(step(alignDepth(map, guide, 0))).toBeCloseTo(step(map), 3);
  });
});
