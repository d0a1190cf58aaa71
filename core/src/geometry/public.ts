export { type Axes, rotatedAxes } from './axes';
export { type Region, type Size, diagonal, scaledSize, sizeWithin } from './size';
export {
  type Raster,
  type RasterLevel,
  makeRaster,
  rasterBounds,
  rasterBytes,
  sampleRaster,
  sharedSamples,
} from './raster';
export { IDENTITY } from './similarity';
