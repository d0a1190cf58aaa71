/** Pictures through a thin lens, which blur is held to, and the scene light that they were developed from. */
import sharp from 'sharp';
import { ssim } from 'ssim.js';
import { type Size, fromLinear, toLinear } from '@hazy-lens/core';
import { thousandth } from './timing';

export interface Pixels extends Size {
  data: Buffer;
}
export interface Deep extends Size {
  data: Uint16Array;
}

export async function read(file: string): Promise<Pixels> {
  const { data, info } = await sharp(file).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  return { data, width: info.width, height: info.height };
}

export function psnr(a: Buffer, b: Buffer): number {
  const sum = a.reduce((all, v, i) => all + (v - b[i]!) ** 2, 0);
  return 10 * Math.log10((255 * 255 * a.length) / sum);
}

export function likeness(a: Buffer, { data, width, height }: Pixels): object {
  const picture = (rgb: Buffer) => ({
    width,
    height,
    data: Uint8ClampedArray.from({ length: width * height * 4 }, (_, i) =>
      i % 4 === 3 ? 255 : rgb[(i >> 2) * 3 + (i % 4)]!,
    ),
  });
  const { mssim } = ssim(picture(a) as ImageData, picture(data) as ImageData);
  return { psnr: Number(psnr(a, data).toFixed(2)), ssim: thousandth(mssim) };
}

/*
 * The scenes are developed by a curve that presses bright light together, as cameras do; the lens saw the light before it.
 * So the sharp picture is blurred twice: as it is, and with the generator's curve taken off before and put on after.
 */

/** Scene light that is as bright as the curve can tell apart. */
export const BRIGHTEST = 7.1;
const MIN_GREY = 0.88;
const luma = ([r, g, b]: Light): number => 0.2126 * r + 0.7152 * g + 0.0722 * b;
type Light = [number, number, number];

/** The generator's tone curve, on exposed linear light, to coded values; see `TONE_CURVE` there. */
export function developed(light: Light): Light {
  const bent = light.map((c) => (c * (2.51 * c + 0.03)) / (c * (2.43 * c + 0.59) + 0.14)) as Light;
  const grey = luma(bent);
  return bent.map((c) => fromLinear(Math.min(1, Math.max(0, grey + (c - grey) * MIN_GREY)))) as Light;
}

/** The light that a coded colour was developed from. */
export function undeveloped(coded: Light): Light {
  const bent = coded.map(toLinear) as Light;
  const grey = luma(bent);
  return bent.map((c) => {
    const y = Math.min(0.999, Math.max(0, grey + (c - grey) / MIN_GREY));
    const [a, b] = [2.43 * y - 2.51, 0.59 * y - 0.03];
    return (-b - Math.sqrt(b * b - 4 * a * 0.14 * y)) / (2 * a);
  }) as Light;
}

/** Calls for each colour of interleaved samples. */
function eachColour(from: ArrayLike<number>, top: number, to: (light: Light, i: number) => void): void {
  for (let i = 0; i < from.length; i += 3) to([from[i]! / top, from[i + 1]! / top, from[i + 2]! / top], i);
}

/** The picture as scene light, in 16 bits. */
export function asLight(source: Pixels): Deep {
  const data = new Uint16Array(source.data.length);
  eachColour(source.data, 255, (coded, i) =>
    undeveloped(coded).forEach((c, k) => (data[i + k] = Math.round(fromLinear(c / BRIGHTEST) * 65535))),
  );
  return { ...source, data };
}

/** Scene light in 16 bits as a picture. */
export function asPicture(light: Uint16Array): Buffer {
  const data = Buffer.alloc(light.length);
  eachColour(light, 65535, (coded, i) => {
    const scene = coded.map((v) => toLinear(v) * BRIGHTEST) as Light;
    developed(scene).forEach((v, k) => (data[i + k] = Math.round(v * 255)));
  });
  return data;
}
