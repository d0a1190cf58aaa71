import type { AlphaSplit } from '../pixels/alpha-split';
import { toLinear } from '../pixels/transfer';
import type { Size } from '../geometry/size';
import { sharedSamples } from '../geometry/raster';

/** Interleaved premultiplied linear light and coverage, 65535 is 1. */
export interface LightLevel {
  width: number;
  height: number;
  samples: Uint16Array;
}

/** A picture with a coverage, as it is laid over another one: its halvings beside it, in memory that workers share. */
export interface LayerImage {
  /** The same for the same samples. */
  id: string;
  /** The picture, then each half the size of the one before. */
  levels: readonly [LightLevel, ...LightLevel[]];
}

export const LIGHT_TOP = 65535;
const TOP = LIGHT_TOP;

/**
 * Samples of a picture, of `channels` a pixel, the fourth straight alpha; or the two parts of one with transparent places,
 * see `AlphaSplit`.
 */
export type LayerSamples =
  { samples: ArrayLike<number>; channels: 3 | 4; top: 255 | 65535 } | AlphaSplit<ArrayLike<number>>;

/** Reads sRGB samples, four a pixel, as premultiplied linear light, which can be averaged as it is. */
export function layerImage(id: string, size: Size, from: LayerSamples): LayerImage {
  const { width, height } = size;
  const samples = sharedSamples(4 * width * height);
  if ('samples' in from) {
    const { samples: own, channels, top } = from;
    const linear = linearSamples(top);
    for (let i = 0, k = 0; i < samples.length; i += 4, k += channels) {
      const share = channels === 4 ? own[k + 3]! / top : 1;
      for (let c = 0; c < 3; c++) samples[i + c] = linear[own[k + c]!]! * share + 0.5;
      samples[i + 3] = share * TOP + 0.5;
    }
  } else {
    const { premultiplied, alpha } = from;
    const linear = linearSamples(TOP);
    for (let i = 0; i < samples.length; i += 4) {
      for (let c = i; c < i + 3; c++) samples[c] = linear[premultiplied[c]!]! + 0.5;
      samples[i + 3] = linear[alpha[i]!]! + 0.5;
    }
  }
  return lightImage(id, size, samples);
}

/** An image of samples of a `LightLevel`, in shared memory. */
export function lightImage(id: string, { width, height }: Size, samples: Uint16Array): LayerImage {
  const levels: [LightLevel, ...LightLevel[]] = [{ width, height, samples }];
  for (let last = levels[0]; last.width * last.height > 1;) {
    last = halved(last);
    levels.push(last);
  }
  return { id, levels };
}

/** Linear light of every sample, `TOP` is 1. */
export const linearSamples = (top: 255 | 65535): Float32Array =>
  Float32Array.from({ length: top + 1 }, (_, v) => toLinear(v / top) * TOP);

/** Bytes that an image takes, its halvings too. */
export function layerBytes({ levels }: LayerImage): number {
  return levels.reduce((sum, { samples }) => sum + samples.byteLength, 0);
}

/** Half the size each way, rounded up: each sample the mean of four; what an odd side lacks is not there at all. */
function halved({ width, height, samples }: LightLevel): LightLevel {
  const [w, h] = [Math.ceil(width / 2), Math.ceil(height / 2)];
  const out = sharedSamples(4 * w * h);
  const row = 4 * width;
  for (let y = 0, to = 0; y < h; y++) {
    const hasBelow = 2 * y + 1 < height;
    for (let x = 0; x < w; x++) {
      const hasRight = 2 * x + 1 < width;
      const first = 2 * y * row + 8 * x;
      for (let at = first; at < first + 4; at++, to++) {
        let sum = samples[at]!;
        if (hasRight) sum += samples[at + 4]!;
        if (hasBelow) sum += samples[at + row]! + (hasRight ? samples[at + row + 4]! : 0);
        out[to] = sum / 4 + 0.5;
      }
    }
  }
  return { width: w, height: h, samples: out };
}
