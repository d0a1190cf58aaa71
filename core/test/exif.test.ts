import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { insertExif, normaliseExif, orientationIn, readExif, sizeProblem } from '../src/index';

const plain = () => sharp({ create: { width: 40, height: 30, channels: 3, background: '#884422' } });
const noted = () =>
  plain().withExif({
    IFD0: { Artist: 'A. Maker', Orientation: '6' },
    IFD2: { PixelXDimension: '4000', DateTimeOriginal: '2031:05:04 10:20:30' },
  });

describe('EXIF', () => {
  it.each(['jpeg', 'png', 'webp'] as const)(
    'is found in %s, put in order, and read by another library afterwards',
    async (kind) => {
      const block = readExif(await noted().toFormat(kind).toBuffer());
      expect(block).not.toBeNull();
      const upright = normaliseExif(block!, { width: 40, height: 30 });
      for (const target of ['jpeg', 'png', 'webp'] as const)
        for (const lossless of target === 'webp' ? [true, false] : [false]) {
          const file = insertExif(await plain().toFormat(target, { lossless }).toBuffer(), upright);
          const meta = await sharp(file).metadata();
          expect(meta).toMatchObject({ format: target, width: 40, height: 30 });
          expect(meta.orientation ?? 1).toBe(1);
          const text = Buffer.from(meta.exif!).toString('latin1');
          expect(text).toContain('A. Maker');
          expect(text).toContain('2031:05:04 10:20:30');
          const pixel = await sharp(file).raw().toBuffer();
          expect(Math.abs(pixel[0]! - 0x88)).toBeLessThan(4);
        }
    },
  );

  it('is absent, broken or too large without harm', async () => {
    const file = await plain().jpeg().toBuffer();
    expect(readExif(file)).toBeNull();
    expect(readExif(new Uint8Array())).toBeNull();
    expect(readExif(new Uint8Array([0xff, 0xd8, 0xff, 0xe1, 0xff]))).toBeNull();
    const noise = new Uint8Array(200).map((_, i) => (i * 91) & 255);
    noise.set([0x49, 0x49, 42, 0, 8, 0, 0, 0]);
    expect(normaliseExif(noise, { width: 1, height: 1 })).toHaveLength(200);
    expect(orientationIn(noise)).toBe(1);
    expect(orientationIn(new Uint8Array(16))).toBe(1);
    expect(insertExif(file, new Uint8Array(70_000))).toBe(file);
    const gif = await plain().gif().toBuffer();
    expect(insertExif(gif, noise)).toBe(gif);
  });
});

describe('the size of a picture', () => {
  it('is refused with its reason where it is too much or nothing', () => {
    expect(sizeProblem({ width: 12000, height: 8000 })).toBeNull();
    expect(sizeProblem({ width: 1, height: 1 })).toBeNull();
    expect(sizeProblem({ width: 0, height: 5 })).toMatch(/nothing in it/);
    expect(sizeProblem({ width: 30000, height: 2 })).toMatch(/30000 x 2 .*20000 pixels on a side/);
    expect(sizeProblem({ width: 15000, height: 15000 })).toMatch(/120 megapixels/);
  });

  it.each([1, 3, 6, 8])('says that its picture is turned: %i', async (orientation) => {
    const file = await sharp(Buffer.alloc(12), { raw: { width: 2, height: 2, channels: 3 } })
      .withMetadata({ orientation })
      .jpeg()
      .toBuffer();
    expect(orientationIn(readExif(file)!)).toBe(orientation);
  });
});
