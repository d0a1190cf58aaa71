import { areNumbered, evenTimes, inNaturalOrder, missingNumbers, bitrateFor } from '@hazy-lens/core';
import { unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { detectFootage } from '../src/app/engine/footage/detect-footage';
import { KeptFrames } from '../src/app/engine/kept-frames';
import { zipOf as zipOfParts } from '../src/app/engine/zip-of';
import { isRecipe } from '../src/app/project/recipes/recipe-files';
import { formatTimecode, typedFrame } from '../src/app/reel/timecode';

const zipOf = (files: readonly File[]): Promise<Blob> =>
  zipOfParts(files.map((file) => ({ name: file.name, file })));

describe('numbered pictures', () => {
  it('are known by names that differ in their number alone', () => {
    expect(areNumbered(['a 1.jpg', 'a 2.jpg', 'a 10.jpg'])).toBe(true);
    expect(areNumbered(['IMG_0001 copy.png', 'IMG_0002 copy.png', 'IMG_0003 copy.png'])).toBe(true);
    expect(areNumbered(['a1.jpg', 'a2.jpg'])).toBe(false);
    expect(areNumbered(['a1.jpg', 'b2.jpg', 'a3.jpg'])).toBe(false);
    expect(areNumbered(['a1.jpg', 'a01.jpg', 'a3.jpg'])).toBe(false);
    expect(areNumbered(['recipe.json', 'depth.png', 'matte.png'])).toBe(false);
  });

  it('are put in the order in which people count', () => {
    const names = ['f10.png', 'f9.png', 'f100.png', 'f1.png'];
    expect(inNaturalOrder(names.map((name) => ({ name }))).map(({ name }) => name)).toEqual([
      'f1.png',
      'f9.png',
      'f10.png',
      'f100.png',
    ]);
  });

  it('tell what is missing among them, and nothing where they go by tens', () => {
    const named = (...numbers: number[]): string[] => numbers.map((n) => `frame-${n}.png`);
    expect(missingNumbers(named(1, 2, 3))).toBeNull();
    expect(missingNumbers(named(1, 2, 4, 8))).toBe('3, 5–7');
    expect(missingNumbers(named(10, 20, 30))).toBeNull();
    expect(missingNumbers(named(10, 20, 50))).toBe('30–40');
    expect(missingNumbers(named(1, 3, 4, 6, 7, 9, 11, 13, 15, 17, 19))).toMatch(/and more$/);
    expect(missingNumbers(named(5))).toBeNull();
  });

  it('are kept as one zip, byte for byte', async () => {
    const files = ['a1.png', 'a2.png'].map((name, i) => new File([Uint8Array.of(i, 7, 9)], name));
    const zip = unzipSync(new Uint8Array(await (await zipOf(files)).arrayBuffer()));
    expect(Object.keys(zip)).toEqual(['a1.png', 'a2.png']);
    expect([...zip['a2.png']!]).toEqual([1, 7, 9]);
    expect(await isRecipe([new File([await zipOf(files)], 'frames.zip')])).toBe(false);
    const recipe = await zipOf([new File(['{}'], 'recipe.json')]);
    expect(await isRecipe([new File([recipe], 'look.zip')])).toBe(true);
    expect(await isRecipe([new File(['{}'], 'look.json')])).toBe(true);
    expect(await isRecipe(files)).toBe(false);
  });
});

describe('files that may hold footage', () => {
  const blob = (text: string): Blob => new Blob([Uint8Array.from(text, (c) => c.charCodeAt(0))]);

  it('are told apart by their first bytes', async () => {
    expect(await detectFootage(blob('\0\0\0\u0020ftypisom\0\0\0\0isomavc1'))).toBe('clip');
    expect(await detectFootage(blob('\0\0\0\u0014ftypqt  \0\0\0\0'))).toBe('clip');
    expect(await detectFootage(blob('\0\0\0\u0020ftypavif\0\0\0\0avifmif1'))).toBeNull();
    expect(await detectFootage(blob('\0\0\0\u0020ftypheic\0\0\0\0mif1heic'))).toBeNull();
    expect(await detectFootage(blob('\u001aE\u00df\u00a3\u0001\0'))).toBe('clip');
    expect(await detectFootage(blob('\0\0\0\u0008wide\0\0\0\0mdat'))).toBe('clip');
    expect(await detectFootage(blob('PK\u0003\u0004'))).toBe('zip');
    for (const text of ['', 'x', '\u00ff\u00d8\u00ff\u00e0', '\u0089PNG\r\n', 'II*\0'])
      expect(await detectFootage(blob(text))).toBeNull();
  });
});

describe('what a film takes', () => {
  it('grows with its size, its rate and its quality, less for thriftier codecs', () => {
    const size = { width: 1920, height: 1080 };
    const usual = bitrateFor(80, size, 30, 'avc');
    expect(usual).toBeGreaterThan(8e6);
    expect(usual).toBeLessThan(16e6);
    expect(bitrateFor(80, size, 60, 'avc')).toBeCloseTo(2 * usual, -2);
    expect(bitrateFor(60, size, 30, 'avc')).toBeCloseTo(usual / 2, -2);
    expect(bitrateFor(80, size, 30, 'av1')).toBeLessThan(bitrateFor(80, size, 30, 'vp9'));
  });

  it('is read as minutes, seconds and hundredths', () => {
    expect([0, 3.2, 59.999, 60, 754.5].map(formatTimecode)).toEqual([
      '0:00.00',
      '0:03.20',
      '1:00.00',
      '1:00.00',
      '12:34.50',
    ]);
  });

  it('is typed as seconds, with minutes and hours, with frames, or as the number of a frame', () => {
    const times = evenTimes(3000, 25);
    const frames = [
      '3.2',
      '0:03,2',
      '1:00',
      '1:02.5',
      '0:01:00',
      '0:00:03:12',
      '#120',
      '# 1',
      '9:00:00',
      '0',
    ];
    expect(frames.map((text) => typedFrame(text, times, 25))).toEqual([
      80, 80, 1500, 1562, 1500, 87, 119, 0, 2999, 0,
    ]);
    for (const text of ['', 'now', '1:2:3:4:5', '-3', '#', '1;2', '#0x'])
      expect(typedFrame(text, times, 25), text).toBeNull();
    // What is shown leads back to where it is.
    for (const i of [0, 1, 7, 1234, 2999]) expect(typedFrame(formatTimecode(i / 25), times, 25)).toBe(i);
  });
});

describe('rendered frames', () => {
  it('are kept as copies, and the oldest go when there are too many', () => {
    const kept = new KeptFrames(10);
    const pixels = new Uint8Array([1, 2, 3, 4]);
    const copy = kept.put('a', pixels);
    pixels.fill(9);
    expect([...copy]).toEqual([1, 2, 3, 4]);
    expect(kept.get('a')).toBe(copy);
    kept.put('b', pixels);
    kept.put('c', pixels);
    expect(kept.get('a')).toBeUndefined();
    expect(kept.get('c')).toBeDefined();
    kept.clear();
    expect(kept.get('c')).toBeUndefined();
  });
});
