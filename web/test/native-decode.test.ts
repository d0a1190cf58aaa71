import { sizeProblem } from '@hazy-lens/core';
import sharp, { type Sharp } from 'sharp';
import { describe, expect, it, vi } from 'vitest';
import { decodeFile } from '../src/app/engine/codecs/decode';
import { kindOf } from '@hazy-lens/core';
import type { DecodedPicture } from '../src/app/engine/codecs/messages';
import { readSimpleHeader } from '../src/app/engine/codecs/native-decode';
import { nodeLibraries } from './node-libraries';

const libraries = await nodeLibraries();
const size = { width: 40, height: 24 };
const picture = () => sharp({ create: { ...size, channels: 3, background: '#35a' } });
const bytesOf = async (image: Sharp): Promise<Uint8Array<ArrayBuffer>> =>
  Uint8Array.from(await image.toBuffer());

const plainOf = (bytes: Uint8Array) => readSimpleHeader(bytes, kindOf(bytes) ?? 'gif');

describe('a picture file', () => {
  it.each([
    ['JPEG, baseline', () => picture().jpeg(), null],
    ['JPEG, progressive', () => picture().jpeg({ progressive: true }), null],
    ['JPEG, grey', () => picture().toColourspace('b-w').jpeg(), null],
    ['JPEG with all its chroma', () => picture().jpeg({ chromaSubsampling: '4:4:4' }), null],
    ['JPEG in sRGB, as it says', () => picture().withIccProfile('srgb').jpeg(), 'sRGB'],
    ['PNG', () => picture().png(), null],
    ['PNG, line by other line', () => picture().png({ progressive: true }), null],
    ['PNG, grey', () => picture().toColourspace('b-w').png(), null],
  ])('%s is plain', async (_, make, profile) => {
    const plain = plainOf(await bytesOf(make()));
    expect(plain).toMatchObject(size);
    expect(plain!.profile?.slice(0, 4) ?? null).toBe(profile);
  });

  it.each([
    ['JPEG in another colour space', () => picture().withIccProfile('p3').jpeg()],
    ['JPEG of four inks', () => picture().toColourspace('cmyk').jpeg()],
    ['PNG in another colour space', () => picture().withIccProfile('p3').png()],
    ['PNG of 16 bits', () => picture().toColourspace('rgb16').png()],
    ['PNG with transparent places', () => picture().ensureAlpha(0.5).png()],
    ['PNG with a palette', () => picture().png({ palette: true })],
    ['PNG that is turned', () => picture().withMetadata({ orientation: 6 }).png()],
    ['WebP', () => picture().webp()],
  ])('%s is not', async (_, make) => {
    expect(plainOf(await bytesOf(make()))).toBeNull();
  });

  it('says whether it is turned', async () => {
    const turned = picture().withMetadata({ orientation: 6 }).jpeg();
    expect(plainOf(await bytesOf(turned))).toMatchObject({ ...size, isTurned: true });
    expect(plainOf(await bytesOf(picture().jpeg()))).toMatchObject({ isTurned: false });
  });

  it('that is cut, at whatever byte, is not plain', async () => {
    for (const bytes of [await bytesOf(picture().jpeg()), await bytesOf(picture().png())])
      for (let n = 0; n < bytes.length; n++) expect(plainOf(bytes.subarray(0, n))).toBeNull();
  });

  it('whose head makes no sense is not plain, and reading it ends', async () => {
    for (const bytes of [await bytesOf(picture().jpeg()), await bytesOf(picture().png())])
      for (let at = 2; at < bytes.length - 4; at++) {
        const broken = bytes.slice();
        broken.fill(0xff, at, at + 4);
        const plain = plainOf(broken);
        if (plain) expect(sizeProblem(plain)).toBeNull();
      }
  });

  it('is decoded by the browser where it is plain, else or where that fails by the library', async () => {
    const [plain, foreign] = await Promise.all([
      bytesOf(picture().jpeg()),
      bytesOf(picture().withIccProfile('p3').jpeg()),
    ]);
    const byBrowser = { width: 1, height: 1 } as DecodedPicture;
    const decode = vi.fn(async () => byBrowser);
    const open = (file: Uint8Array<ArrayBuffer>) =>
      decodeFile({ ...libraries, plain: decode }, file, 'a.jpg', () => undefined);
    expect(await open(plain)).toBe(byBrowser);
    expect(await open(foreign)).toMatchObject(size);
    expect(decode).toHaveBeenCalledOnce();
    decode.mockRejectedValueOnce(new Error('The source image couldn’t be decoded.'));
    expect(await open(plain)).toMatchObject(size);
  });
});
