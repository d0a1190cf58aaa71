import { fromLinear, parseRecipe, toLinear, referencedFiles, renameReferences } from '@hazy-lens/core';
import { zipSync } from 'fflate';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import type { UnzipOptions } from '../src/app/engine/codecs/messages';
import { unzip } from '../src/app/engine/codecs/zip';
import { decodeGreyFile } from '../src/app/engine/codecs/decode';
import { cropToAspect, encodeGrey } from '../src/app/engine/grey';
import { nodeLibraries } from './node-libraries';
import { packRecipe, unpackRecipe } from '../src/app/project/recipes/recipe-files';

const libraries = await nodeLibraries();
/** As the codec's worker does it. */
const unzipHere = async (file: File, options: UnzipOptions): Promise<Map<string, Blob>> => {
  const files = unzip(new Uint8Array(await file.arrayBuffer()), options, () => undefined);
  return new Map([...files].map(([name, content]) => [name, new Blob([content])]));
};
const [width, height] = [37, 20];
/** A ramp of 16 bits, and as bytes. */
const ramp = Uint16Array.from({ length: width * height }, (_, i) => (i % width) * 1700);
const bytes = Uint8Array.from(ramp, (v) => v >> 8);
const grey8 = () => sharp(bytes, { raw: { width, height, channels: 1 } }).toColourspace('b-w');
const grey16 = () => sharp(ramp, { raw: { width, height, channels: 1 } }).toColourspace('grey16');
const coloured = () =>
  sharp(
    Uint8Array.from({ length: width * height * 3 }, (_, i) => (i * 31) % 256),
    {
      raw: { width, height, channels: 3 },
    },
  );

/** A zip of one picture whose directory says that it is so large when unpacked. */
function zipThatClaims(bytes: number): Uint8Array {
  const zip = zipSync({ 'a.png': new Uint8Array(1000) });
  // The entry of the central directory begins with this signature; its size unpacked stands 24 bytes on.
  const directory = Buffer.from(zip).indexOf(Buffer.from('PK\u0001\u0002'));
  new DataView(zip.buffer).setUint32(directory + 24, bytes, true);
  return zip;
}

describe('a grey picture', () => {
  const read = async (data: Uint8Array) =>
    decodeGreyFile(libraries, Uint8Array.from(data), 'map.png', () => undefined);

  it('is read from PNGs and TIFFs of 8 and 16 bits', async () => {
    for (const file of [
      await grey16().png().toBuffer(),
      await grey16().tiff({ compression: 'none' }).toBuffer(),
      await grey16().tiff({ compression: 'lzw' }).toBuffer(),
    ]) {
      const grey = await read(file);
      expect(grey).toMatchObject({ width, height, fromColour: false });
      expect([...grey.samples]).toEqual([...ramp]);
    }
    for (const file of [
      await grey8().png().toBuffer(),
      await grey8().tiff({ compression: 'none' }).toBuffer(),
    ])
      expect([...(await read(file)).samples]).toEqual([...bytes].map((v) => v * 257));
  });

  it('is read from one bit, a palette, and with alpha on black', async () => {
    const bit = await grey8().threshold(100).png({ palette: true, colours: 2 }).toBuffer();
    const one = await read(bit);
    expect([...one.samples]).toEqual([...bytes].map((v) => (v >= 100 ? 65535 : 0)));
    const palette = await sharp({ create: { width, height, channels: 3, background: '#ff0000' } })
      .png({ palette: true })
      .toBuffer();
    const red = await read(palette);
    expect(red.fromColour).toBe(true);
    expect(toLinear(red.samples[5]! / 65535)).toBeCloseTo(0.2126, 2);
    const clear = await grey8().ensureAlpha(0.5).png().toBuffer();
    expect((await read(clear)).samples[30]! / 65535).toBeCloseTo((bytes[30]! / 255) * 0.5, 2);
  });

  it('says where colours were taken as luminance, and refuses what is no picture', async () => {
    const grey = await read(await coloured().png().toBuffer());
    const raw = await coloured().raw().toBuffer();
    expect(grey.fromColour).toBe(true);
    // Luminance is of light, not of the numbers in the file.
    for (const i of [0, 17, 400]) {
      const [r, g, b] = [0, 1, 2].map((c) => toLinear(raw[i * 3 + c]! / 255));
      const light = fromLinear(0.2126 * r! + 0.7152 * g! + 0.0722 * b!);
      expect(Math.abs(grey.samples[i]! / 65535 - light)).toBeLessThan(0.01);
    }
    const whole = await grey16().png().toBuffer();
    for (const [data, message] of [
      [new Uint8Array(), /empty/],
      [new TextEncoder().encode('no picture at all'), /isn’t a supported picture/],
      [new Uint8Array(whole.subarray(0, whole.length / 2)), /cut short/],
      [
        new Uint8Array((await grey16().tiff({ compression: 'none' }).toBuffer()).subarray(0, 300)),
        /cut short/,
      ],
    ] as const)
      await expect(read(data)).rejects.toThrow(message);
  });

  it('is written as it was read, and cut to another shape in its middle', async () => {
    const level = { width, height, samples: ramp };
    const file = new Uint8Array(await encodeGrey(level, 16).arrayBuffer());
    expect([...(await read(file)).samples]).toEqual([...ramp]);
    const cut = cropToAspect(level, 1);
    expect(cut).toMatchObject({ width: 20, height: 20 });
    expect(cut.samples[0]).toBe(ramp[8]);
    expect(cropToAspect(level, 4)).toMatchObject({ width: 37, height: 9 });
  });
});

