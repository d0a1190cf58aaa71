import { describe, expect, it } from 'vitest';
import { fromLinear, toLinear } from '../src/index';
import { KernelContext } from '../src/memory';
import { type ScaleTask, scaleRows, scratchBytes } from '../src/pixels/scale';
import { kernelsWith, testPicture } from './harness';

async function scaled(
  width: number,
  height: number,
  part?: { x: number; y: number; width: number; height: number },
  from = testPicture(90, 60, 4),
) {
  const region = { ...(part ?? { x: 0, y: 0, width, height }), picture: { width, height } };
  const source = new SharedArrayBuffer(from.data.length);
  new Uint8Array(source).set(from.data);
  const target = new SharedArrayBuffer(region.width * region.height * 4);
  const format = { channels: 4, bytes: 1 } as const;
  const task: ScaleTask = {
    from: format,
    to: format,
    source,
    sourceSize: from,
    region,
    target,
    offset: 0,
    rows: [0, region.height],
  };
  const { kernels, memory } = await kernelsWith(scratchBytes(task));
  const use = new KernelContext(kernels, memory);
  const half = Math.ceil(region.height / 2);
  scaleRows(use, { ...task, rows: [0, half] });
  scaleRows(use, { ...task, rows: [half, region.height] });
  return new Uint8Array(target);
}

describe('scaling', () => {
  it('to the same size copies byte for byte', async () => {
    expect(Buffer.compare(await scaled(90, 60), testPicture(90, 60, 4).data as Uint8Array)).toBe(0);
  });

  it('keeps the mean of linear light', async () => {
    const picture = testPicture(90, 60, 4);
    const mean = (data: ArrayLike<number>) => {
      let sum = 0;
      for (let i = 0; i < data.length; i += 4) sum += toLinear(data[i]! / 255);
      return fromLinear(sum / (data.length / 4)) * 255;
    };
    for (const [w, h] of [[45, 30], [33, 22], [7, 5], [1, 1]] as const) expect(Math.abs(mean(await scaled(w, h)) - mean(picture.data))).toBeLessThan(w > 10 ? 1.5 : 12); // prettier-ignore
  });

  it('of a part is that part of the whole', async () => {
    const whole = await scaled(60, 40);
    const part = await scaled(60, 40, { x: 20, y: 10, width: 25, height: 17 });
    for (let y = 0; y < 17; y++)
      for (let x = 0; x < 25; x++)
        for (let c = 0; c < 4; c++)
          expect(
            Math.abs(part[(y * 25 + x) * 4 + c]! - whole[((y + 10) * 60 + x + 20) * 4 + c]!),
          ).toBeLessThanOrEqual(1);
  });
});
