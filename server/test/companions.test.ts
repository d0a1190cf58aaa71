import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  NO_ASSETS,
  NO_METADATA,
  type Recipe,
  identityLut,
  formatCube,
  fieldOf,
  parseRecipe,
  sampleRaster,
  resolveTidiedRecipe,
} from '@hazy-lens/core';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { liftedOff, loadCompanions } from '../src/render/companions';
import type { Decoded } from '../src/render/picture';

const [width, height] = [60, 40];
const picture: Decoded = {
  width,
  height,
  format: { channels: 3, bytes: 1 },
  data: Buffer.from(
    Uint8Array.from({ length: width * height * 3 }, (_, i) => (Math.floor(i / 3) % width < 30 ? 40 : 210)),
  ),
  metadata: NO_METADATA,
  primaries: 'srgb',
  gain: 1,
  parts: null,
};
/** Threads that none is asked for work: filling in runs in this one. */
const alone = {
  runners: [],
  module: WebAssembly.compile(await readFile(new URL('../../core/dist/kernels.wasm', import.meta.url))),
};
const recipe = (parts: object): Recipe => parseRecipe({ format: 'hazy-lens-recipe', version: 1, ...parts });

describe('the files that a recipe names', () => {
  let folder: string;
  beforeAll(async () => {
    folder = await mkdtemp(join(tmpdir(), 'hazy-lens-'));
    const ramp = Uint16Array.from({ length: width * height }, (_, i) => ((i % width) / (width - 1)) * 65535);
    const deep = sharp(ramp, { raw: { width, height, channels: 1 } }).toColourspace('grey16');
    const bytes = Uint8Array.from(ramp, (v) => v >> 8);
    const shallow = sharp(bytes, { raw: { width, height, channels: 1 } }).toColourspace('b-w');
    const files: Record<string, Buffer | string> = {
      'deep.png': await deep.clone().png().toBuffer(),
      'deep.tif': await deep.clone().tiff({ compression: 'lzw' }).toBuffer(),
      'shallow.png': await shallow.clone().png().toBuffer(),
      'palette.png': await shallow.clone().png({ palette: true }).toBuffer(),
      'clear.png': await shallow.clone().ensureAlpha(0.5).png().toBuffer(),
      'white.png': await sharp({ create: { width: 8, height: 8, channels: 3, background: '#ffffff' } })
        .png()
        .toBuffer(),
      'text.png': 'no picture',
      'own.cube': formatCube('own', 3, identityLut(3).samples),
      'cut.cube': formatCube('own', 3, identityLut(3).samples).slice(0, -30),
      'cut.png': (await deep.clone().png().toBuffer()).subarray(0, 90),
    };
    for (const [name, content] of Object.entries(files)) await writeFile(join(folder, name), content);
  });
  afterAll(() => rm(folder, { recursive: true }));

  const load = (focus: object) => loadCompanions(recipe({ focus }), join(folder, 'recipe.json'), picture);
  const depthAt = async (image: string, fx: number, more: object = {}): Promise<number> =>
    sampleRaster((await load({ depthMap: { image, ...more } })).depth!.levels[0], fx, 0.5);

  it('are read from every kind of grey picture, relative to the recipe', async () => {
    for (const image of ['deep.png', 'deep.tif', 'shallow.png', 'palette.png'])
      for (const fx of [0.1, 0.5, 0.9])
        expect(await depthAt(image, fx), image).toBeCloseTo((fx * 60 - 0.5) / 59, 1);
    expect(await depthAt('clear.png', 0.9)).toBeLessThan(0.6);
  });

  it('are not read where they are switched off', async () => {
    const off = {
      depthMap: { image: 'gone.png', on: false },
      mattes: [{ id: 'm', image: 'gone.png', on: false }],
    };
    expect(await load(off)).toEqual(NO_ASSETS);
    expect(await load({ on: false, depthMap: { image: 'gone.png' } })).toEqual(NO_ASSETS);
  });

  it('are drawn to the edges of the picture where the recipe says so', async () => {
    // The ramp has no edge; the picture has one in its middle.
    const step = async (align: number): Promise<number> =>
      (await depthAt('deep.png', 31 / 60, { align })) - (await depthAt('deep.png', 29 / 60, { align }));
    expect(await step(1)).toBeGreaterThan((await step(0)) * 1.2);
  });

  it('join as mattes at the size of the picture', async () => {
    const { keep } = await load({
      mattes: [
        { id: 'a', image: 'white.png' },
        { id: 'b', image: 'shallow.png', combine: 'subtract' },
      ],
    });
    expect(sampleRaster(keep[0]!.raster.levels[0], 0.1, 0.5)).toBeGreaterThan(0.85);
    expect(sampleRaster(keep[0]!.raster.levels[0], 0.95, 0.5)).toBeLessThan(0.1);
  });

  it('stand apart as mattes where one of them is carried over footage', async () => {
    const mattes = [
      { id: 'a', image: 'white.png' },
      { id: 'b', image: 'shallow.png', combine: 'subtract' },
      { id: 'c', image: 'white.png', on: false },
    ];
    const names = async (all: object[]): Promise<object[]> =>
      (await load({ mattes: all })).keep.map(({ matte, combine }) => [matte, combine]);
    expect(await names(mattes)).toEqual([[undefined, 'add']]);
    const carried = mattes.map((one) => (one.id === 'b' ? { ...one, carry: { shift: [0.1, 0] } } : one));
    expect(await names(carried)).toEqual([
      ['a', 'add'],
      ['b', 'subtract'],
    ]);
  });

  it('lift their subjects off the picture, which the haze map shows in their own haze', async () => {
    const subject = { id: 'm', image: 'shallow.png', lifted: true };
    const how = recipe({ focus: { mattes: [subject] } });
    const companions = await loadCompanions(how, join(folder, 'recipe.json'), picture);
    const lifted = async (parts: object, from = picture) =>
      [...(await liftedOff(from, recipe({ focus: { mattes: [{ ...subject, ...parts }] } }), companions.keep, alone)).keys()]; // prettier-ignore
    expect(await lifted({})).toEqual(['m']);
    for (const parts of [{ lifted: false }, { on: false }, { combine: 'subtract' }])
      expect(await lifted(parts)).toEqual([]);
    const parts = { premultiplied: new Uint16Array(4), alpha: new Uint16Array(4) };
    expect(await lifted({}, { ...picture, parts })).toEqual([]);
    // Rendered, the ground has its haze where the subject is; a map without it has the subject's.
    const all = { ...companions, lifted: await liftedOff(picture, how, companions.keep, alone) };
    const haze = (own: typeof companions): number =>
      fieldOf(resolveTidiedRecipe(how, picture, own).field, picture)(55, 20);
    expect(haze(all)).toBe(1);
    expect(haze(companions)).toBeLessThan(0.1);
  });

  it('are named, with the field, where they cannot be used', async () => {
    const cases: [object, RegExp][] = [
      [{ depthMap: { image: 'gone.png' } }, /gone\.png: file not found.*focus\.depthMap\.image/],
      [{ depthMap: { image: 'text.png' } }, /text\.png: can’t be read as a picture.*focus\.depthMap\.image/],
      [{ depthMap: { image: 'cut.png' } }, /cut\.png: can’t be read as a picture/],
      [
        { mattes: [{ id: 'a', image: 'white.png' }, { id: 'b', image: 'text.png' }] },
        /text\.png: can’t be read.*focus\.mattes\[1\]\.image/,
      ],
    ]; // prettier-ignore
    for (const [focus, message] of cases) await expect(load(focus)).rejects.toThrow(message);
  });

  it('may be a table of colours, which is named, with the field, where it cannot be used', async () => {
    const look = (image: string, on = true) =>
      loadCompanions(recipe({ colour: { on, look: { image } } }), join(folder, 'recipe.json'), picture);
    expect((await look('own.cube')).table).toMatchObject({ kind: 'lattice', size: 3 });
    expect((await look('gone.cube', false)).table).toBeNull();
    await expect(look('cut.cube')).rejects.toThrow(
      /cut\.cube: can’t be used as a table of colours\. It holds 26 colours.*colour\.look\.image/,
    );
    await expect(look('gone.cube')).rejects.toThrow(/gone\.cube: file not found.*colour\.look\.image/);
    await expect(look('deep.png')).rejects.toThrow(/deep\.png: can’t be used as a table/);
  });
});
