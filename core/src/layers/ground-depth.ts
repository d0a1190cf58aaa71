import { pullPush } from '../geometry/pull-push';
import { type Raster, type RasterLevel, makeRaster, sampleRaster } from '../geometry/raster';

/** Longest side at which a map is continued: what is made up has no detail. */
const MADE_UP_EDGE = 400;
/** Less of a matte is nothing: one step of 8 bits is 1 / 255. */
const LEAST = 1 / 512;

const known = new WeakMap<Raster, { of: string; made: Raster }>();

/**
 * A depth map without what is lifted off the picture: there it is continued from around, smoothly, so that the ground behind
 * is as far as the ground beside. The last that was made of each map is kept. @param lifted mattes on the same picture.
 */
export function groundDepth(map: Raster, lifted: readonly Raster[]): Raster {
  const of = lifted.map(({ id }) => id).join(' ');
  const last = known.get(map);
  if (last?.of === of) return last.made;
  const made = continued(map, lifted, `${map.id} behind ${of}`);
  known.set(map, { of, made });
  return made;
}

const coarseLevel = ({ levels }: Raster): RasterLevel =>
  levels.find(({ width, height }) => Math.max(width, height) <= MADE_UP_EDGE) ?? levels.at(-1)!;

function continued(map: Raster, lifted: readonly Raster[], id: string): Raster {
  const { width, height, samples } = coarseLevel(map);
  const mattes = lifted.map(coarseLevel);
  const isLifted = (x: number, y: number): boolean =>
    mattes.some((level) => sampleRaster(level, (x + 0.5) / width, (y + 0.5) / height) > LEAST);
  const weights = new Float32Array(width * height).fill(1);
  // A cell around, too: outlines of maps and mattes do not lie on the pixel.
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      if (isLifted(x, y))
        for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
          weights.fill(0, v * width + Math.max(0, x - 1), v * width + Math.min(width, x + 2));
  const values = Float32Array.from(samples);
  pullPush([values], weights, { width, height });
  const full = map.levels[0];
  const coarse: RasterLevel = { width, height, samples: Uint16Array.from(values, (v) => Math.round(v)) };
  const out = full.samples.slice();
  for (let y = 0, at = 0; y < full.height; y++) {
    const row = Math.floor((y * height) / full.height) * width;
    if (!weights.subarray(row, row + width).includes(0)) at += full.width;
    else
      for (let x = 0; x < full.width; x++, at++)
        if (weights[row + Math.floor((x * width) / full.width)] === 0)
          out[at] = Math.round(65535 * sampleRaster(coarse, (x + 0.5) / full.width, (y + 0.5) / full.height));
  }
  return makeRaster(id, full.width, full.height, out);
}
