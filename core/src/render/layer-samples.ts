import { P3_TO_SRGB, type Primaries } from '../colour/primaries';
import type { Size } from '../geometry/size';
import type { LayerLook } from '../layers/layer';
import { linearTable } from '../pixels/transfer';
import { type LayerSheet, LayerSheets } from './layer-sheets';
import { SharedRenderer, type Threads, wholeView } from './renderer';
import type { RenderSettings } from './settings';

/*
 * What a result is made of, for those who go on elsewhere: its picture and each layer over it, as RGBA of 16 bits in linear
 * light of sRGB, premultiplied by the coverage. Laid over one another (c + (1 - α) L) they are the picture before its
 * colours.
 */

const TOP = 65535;
const held = (value: number): number => Math.round(TOP * Math.min(1, Math.max(0, value)));

/**
 * The blurred light of one layer of a picture; null where nothing of it lies on the picture. What it lies in is let go of
 * once `use` is done with it.
 * @param size of the result. @param scale pixels of it for one of the full picture.
 */
export async function withLayerSheet<T>(
  threads: Threads,
  size: Size,
  look: RenderSettings,
  layer: LayerLook,
  scale: number,
  use: (sheet: LayerSheet) => Promise<T>,
): Promise<T | null> {
  const format = { channels: 4, bytes: 1 } as const;
  const view = wholeView(size, look, { input: format, output: format }, scale);
  const sheets = new LayerSheets(() => new SharedRenderer(threads), threads.runners.length);
  try {
    const [sheet] = await sheets.of([layer], look.blur, view);
    return sheet ? await use(sheet) : null;
  } finally {
    await sheets.close();
  }
}

/** The samples of a layer's light on a picture of a size. @param picture of which some layers are: what its light is made of, and times how much it is. */
export function layerSamples(
  sheet: LayerSheet,
  { width, height }: Size,
  picture: { primaries: Primaries; gain: number },
): Uint16Array<SharedArrayBuffer> {
  const out = new Uint16Array(new SharedArrayBuffer(8 * width * height));
  const floats = new Float32Array(sheet.buffer);
  const isWide = sheet.isOwn && picture.primaries === 'display-p3';
  const times = sheet.opacity * (sheet.isOwn ? picture.gain : 1);
  const [m0, m1, , m3, m4, , m6, m7, m8] = P3_TO_SRGB;
  for (let y = 0; y < sheet.height; y++) {
    const row = (sheet.at + y * sheet.row) / 4;
    const plane = sheet.plane / 4;
    for (let x = 0; x < sheet.width; x++) {
      const from = row + x;
      const [r, g, b] = [floats[from]!, floats[from + plane]!, floats[from + 2 * plane]!];
      const to = 4 * ((sheet.y + y) * width + sheet.x + x);
      out[to] = held(times * (isWide ? m0 * r + m1 * g : r));
      out[to + 1] = held(times * (isWide ? m3 * r + m4 * g : g));
      out[to + 2] = held(times * (isWide ? m6 * r + m7 * g + m8 * b : b));
      out[to + 3] = held(sheet.opacity * floats[from + 3 * plane]!);
    }
  }
  return out;
}

/** Coded straight samples of 16 bits, RGBA, as linear light premultiplied, in place. */
export function linearisePremultiplied(samples: Uint16Array): void {
  const linear = linearTable(2);
  for (let i = 0; i < samples.length; i += 4) {
    const cover = samples[i + 3]! / TOP;
    for (let c = i; c < i + 3; c++) samples[c] = held(linear[samples[c]!]! * cover);
  }
}
