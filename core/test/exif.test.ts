import fc from 'fast-check';
import { unzlibSync } from 'fflate';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import {
  exifTexts,
  exportedMetadata,
  insertMetadata,
  readOrientation,
  readExif,
  readMetadata,
  sizeProblem,
} from '../src/index';

const plain = () => sharp({ create: { width: 40, height: 30, channels: 3, background: '#884422' } });
const XMP = `<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">
<rdf:Description rdf:about="" xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:xmp="http://ns.adobe.com/xap/1.0/"
 xmlns:exif="http://ns.adobe.com/exif/1.0/" exif:GPSLatitude="47,30.5N" aux:SerialNumber="77">
<dc:creator><rdf:Seq><rdf:li>A. Maker</rdf:li></rdf:Seq></dc:creator>
<xmp:Thumbnails><rdf:Alt><rdf:li>small picture of before</rdf:li></rdf:Alt></xmp:Thumbnails>
<photoshop:City>Orrin Bank</photoshop:City></rdf:Description></rdf:RDF></x:xmpmeta>`;
const noted = () =>
  plain()
    .withExif({
      IFD0: { Artist: 'A. Maker', Orientation: '6' },
      IFD2: { PixelXDimension: '4000', DateTimeOriginal: '2031:05:04 10:20:30', BodySerialNumber: 'S-12' },
      IFD3: { GPSLatitudeRef: 'N', GPSLatitude: '47/1 30/1 0/1' },
    })
    .withXmp(XMP);
const exported = { width: 40, height: 30, thumbnail: null };
const KINDS = ['jpeg', 'png', 'webp', 'tiff'] as const;
const text = (bytes: Uint8Array | null): string => Buffer.from(bytes ?? []).toString('latin1');

/** What another library reads of a file. */
async function readBy(file: Uint8Array) {
  const { default: ExifReader } = await import('exifreader');
  return ExifReader.load(file.slice().buffer, { expanded: true });
}

