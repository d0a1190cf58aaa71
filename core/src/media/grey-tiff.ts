import type { Size } from '../geometry/size';

const HEADER = 8;
/** Types of values (TIFF 6.0, section 2). */
const [SHORT, LONG] = [3, 4];

/** A plain grey TIFF of 16 bits, black is 0: one strip, nothing packed (TIFF 6.0, section 4). */
export function greyTiff({ width, height }: Size, samples: Uint16Array): Uint8Array<ArrayBuffer> {
  const bytes = 2 * width * height;
  const entries = [
    [256, LONG, width],
    [257, LONG, height],
    [258, SHORT, 16],
    [259, SHORT, 1],
    [262, SHORT, 1],
    [273, LONG, HEADER],
    [277, SHORT, 1],
    [278, LONG, height],
    [279, LONG, bytes],
  ] as const;
  const file = new Uint8Array(HEADER + bytes + 2 + 12 * entries.length + 4);
  const view = new DataView(file.buffer);
  view.setUint32(0, 0x49492a00);
  view.setUint32(4, HEADER + bytes, true);
  for (let i = 0; i < width * height; i++) view.setUint16(HEADER + 2 * i, samples[i]!, true);
  let at = HEADER + bytes;
  view.setUint16(at, entries.length, true);
  at += 2;
  for (const [tag, type, value] of entries) {
    view.setUint16(at, tag, true);
    view.setUint16(at + 2, type, true);
    view.setUint32(at + 4, 1, true);
    if (type === SHORT) view.setUint16(at + 8, value, true);
    else view.setUint32(at + 8, value, true);
    at += 12;
  }
  return file;
}
