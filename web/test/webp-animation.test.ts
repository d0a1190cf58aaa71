import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { animationFrame, animationHead } from '../src/app/engine/footage/webp-animation';

const size = { width: 37, height: 22 };
const colours = ['#c05020', '#2050c0', '#20c050'];

const still = (colour: string, lossless = false): Promise<Buffer> =>
  sharp({ create: { ...size, channels: 3, background: colour } })
    .webp({ lossless, quality: 90 })
    .toBuffer();

describe('a Animated WebP', () => {
  it('holds every frame, whole and in order, each for as long as it was given', async () => {
    const files = [await still(colours[0]!), await still(colours[1]!, true), await still(colours[2]!)];
    const frames = files.map((file, i) => animationFrame(file, size, 40 + i));
    const bytes = frames.reduce((sum, { length }) => sum + length, 0);
    const whole = Buffer.concat([animationHead(size, bytes), ...frames]);
    const { pages, delay, loop, width, pageHeight } = await sharp(whole, { animated: true }).metadata();
    expect({ pages, delay, loop, width, pageHeight }).toEqual({
      pages: 3,
      delay: [40, 41, 42],
      loop: 0,
      width: size.width,
      pageHeight: size.height,
    });
    for (const [page, colour] of colours.entries()) {
      const { dominant } = await sharp(whole, { page }).stats();
      const wanted = [1, 3, 5].map((at) => parseInt(colour.slice(at, at + 2), 16));
      [dominant.r, dominant.g, dominant.b].forEach((value, i) =>
        expect(Math.abs(value - wanted[i]!)).toBeLessThan(10),
      );
    }
  });

  it('is not made of what is no WebP', async () => {
    expect(() => animationFrame(new Uint8Array(40), size, 40)).toThrow('That is no WebP.');
    const empty = (await still('#fff')).subarray(0, 12);
    expect(() => animationFrame(new Uint8Array([...empty, ...new Uint8Array(16)]), size, 40)).toThrow(
      'holds no pixels',
    );
  });
});