describe('what a file says of its picture', () => {
  it.each(['jpeg', 'png', 'webp'] as const)(
    'is found in %s, put in order, and read by other libraries',
    async (kind) => {
      const came = readMetadata(await noted().toFormat(kind).toBuffer(), unzlibSync);
      expect(came.exif).not.toBeNull();
      expect(came.xmp).toContain('A. Maker');
      const goes = exportedMetadata(came, exported, 'all');
      for (const target of KINDS)
        for (const lossless of target === 'webp' ? [true, false] : [false]) {
          const made = await plain()
            .toFormat(target, target === 'webp' ? { lossless } : {})
            .toBuffer();
          const file = insertMetadata(made, goes);
          expect(await sharp(file).metadata()).toMatchObject({ format: target, width: 40, height: 30 });
          const pixel = await sharp(file).raw().toBuffer();
          expect(Math.abs(pixel[0]! - 0x88)).toBeLessThan(4);
          const { exif, xmp, gps } = await readBy(file);
          expect(exif).toMatchObject({
            Artist: { description: 'A. Maker' },
            Orientation: { value: 1 },
            PixelXDimension: { value: 40 },
          });
          expect(exif!.DateTimeOriginal!.description).toContain('2031');
          expect(gps!.Latitude).toBeCloseTo(47.5);
          expect(JSON.stringify(xmp)).toContain('A. Maker');
          // And once more, out of what was written.
          const again = readMetadata(file);
          expect(text(again.exif)).toContain('A. Maker');
          expect(again.xmp).toBe(goes.xmp);
        }
    },
  );

  it('leaves out place and serial numbers, or all of it, as is wanted; the author stays', async () => {
    const came = readMetadata(await noted().jpeg().toBuffer());
    const { exif, xmp } = exportedMetadata(came, exported, 'without-place');
    expect(text(exif)).toContain('A. Maker');
    expect(text(exif)).not.toContain('S-12');
    expect(xmp).toContain('A. Maker');
    for (const gone of ['GPSLatitude', 'SerialNumber', 'Orrin Bank']) expect(xmp).not.toContain(gone);
    const file = insertMetadata(await plain().jpeg().toBuffer(), { exif, xmp });
    expect((await readBy(file)).gps).toBeUndefined();
    expect(text(exportedMetadata(came, exported, 'all').exif)).toContain('S-12');
    expect(exportedMetadata(came, exported, 'none')).toEqual({ exif: null, xmp: null });
  });

  it('never has a small picture of the source in it, but one of the result', async () => {
    const small = (mark: string): Uint8Array => Buffer.from(`\xff\xd8${mark}\xff\xd9`, 'latin1');
    const came = readMetadata(await noted().jpeg().toBuffer());
    const before = exportedMetadata(came, { ...exported, thumbnail: small('as it came') }, 'all').exif!;
    expect(text(before)).toContain('as it came');
    const first = insertMetadata(await plain().jpeg().toBuffer(), { exif: before, xmp: XMP });
    const after = exportedMetadata(readMetadata(first), { ...exported, thumbnail: small('as it is') }, 'all');
    expect(text(after.exif)).not.toContain('as it came');
    expect(after.xmp).not.toContain('small picture of before');
    const file = insertMetadata(await plain().jpeg().toBuffer(), after);
    const { Thumbnail } = await readBy(file);
    expect(text(new Uint8Array(Thumbnail!.image as ArrayBuffer))).toContain('as it is');
  });

  it('goes from a TIFF, and into one, without what is of its pixels', async () => {
    const tiff = insertMetadata(
      await plain().tiff({ compression: 'lzw' }).toBuffer(),
      exportedMetadata(readMetadata(await noted().jpeg().toBuffer()), exported, 'all'),
    );
    const goes = exportedMetadata(readMetadata(tiff), exported, 'without-place');
    const jpeg = insertMetadata(await plain().jpeg().toBuffer(), goes);
    expect(goes.exif!.length).toBeLessThan(1000);
    expect((await readBy(jpeg)).exif).toMatchObject({ Artist: { description: 'A. Maker' } });
    expect((await readBy(jpeg)).exif!.StripOffsets).toBeUndefined();
  });

  it('is found in AVIF', async () => {
    const { exif, xmp } = readMetadata(await noted().avif().toBuffer());
    expect(text(exif)).toContain('A. Maker');
    expect(xmp).toContain('A. Maker');
    expect(exifTexts(exif!).get(0x013b)).toBe('A. Maker');
  });

  it('is absent, broken or too large without harm', async () => {
    const file = await plain().jpeg().toBuffer();
    expect(readMetadata(file)).toEqual({ exif: null, xmp: null });
    expect(readExif(new Uint8Array())).toBeNull();
    expect(readExif(new Uint8Array([0xff, 0xd8, 0xff, 0xe1, 0xff]))).toBeNull();
    const noise = new Uint8Array(200).map((_, i) => (i * 91) & 255);
    noise.set([0x49, 0x49, 42, 0, 8, 0, 0, 0]);
    expect(exportedMetadata({ exif: noise, xmp: null }, exported, 'all').exif).toBeNull();
    expect(readOrientation(noise)).toBe(1);
    expect(readOrientation(new Uint8Array(16))).toBe(1);
    const huge = insertMetadata(file, { exif: new Uint8Array(70_000), xmp: null });
    expect(Buffer.compare(Buffer.from(huge), file)).toBe(0);
    const gif = await plain().gif().toBuffer();
    expect(insertMetadata(gif, { exif: noise, xmp: null })).toBe(gif);
  });

  it('never hangs or fails on a block that was spoiled', async () => {
    const { exif } = readMetadata(await noted().jpeg().toBuffer());
    fc.assert(
      fc.property(fc.nat(exif!.length - 1), fc.nat(255), fc.nat(exif!.length), (at, value, length) => {
        const spoiled = exif!.slice(0, length);
        if (at < length) spoiled[at] = value;
        const made = exportedMetadata({ exif: spoiled, xmp: null }, exported, 'all').exif;
        return made === null || made.length < 5000;
      }),
      { numRuns: 400 },
    );
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
    expect(readOrientation(readExif(file)!)).toBe(orientation);
  });
});
