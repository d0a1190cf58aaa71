import sharp from 'sharp';
import { describe, expect, it, vi } from 'vitest';
import { decodeFile } from '../src/app/engine/codecs/decode';
import { plainJpeg } from '../src/app/engine/codecs/jpeg';
import type { DecodedPicture } from '../src/app/engine/codecs/messages';
import { nodeLibraries } from './node-libraries';

const libraries = await nodeLibraries();
const size = { width: 40, height: 24 };
const picture = () => sharp({ create: { ...size, channels: 3, background: '#35a' } });
const bytesOf = async (image: sharp.Sharp): Promise<Uint8Array<ArrayBuffer>> =>
  Uint8Array.from(await image.toBuffer());

describe('a JPEG', () => {
  it.each([
    ['baseline', () => picture().jpeg(), null],
    ['progressive', () => picture().jpeg({ progressive: true }), null],
    ['grey', () => picture().toColourspace('b-w').jpeg(), null],
    ['of four to one', () => picture().jpeg({ chromaSubsampling: '4:4:4' }), null],
    ['in sRGB, as it says', () => picture().withIccProfile('srgb').jpeg(), 'sRGB'],
  ])('%s is plain', async (_, make, profile) => {
    const plain = plainJpeg(await bytesOf(make()));
    expect(plain).toMatchObject(size);
    expect(plain!.profile?.slice(0, 4) ?? null).toBe(profile);
  });

  it.each([
    ['in another colour space', () => picture().withIccProfile('p3').jpeg()],
    ['of four inks', () => picture().toColourspace('cmyk').jpeg()],
  ])('%s is not', async (_, make) => {
    expect(plainJpeg(await bytesOf(make()))).toBeNull();
  });

  it('that is cut, at whatever byte, is not plain', async () => {
    const bytes = await bytesOf(picture().jpeg());
    for (let n = 0; n < bytes.length; n++) expect(plainJpeg(bytes.subarray(0, n))).toBeNull();
  });

  it('whose head makes no sense is not plain, and reading it ends', async () => {
    const bytes = await bytesOf(picture().jpeg());
    for (let at = 2; at < 200; at++) {
      const broken = bytes.slice();
      broken.fill(0, at, at + 4);
      const plain = plainJpeg(broken);
      if (plain) expect(Math.max(plain.width, plain.height)).toBeLessThanOrEqual(16384);
    }
  });

  it('is decoded by the browser where it is plain, else or where that fails by the library', async () => {
    const [plain, foreign] = await Promise.all([
      bytesOf(picture().jpeg()),
      bytesOf(picture().withIccProfile('p3').jpeg()),
    ]);
    const byBrowser = { width: 1, height: 1 } as DecodedPicture;
    const jpeg = vi.fn(async () => byBrowser);
    const open = (file: Uint8Array<ArrayBuffer>) =>
      decodeFile({ ...libraries, jpeg }, file, 'a.jpg', () => undefined);
    expect(await open(plain)).toBe(byBrowser);
    expect(await open(foreign)).toMatchObject(size);
    expect(jpeg).toHaveBeenCalledOnce();
    jpeg.mockRejectedValueOnce(new Error('The source image could not be decoded.'));
    expect(await open(plain)).toMatchObject(size);
  });
});
