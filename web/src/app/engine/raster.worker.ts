import './memory-stand-in';
import {
  type FrameFormat,
  type LayerImage,
  type Noise,
  type AlphaSplit,
  type PixelFormat,
  type RgbaImage,
  type GreyImage,
  type Raster,
  type RasterLevel,
  type Scribble,
  type Size,
  type SceneReading,
  type CutRegion,
  alignDepth,
  cutOut,
  frameLuma,
  isYuv,
  keepMasksOf,
  greyTiff,
  layerImage,
  layerSamples,
  linearisePremultiplied,
  lightGrid,
  lumaOf,
  makeRaster,
  measureNoise,
  parseCube,
  readScene,
  refineCut,
  sharedSamples,
} from '@hazy-lens/core';
import { expose } from 'comlink';
import { cropToAspect, encodeGrey } from './grey';

/** Pixels as they were decoded, with the parts of those that have transparent places. */
interface LayerPixels {
  pixels: SharedArrayBuffer;
  format: PixelFormat;
  parts: AlphaSplit<SharedArrayBuffer> | null;
}

/** What is done to grey pictures off the main thread. Samples travel in shared memory. */
const api = {
  raster: (id: string, { width, height, samples }: RasterLevel): Raster =>
    makeRaster(id, width, height, samples),

  /** Of a picture as it was decoded. */
  layer(id: string, size: Size, { pixels, format, parts }: LayerPixels): LayerImage {
    const samples = (buffer: SharedArrayBuffer): Uint16Array => new Uint16Array(buffer);
    if (parts)
      return layerImage(id, size, {
        premultiplied: samples(parts.premultiplied),
        alpha: samples(parts.alpha),
      });
    const { channels, bytes } = format;
    if (bytes === 2) return layerImage(id, size, { samples: samples(pixels), channels, top: 65535 });
    return layerImage(id, size, { samples: new Uint8Array(pixels), channels, top: 255 });
  },

  table: parseCube,

  encode: encodeGrey,

  greyTiff,
  layerSamples,

  /** A finished picture, straight RGBA of 16 bits, as premultiplied linear light, in place where memory is shared. */
  linearise(pixels: SharedArrayBuffer): SharedArrayBuffer {
    linearisePremultiplied(new Uint16Array(pixels));
    return pixels;
  },
  crop: cropToAspect,

  align(map: Raster, guide: RgbaImage, amount: number): Raster {
    return alignDepth(map, lumaOf(guide), amount);
  },

  kept: keepMasksOf,

  cut: (pixels: RgbaImage, scribbles: readonly Scribble[], window: CutRegion): GreyImage =>
    cutOut(pixels, scribbles, window),

  suit: (pixels: RgbaImage): SceneReading => readScene(lumaOf(pixels)),

  /** How bright the parts of a frame are, see `lightGrid`. */
  lightGrid(pixels: SharedArrayBuffer, format: FrameFormat, { width, height }: Size): Float32Array {
    const luma = frameLuma(pixels, format, { width, height });
    return lightGrid(luma, width, height, isYuv(format) && format.range === 'limited');
  },

  noise: (pixels: SharedArrayBuffer, format: FrameFormat, size: Size): Noise =>
    measureNoise(new Uint8Array(pixels), format, size),

  /** The soft outline of a cut in a window, as a matte of the whole picture, which is `size` large. */
  refine(
    id: string,
    cut: GreyImage,
    coarse: RgbaImage,
    fine: RgbaImage,
    window: CutRegion,
    size: Size,
  ): Raster {
    const part = refineCut(cut, lumaOf(coarse), lumaOf(fine));
    const left = Math.floor(window.x * size.width);
    const top = Math.floor(window.y * size.height);
    const samples = sharedSamples(size.width * size.height);
    for (let y = 0; y < Math.min(part.height, size.height - top); y++)
      for (let x = 0; x < Math.min(part.width, size.width - left); x++) {
        // As many steps as its file will have.
        const level = Math.round(part.values[y * part.width + x]! * 255);
        samples[(top + y) * size.width + left + x] = level * 257;
      }
    return makeRaster(id, size.width, size.height, samples);
  },
};

export type RasterApi = typeof api;
expose(api);
