import type { Size } from '../../geometry/size';
import { type FrameFormat, type PixelFormat, type YuvFormat, isYuv } from '../../pixels/format';
import { yuvFactors } from '../../pixels/yuv-planes';
import type { Samples } from './window';

/** A frame of footage in memory, in whatever format it comes. */
export interface FramePixels extends Size {
  pixels: Uint8Array;
  format: FrameFormat;
}

/** Reads and writes single colours of a frame: coded values of 0..1, red, green and blue. */
export interface FrameColours extends Size {
  read(x: number, y: number, to: Float32Array, at: number): void;
  /** Writes pixels (x, y) of a box whose colours changed; `colours` and `changed` are those of the box, row by row. */
  write(box: Size & { x: number; y: number }, colours: Float32Array, changed: Uint8Array): void;
}

export function frameColours(frame: FramePixels): FrameColours {
  const { format } = frame;
  return isYuv(format) ? planar(frame, format) : interleaved(frame, format);
}

function interleaved({ pixels, width, height }: FramePixels, { channels, bytes }: PixelFormat): FrameColours {
  const data =
    bytes === 2 ? new Uint16Array(pixels.buffer, pixels.byteOffset, pixels.byteLength / 2) : pixels;
  const white = bytes === 2 ? 65535 : 255;
  return {
    width,
    height,
    read(x, y, to, at) {
      const from = (y * width + x) * channels;
      for (let c = 0; c < 3; c++) to[at + c] = data[from + c]! / white;
    },
    write(box, colours, changed) {
      for (let k = 0; k < changed.length; k++) {
        if (changed[k] === 0) continue;
        const to = ((box.y + Math.floor(k / box.width)) * width + box.x + (k % box.width)) * channels;
        for (let c = 0; c < 3; c++)
          data[to + c] = Math.round(white * Math.min(1, Math.max(0, colours[3 * k + c]!)));
      }
    },
  };
}

function planar({ pixels, width, height }: FramePixels, format: YuvFormat): FrameColours {
  const { lumaScale, lumaOffset, redOfCr, greenOfCb, greenOfCr, blueOfCb, kr, kb, lumaSpan, cbSpan, crSpan } =
    yuvFactors(format);
  const half = Math.ceil(width / 2);
  const u0 = width * height;
  const v0 = u0 + half * Math.ceil(height / 2);
  const byte = (value: number): number => Math.min(255, Math.max(0, Math.round(value)));
  const lumaOf = (red: number, green: number, blue: number): number =>
    kr * red + (1 - kr - kb) * green + kb * blue;
  return {
    width,
    height,
    read(x, y, to, at) {
      const luma = (pixels[y * width + x]! - lumaOffset) * lumaScale;
      const chroma = (y >> 1) * half + (x >> 1);
      const [u, v] = [pixels[u0 + chroma]! - 128, pixels[v0 + chroma]! - 128];
      to[at] = luma + redOfCr * v;
      to[at + 1] = luma + greenOfCb * u + greenOfCr * v;
      to[at + 2] = luma + blueOfCb * u;
    },
    write(box, colours, changed) {
      const isChanged = (x: number, y: number): boolean =>
        x >= box.x &&
        y >= box.y &&
        x < box.x + box.width &&
        y < box.y + box.height &&
        changed[(y - box.y) * box.width + x - box.x] === 1;
      const own = new Float32Array(3);
      // Chroma lies on two by two pixels: what of them did not change counts as it was.
      for (let y = box.y & ~1; y < box.y + box.height; y += 2)
        for (let x = box.x & ~1; x < box.x + box.width; x += 2) {
          let [red, green, blue, count, isTouched] = [0, 0, 0, 0, false];
          const lumas: [number, number][] = [];
          for (let j = y; j < Math.min(height, y + 2); j++)
            for (let i = x; i < Math.min(width, x + 2); i++) {
              if (isChanged(i, j)) {
                const from = 3 * ((j - box.y) * box.width + i - box.x);
                own.set(colours.subarray(from, from + 3));
                lumas.push([j * width + i, byte(lumaOffset + lumaSpan * lumaOf(own[0]!, own[1]!, own[2]!))]);
                isTouched = true;
              } else this.read(i, j, own, 0);
              [red, green, blue, count] = [red + own[0]!, green + own[1]!, blue + own[2]!, count + 1];
            }
          if (!isTouched) continue;
          for (const [at, value] of lumas) pixels[at] = value;
          const luma = lumaOf(red, green, blue) / count;
          const chroma = (y >> 1) * half + (x >> 1);
          pixels[u0 + chroma] = byte(128 + (blue / count - luma) * cbSpan);
          pixels[v0 + chroma] = byte(128 + (red / count - luma) * crSpan);
        }
    },
  };
}

/** A whole frame as samples of 16 bits, three a pixel. */
export function frameSamples(frame: FramePixels): Samples {
  const { width, height } = frame;
  const colours = frameColours(frame);
  const data = new Uint16Array(width * height * 3);
  const own = new Float32Array(3);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      colours.read(x, y, own, 0);
      for (let c = 0; c < 3; c++)
        data[(y * width + x) * 3 + c] = Math.round(65535 * Math.min(1, Math.max(0, own[c]!)));
    }
  return { width, height, data, channels: 3 };
}