describe('a recipe in files', () => {
  const recipe = parseRecipe({
    format: 'hazy-lens-recipe',
    version: 1,
    focus: {
      depthMap: { image: 'depth.png' },
      mattes: [{ id: 'm', image: 'matte.png' }],
    },
  });
  const fileOf = async (name: string): Promise<Blob> => new Blob([name]);
  const file = (content: Blob | Uint8Array | string, name: string): File =>
    new File([content as BlobPart], name);

  it('travels with its pictures and comes back whole', async () => {
    const { file: packed, extension } = await packRecipe(recipe, fileOf);
    expect(extension).toBe('.recipe.zip');
    const back = await unpackRecipe([file(packed, 'look.recipe.zip')], unzipHere);
    expect(back.recipe).toEqual(recipe);
    expect(await back.pictures.get('depth.png')!.text()).toBe('depth.png');
    const beside = await unpackRecipe([file('x', 'depth.png'), file(JSON.stringify(recipe), 'look.json')]);
    expect([...beside.pictures.keys()]).toEqual(['depth.png']);
    const plain = parseRecipe({ format: 'hazy-lens-recipe', version: 1 });
    expect((await packRecipe(plain, fileOf)).extension).toBe('.recipe.json');
    const renamed = renameReferences(recipe, new Map([['depth.png', 'a.png']]));
    expect(referencedFiles(renamed)).toEqual(['a.png', 'matte.png']);
    expect(referencedFiles(recipe)).toEqual(['depth.png', 'matte.png']);
  });

  it('is refused in plain words where it is not one', async () => {
    const cases: [File[], RegExp][] = [
      [[file('x', 'a.png')], /no recipe among/],
      [[file(zipSync({ 'other.txt': new Uint8Array(3) }), 'a.zip')], /holds no recipe\.json/],
      [[file(new Uint8Array([0x50, 0x4b, 3, 4, 9, 9]), 'a.zip')], /damaged|holds no/],
      [[file('{', 'a.json')], /Not valid JSON/],
      [[file(zipThatClaims(700_000_000), 'a.zip')], /far more/],
    ];
    for (const [files, message] of cases)
      await expect(unpackRecipe(files, unzipHere)).rejects.toThrow(message);
    for (const image of ['../x.png', '/etc/x.png', 'C:\\x.png', ''])
      expect(() =>
        parseRecipe({ format: 'hazy-lens-recipe', version: 1, focus: { depthMap: { image } } }),
      ).toThrow(/focus\.depthMap\.image/);
  });
});
