import { randomUUID } from 'node:crypto';
import { readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { decodePicture } from '../../server/src/render/picture';
import { decodeFile, decodeGreyFile } from '../src/app/engine/codecs/decode';
import { NO_METADATA, isP3Profile, kindOf, profileName, tagTiff } from '@hazy-lens/core';
import { adobeProfile } from '../../core/test/profile-file';
import type { DecodedPicture, EncodeOptions } from '../src/app/engine/codecs/messages';
import { encodeByVips } from '../src/app/engine/codecs/vips';
import { greyStill, heifWith } from '../../core/test/heif-file';
import { nodeLibraries } from './node-libraries';

const libraries = await nodeLibraries();
const [width, height] = [60, 41];
const four = { raw: { width, height, channels: 4 as const } };
const three = { raw: { width, height, channels: 3 as const } };
const noise = (n: number): number => Math.imul(n + 7, 2654435761) >>> 16;
const rgba = Uint8Array.from({ length: width * height * 4 }, (_, i) => noise(i));
const deep = Uint16Array.from({ length: width * height * 3 }, (_, i) => noise(i));
const clear = () => sharp(rgba, four);
const opaque = () => sharp(rgba, four).removeAlpha();
const sixteen = () => sharp(deep, three).toColourspace('rgb16');
/** As another program writes it: the pixels as they are, with a profile beside them. */
async function sixteenIn(profile: string): Promise<Buffer> {
  const vips = await libraries.vips(false);
  const image = vips.Image.newFromMemory(deep, width, height, 3, 'ushort' as never);
  const tagged = image.copy({ interpretation: 'rgb16' });
  return Buffer.from(tagged.writeToBuffer('.png', { bitdepth: 16, profile }));
}
const open = (file: Uint8Array, name = 'a.png'): Promise<DecodedPicture> =>
  decodeFile(libraries, Uint8Array.from(file), name, () => undefined);

/** The same file as the command line reads it: three channels. */
async function byCommandLine(file: Buffer, bytes: 1 | 2): Promise<ArrayLike<number>> {
  const path = join(tmpdir(), `hazy-lens-${randomUUID()}`);
  await writeFile(path, file);
  const { data, format } = await decodePicture(path);
  await rm(path);
  expect(format).toEqual({ channels: 3, bytes });
  return bytes === 2 ? new Uint16Array(data.buffer, data.byteOffset, data.length / 2) : data;
}

describe('a picture file', () => {
  const kinds: [string, () => Promise<Buffer>, object][] = [
    ['PNG with alpha', () => clear().png().toBuffer(), { type: 'png', bits: 8 }],
    ['PNG with a palette', () => clear().png({ palette: true }).toBuffer(), { type: 'png' }],
    ['PNG of 16 bits', () => sixteen().png().toBuffer(), { type: 'png', bits: 16 }],
    ['grey PNG', () => opaque().toColourspace('b-w').png().toBuffer(), { type: 'png', bits: 8 }],
    [
      'PNG in another colour space',
      () => opaque().withIccProfile('p3').png().toBuffer(),
      { profile: 'sP3C' },
    ],
    ['PNG that says it is sRGB', () => sixteenIn('srgb'), { bits: 16 }],
    ['PNG of 16 bits in another colour space', () => sixteenIn('p3'), { bits: 16, profile: 'sP3C' }],
    ['JPEG', () => opaque().jpeg().toBuffer(), { type: 'jpeg', profile: null }],
    ['turned JPEG', () => opaque().jpeg().withMetadata({ orientation: 6 }).toBuffer(), { type: 'jpeg' }],
    ['CMYK JPEG', () => opaque().toColourspace('cmyk').jpeg().toBuffer(), { type: 'jpeg' }],
    ['WebP', () => clear().webp({ lossless: true }).toBuffer(), { type: 'webp' }],
    ['AVIF', () => opaque().avif({ effort: 1 }).toBuffer(), { type: 'avif' }],
    ['GIF', () => clear().gif().toBuffer(), { type: 'gif' }],
    ['TIFF, LZW, tiled', () => clear().tiff({ compression: 'lzw', tile: true }).toBuffer(), { type: 'tiff' }],
    ['TIFF of 16 bits', () => sixteen().tiff({ compression: 'deflate' }).toBuffer(), { bits: 16 }],
    [
      'CMYK TIFF',
      () => opaque().toColourspace('cmyk').tiff({ compression: 'packbits' }).toBuffer(),
      { bits: 8 },
    ],
    [
      'TIFF of one bit, as a fax',
      () =>
        opaque().toColourspace('b-w').threshold().tiff({ bitdepth: 1, compression: 'ccittfax4' }).toBuffer(),
      { bits: 1 },
    ],
  ];

  it.each(kinds)('%s has the pixels that the command line reads', async (_, make, about) => {
    const file = await make();
    const ours = await open(file);
    expect(ours.about).toMatchObject(about);
    const bytes = ours.format.bytes;
    const theirs = await byCommandLine(file, bytes);
    const samples = bytes === 2 ? new Uint16Array(ours.pixels) : new Uint8Array(ours.pixels);
    expect(samples.length / 4).toBe(theirs.length / 3);
    for (let i = 0; i < samples.length / 4; i++)
      for (let c = 0; c < 3; c++) if (samples[i * 4 + c] !== theirs[i * 3 + c]) throw new Error(`pixel ${i}`);
    expect(samples[3]).toBe(bytes === 2 ? 65535 : 255);
  });

  it('of floats is linear light', async () => {
    const values = Float32Array.from({ length: width * height * 3 }, (_, i) => (i % 101) / 100);
    const vips = await libraries.vips(false);
    const image = vips.Image.newFromMemory(values, width, height, 3, 'float' as never);
    const picture = await open(image.writeToBuffer('.tif'), 'light.tif');
    expect(picture.about.bits).toBe(32);
    const samples = new Uint16Array(picture.pixels);
    // Half the light is 0.735 in sRGB (IEC 61966-2-1).
    const at = values.findIndex((v) => v === 0.5);
    expect(samples[Math.floor(at / 3) * 4 + (at % 3)]! / 65535).toBeCloseTo(0.7354, 2);
  });

  it('from a telephone is read, in its own colours', async () => {
    const path = fileURLToPath(new URL('./fixtures/tram-loop.heic', import.meta.url));
    const picture = await open(new Uint8Array(await readFile(path)), 'tram.heic');
    expect(picture).toMatchObject({ width: 240, height: 160, about: { type: 'heic', bits: 8 } });
    const demo = fileURLToPath(new URL('../../demo/pictures/tram-loop.jpg', import.meta.url));
    const { data } = await sharp(demo).resize(240, 160).raw().toBuffer({ resolveWithObject: true });
    const pixels = new Uint8Array(picture.pixels);
    let sum = 0;
    for (let i = 0; i < 240 * 160; i++)
      for (let c = 0; c < 3; c++) sum += Math.abs(pixels[i * 4 + c]! - data[i * 3 + c]!);
    expect(sum / (240 * 160 * 3)).toBeLessThan(9);
  });

  it('that is none, is cut, is empty, too large or of another kind is refused in a sentence that names it', async () => {
    const png = await opaque().png().toBuffer();
    const jpeg = await opaque().jpeg({ quality: 100 }).toBuffer();
    const thumbed = Buffer.concat([
      jpeg.subarray(0, 2),
      Buffer.from([0xff, 0xe1, ((jpeg.length + 2) >> 8) & 255, (jpeg.length + 2) & 255]),
      jpeg,
      jpeg.subarray(2, jpeg.length / 2),
    ]);
    const tiff = await opaque().tiff({ compression: 'none' }).toBuffer();
    const looped = Buffer.from(tiff);
    const directory = looped.readUInt32LE(4);
    looped.writeUInt32LE(directory, directory + 2 + 12 * looped.readUInt16LE(directory));
    const heic = await readFile(fileURLToPath(new URL('./fixtures/tram-loop.heic', import.meta.url)));
    const spoiled = Buffer.from(png);
    spoiled[spoiled.length - 13]! ^= 1;
    const cases: [string, Uint8Array, RegExp][] = [
      [
        'drawn.svg',
        Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"/>'),
        /“drawn\.svg” isn’t a supported picture/,
      ],
      ['spoiled.png', spoiled, /“spoiled\.png” is damaged.*a checksum is wrong/],
      ['empty.png', Buffer.alloc(0), /“empty\.png” is empty/],
      ['notes.png', Buffer.from('notes'), /“notes\.png” isn’t a supported picture/],
      ['cut.png', png.subarray(0, png.length / 2), /“cut\.png” can’t be opened: the file is cut short/],
      ['cut.jpg', jpeg.subarray(0, jpeg.length / 2), /“cut\.jpg” can’t be opened: the file is cut short/],
      ['thumb.jpg', thumbed, /“thumb\.jpg” can’t be opened: the file is cut short/],
      ['cut.tif', tiff.subarray(0, 700), /“cut\.tif” can’t be opened: the file is cut short/],
      ['cut.heic', heic.subarray(0, 6000), /“cut\.heic” is (cut short|damaged)/],
      ['wide.png', await sharp(Buffer.alloc(30000 * 3), { raw: { width: 30000, height: 1, channels: 3 } }).png().toBuffer(), /“wide\.png” wasn’t opened\. It is 30000 x 1 pixels/], // prettier-ignore
    ];
    for (const [name, file, message] of cases) await expect(open(file, name)).rejects.toThrow(message);
    // A directory that comes after itself has still one picture in it, or a sentence; it must end.
    await open(looped, 'looped.tif').catch((error: Error) => expect(error.message).toContain('“looped.tif”'));
  });
});

describe('a file that is written', () => {
  const wish = (type: EncodeOptions['type'], bytes: 1 | 2): EncodeOptions => ({
    width,
    height,
    type,
    quality: 0.9,
    format: { channels: 4, bytes },
    space: 'srgb' as const,
    isTransparent: false,
    notes: { of: NO_METADATA, choice: 'none' },
  });

  it.each(['image/png', 'image/tiff'] as const)(
    'as %s of 16 bits comes back bit for bit, and says sRGB',
    async (type) => {
      const picture = await open(await sixteen().png().toBuffer());
      const vips = await libraries.vips(false);
      const file = encodeByVips(
        vips,
        new Uint8Array(picture.pixels),
        wish(type, 2),
        NO_METADATA,
        () => undefined,
      );
      const meta = await sharp(file).metadata();
      expect(meta).toMatchObject({ width, height, depth: 'ushort', channels: 3 });
      expect(meta.icc).toBeDefined();
      const again = await sharp(file, { ignoreIcc: true })
        .toColourspace('rgb16')
        .raw({ depth: 'ushort' })
        .toBuffer();
      expect([...new Uint16Array(again.buffer, again.byteOffset, 300)]).toEqual([...deep.subarray(0, 300)]);
    },
  );

  it.each([
    ['image/png', 1],
    ['image/png', 2],
    ['image/tiff', 1],
    ['image/tiff', 2],
    ['image/jpeg', 1],
    ['image/webp', 1],
    ['image/avif', 1],
  ] as const)(
    'as %s of %i bytes a sample in Display P3 says so, and opens with its own colours',
    async (type, bytes) => {
      const colour = bytes === 2 ? [64_000, 3_001, 7_777, 65_535] : [250, 12, 30, 255];
      const samples = new (bytes === 2 ? Uint16Array : Uint8Array)(4 * width * height);
      samples.forEach((_, i) => (samples[i] = colour[i % 4]!));
      const vips = await libraries.vips(type === 'image/avif');
      const pixels = new Uint8Array(samples.buffer);
      const how = { ...wish(type, bytes), quality: 1, chroma: '444', space: 'display-p3' } as const;
      const file = encodeByVips(vips, pixels, how, NO_METADATA, () => undefined);
      const { icc } = await sharp(file).metadata();
      expect(isP3Profile(icc!)).toBe(true);
      const read = (gamut: 'own' | 'srgb') =>
        decodeFile(libraries, Uint8Array.from(file), 'a', () => undefined, [], gamut);
      const own = await read('own');
      expect(own).toMatchObject({ primaries: 'display-p3', width, height });
      const first = (picture: DecodedPicture): number[] => [
        ...(bytes === 2 ? new Uint16Array(picture.pixels, 0, 3) : new Uint8Array(picture.pixels, 0, 3)),
      ];
      const isExact = type === 'image/png' || type === 'image/tiff';
      first(own).forEach((value, c) =>
        expect(Math.abs(value - colour[c]!)).toBeLessThanOrEqual(isExact ? 0 : 4),
      );
      // Where they are not asked for they become sRGB, as ever.
      const plain = await read('srgb');
      expect(plain.primaries).toBe('srgb');
      expect(first(plain)[1]).toBe(0);
    },
  );

  it.each([1, 2] as const)(
    'of wide colours of another kind, of %i bytes, opens as on the command line, transparent places too',
    async (bytes) => {
      const samples = new (bytes === 2 ? Uint16Array : Uint8Array)(4 * width * height);
      const top = bytes === 2 ? 65535 : 255;
      samples.forEach((_, i) => (samples[i] = i % 4 === 3 ? top - (i % 97) : (i * 2654435761) % (top + 1)));
      const image = sharp(samples, { raw: { width, height, channels: 4 } });
      const plain = await (bytes === 2 ? image.toColourspace('rgb16') : image)
        .tiff({ compression: 'none' })
        .toBuffer();
      const file = tagTiff(plain, adobeProfile());
      const ours = await decodeFile(libraries, Uint8Array.from(file), 'a.tif', () => undefined, [], 'own');
      const path = join(tmpdir(), `${randomUUID()}.tif`);
      await writeFile(path, file);
      const theirs = await decodePicture(path, 'own');
      await rm(path);
      expect([ours.primaries, theirs.primaries]).toEqual(['display-p3', 'display-p3']);
      const read = bytes === 2 ? new Uint16Array(ours.pixels) : new Uint8Array(ours.pixels);
      const flat = [...read].filter((_, i) => i % 4 < 3);
      const data =
        bytes === 2 ? new Uint16Array(theirs.data.buffer, theirs.data.byteOffset, flat.length) : theirs.data;
      // At 16 bits the two libraries’ white differs by a quarter of a level of 8 bits.
      const apart = flat.map((value, i) => Math.abs(value - data[i]!));
      expect(Math.max(...apart)).toBeLessThanOrEqual(bytes === 2 ? 8 : 0);
      for (const part of ['premultiplied', 'alpha'] as const)
        expect(new Uint16Array(ours.parts![part])).toEqual(theirs.parts![part]);
    },
  );

  it('as a layer says that its light is linear, and its colours are premultiplied', async () => {
    const samples = Uint16Array.from(
      { length: 4 * width * height },
      (_, i) => [9000, 4000, 100, 20_000][i % 4]!,
    );
    const vips = await libraries.vips(false);
    const how = { ...wish('image/tiff', 2), space: 'linear', isTransparent: true } as const;
    const file = encodeByVips(vips, new Uint8Array(samples.buffer), how, NO_METADATA, () => undefined);
    const { icc } = await sharp(file).metadata();
    expect(profileName(icc!)).toBe('sRGB linear');
    // Another reader divides by the coverage, as it is told to.
    const image = sharp(file, { ignoreIcc: true }).toColourspace('rgb16');
    const raw = await image.raw({ depth: 'ushort' }).toBuffer();
    expect([...new Uint16Array(raw.buffer, raw.byteOffset, 4)]).toEqual([29_490, 13_107, 327, 20_000]);
    const view = new DataView(file.buffer, file.byteOffset, file.byteLength);
    const directory = view.getUint32(4, true);
    const entries = Array.from({ length: view.getUint16(directory, true) }, (_, i) => directory + 2 + 12 * i);
    const extra = entries.find((at) => view.getUint16(at, true) === 338)!;
    expect(view.getUint16(extra + 8, true)).toBe(1);
  });

  it('as AVIF or plain TIFF has its picture in it', async () => {
    const picture = await open(await opaque().blur(4).png().toBuffer());
    const pixels = new Uint8Array(picture.pixels);
    const vips = await libraries.vips(true);
    for (const type of ['image/avif', 'image/tiff'] as const) {
      const file = encodeByVips(vips, pixels, wish(type, 1), NO_METADATA, () => undefined);
      expect(kindOf(file)).toBe(type.split('/')[1]);
      const { data } = await sharp(file).raw().toBuffer({ resolveWithObject: true });
      const apart = Array.from({ length: 600 }, (_, i) =>
        Math.abs(data[i]! - pixels[Math.floor(i / 3) * 4 + (i % 3)]!),
      );
      expect(apart.reduce((a, b) => a + b) / 600).toBeLessThan(4);
    }
  });
});

describe('a picture inside of a HEIC file', () => {
  const [w, h] = [128, 96];
  const ramp = Uint8Array.from({ length: w * h }, (_, i) => 2 * (i % w));
  const file = heifWith(
    greyStill(ramp.toReversed(), w, h),
    greyStill(ramp, w, h),
    'urn:mpeg:hevc:2015:auxid:2',
  );
  const read = (bytes: Uint8Array, item: number) =>
    decodeGreyFile(libraries, Uint8Array.from(bytes), 'portrait.heic', () => undefined, item);

  it('is read by its number, in 16 bits', async () => {
    const depth = await read(file, 2);
    expect(depth).toMatchObject({ width: w, height: h, fromColour: false });
    const farthestOff = ramp.reduce(
      (most, value, i) => Math.max(most, Math.abs(depth.samples[i]! / 257 - value)),
      0,
    );
    expect(farthestOff).toBeLessThan(4);
    // The picture itself stays the first one.
    const first = await decodeFile(libraries, Uint8Array.from(file), 'portrait.heic', () => undefined);
    expect(new Uint8Array(first.pixels)[0]).toBeGreaterThan(240);
  });

  it('is told of where it is not, or the file is cut', async () => {
    await expect(read(file, 7)).rejects.toThrow(/portrait\.heic/);
    await expect(read(file.slice(0, -900), 2)).rejects.toThrow(/portrait\.heic/);
  });
});
