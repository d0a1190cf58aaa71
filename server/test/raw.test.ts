import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { type RawPreview, developRaw, fromLinear, kindOf, toLinear } from '@hazy-lens/core';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type RawWish, type SceneLight, rawFile } from '../../core/test/raw-file';
import { InputError } from '../src/render/picture';
import { decodeRawFile, rawLibrary } from '../src/render/raw';

const program = fileURLToPath(new URL('../dist/render.mjs', import.meta.url));
const demo = fileURLToPath(new URL('../../demo/pictures/tram-loop.jpg', import.meta.url));
const [W, H] = [360, 240];
/** Linear light of Display P3 to that of sRGB, row by row. */
const P3_TO_SRGB = [1.22494, -0.22494, 0, -0.042057, 1.042057, 0, -0.019638, -0.078636, 1.098274];

describe('raw files', () => {
  let folder: string;
  const at = (name: string): string => join(folder, name);
  let scene: SceneLight;

  beforeAll(async () => {
    folder = mkdtempSync(join(tmpdir(), 'hazy-lens-raw-'));
    // What a lens lets through of the demo’s town: no finer than two of the sensor’s places.
    const { data } = await sharp(demo)
      .resize(W, H)
      .blur(1.6)
      .removeAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    scene = (x, y) =>
      [0, 1, 2].map((c) => toLinear(data[(y * W + x) * 3 + c]! / 255)) as [number, number, number];
  });
  afterAll(() => rmSync(folder, { recursive: true }));

  /** PSNR of developed pixels against the scene’s own light, coded, away from the edges. */
  const against = ({ data }: { data: Buffer }): number => {
    const samples = new Uint16Array(data.buffer, data.byteOffset, W * H * 3);
    let sum = 0;
    let count = 0;
    for (let y = 6; y < H - 6; y++)
      for (let x = 6; x < W - 6; x++)
        for (const [c, light] of scene(x, y).entries()) {
          sum += (samples[(y * W + x) * 3 + c]! / 65535 - fromLinear(light)) ** 2;
          count++;
        }
    return -10 * Math.log10(sum / count);
  };

  it('are developed to the light of their scene, with white balance as shot', async () => {
    for (const neutral of [
      [0.5, 1, 0.6],
      [0.8, 1, 0.35],
    ] as const) {
      const clean = await decodeRawFile(
        Buffer.from(rawFile({ width: W, height: H, light: scene, neutral })),
        'a.dng',
      );
      const db = against(clean);
      console.log(`raw, neutral ${neutral.join(' ')}: ${db.toFixed(1)} dB`);
      expect(clean).toMatchObject({ width: W, height: H, format: { channels: 3, bytes: 2 } });
      expect(db).toBeGreaterThan(34);
    }
    const noise = { dark: 0.002, photons: 4000 };
    const grainy = await decodeRawFile(
      Buffer.from(rawFile({ width: W, height: H, light: scene, noise })),
      'b.dng',
    );
    console.log(`raw with the noise of a sensor: ${against(grainy).toFixed(1)} dB`);
    expect(against(grainy)).toBeGreaterThan(28);
  });

  it('keep white white, and black black', async () => {
    const light: SceneLight = (x) => (x < W / 2 ? [0, 0, 0] : [1.5, 1.5, 1.5]);
    const { data } = await decodeRawFile(Buffer.from(rawFile({ width: W, height: H, light })), 'a.dng');
    const samples = new Uint16Array(data.buffer, data.byteOffset, W * H * 3);
    const pixel = (x: number): number[] => [...samples.subarray((120 * W + x) * 3, (120 * W + x) * 3 + 3)];
    expect(Math.max(...pixel(40))).toBeLessThan(300);
    expect(Math.min(...pixel(W - 40))).toBeGreaterThan(65_000);
  });

  it('keep colours beyond sRGB where they are wanted', async () => {
    const light: SceneLight = (x) => (x < W / 2 ? [0.7, 0.02, 0.05] : [0.05, 0.6, 0.03]);
    const file = Buffer.from(rawFile({ width: W, height: H, light, primaries: 'display-p3' }));
    const lightAt = ({ data, gain }: { data: Buffer; gain: number }, x: number): number[] => {
      const samples = new Uint16Array(data.buffer, data.byteOffset, W * H * 3);
      return [0, 1, 2].map((c) => gain * toLinear(samples[(120 * W + x) * 3 + c]! / 65535));
    };
    const wide = await decodeRawFile(file, 'a.dng', true);
    expect(wide.primaries).toBe('display-p3');
    for (const x of [60, W - 60])
      lightAt(wide, x).forEach((value, c) => expect(Math.abs(value - light(x, 0)[c]!)).toBeLessThan(0.01));
    // sRGB has less green than none there.
    const plain = await decodeRawFile(file, 'a.dng');
    expect(plain).toMatchObject({ primaries: 'srgb', gain: 1 });
    expect(lightAt(plain, 60)[1]).toBeLessThan(0.001);
    writeFileSync(at('wide.dng'), file);
    writeFileSync(at('none.json'), JSON.stringify({ format: 'hazy-lens-recipe', version: 1 }));
    const args = ['--recipe', at('none.json'), '--in', at('wide.dng'), '--out', at('wide.png')];
    expect(spawnSync(process.execPath, [program, ...args, '--space', 'display-p3']).status).toBe(0);
    const image = sharp(at('wide.png'), { ignoreIcc: true });
    const { data } = await image.toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer({ resolveWithObject: true }); // prettier-ignore
    lightAt({ data, gain: 1 }, 60).forEach((value, c) =>
      expect(Math.abs(value - light(60, 0)[c]!)).toBeLessThan(0.01),
    );
  });

  it('show the preview in them, long before they are developed', async () => {
    const bytes = await sharp(demo).resize(120, 80).jpeg().toBuffer();
    const preview = { width: 120, height: 80, bytes };
    const light: SceneLight = () => [0.2, 0.2, 0.2];
    const library = await rawLibrary();
    const heard: RawPreview[] = [];
    const develop = (wish: Partial<RawWish>): void => {
      const file = rawFile({ width: W, height: H, light, ...wish });
      const onPreview = (found: RawPreview): void => void heard.push(found);
      developRaw(library, file, { isWide: true, check: () => undefined, onPreview });
    };
    develop({ preview });
    develop({ preview, orientation: 6 });
    const previews = await Promise.all(heard.map((found) => sharp(found).metadata()));
    expect(previews).toMatchObject([
      { format: 'jpeg', width: 120, height: 80, orientation: 1 },
      { format: 'jpeg', width: 120, height: 80, orientation: 6 },
    ]);
    develop({});
    develop({ preview: { ...preview, bytes: bytes.subarray(20, 60) } });
    expect(heard.length).toBe(2);
  });

  it('stand upright', async () => {
    const light: SceneLight = (x, y) => (x < 20 && y < 20 ? [0.8, 0.1, 0.1] : [0.2, 0.2, 0.2]);
    const file = Buffer.from(rawFile({ width: W, height: H, light, orientation: 6 }));
    const { width, height, data } = await decodeRawFile(file, 'a.dng');
    expect([width, height]).toEqual([H, W]);
    const samples = new Uint16Array(data.buffer, data.byteOffset, W * H * 3);
    // Turned clockwise: the first corner comes to the upper right.
    expect(samples[(10 * width + width - 10) * 3]).toBeGreaterThan(50_000);
    expect(samples[(10 * width + 10) * 3]).toBeLessThan(40_000);
  });

  it('are told from TIFFs by what is in them, and by their names', () => {
    const dng = rawFile({ width: 8, height: 8, light: () => [0, 0, 0] });
    expect(kindOf(dng)).toBe('raw');
    expect(kindOf(dng.subarray(0, 64))).toBe('tiff');
    expect(kindOf(dng.subarray(0, 64), 'walk.DNG')).toBe('raw');
    const tiff = Buffer.from('49492a0008000000000000000000', 'hex');
    expect(kindOf(tiff, 'walk.tif')).toBe('tiff');
    expect(kindOf(tiff, 'walk.nef')).toBe('raw');
    expect(kindOf(Buffer.from('FUJIFILMCCD-RAW 0201'))).toBe('raw');
    expect(kindOf(Buffer.from('\0\0\0\x18ftypcrx \0\0\0\x01', 'latin1'))).toBe('raw');
    expect(kindOf(Buffer.from('II*\0', 'latin1'))).toBe('tiff');
  });

  it('render by command line, alone and among others', async () => {
    const file = rawFile({ width: W, height: H, light: scene });
    writeFileSync(at('walk.dng'), file);
    writeFileSync(at('r.json'), JSON.stringify({ format: 'hazy-lens-recipe', version: 1 }));
    const render = (input: string, out: string) =>
      spawnSync(process.execPath, [program, '--recipe', at('r.json'), '--in', at(input), '--out', at(out)], {
        encoding: 'utf8',
      });
    expect(render('walk.dng', 'walk.png').status).toBe(0);
    expect(await sharp(at('walk.png')).metadata()).toMatchObject({ width: W, height: H, depth: 'ushort' });
    spawnSync('mkdir', [at('in')]);
    writeFileSync(at('in/one.dng'), file);
    await sharp(demo).resize(60).jpeg().toFile(at('in/two.jpg'));
    const { status, stderr } = render('in', 'out');
    expect(stderr).toBe('');
    expect(status).toBe(0);
    expect((await sharp(at('out/one.png')).metadata()).depth).toBe('ushort');
    expect((await sharp(at('out/two.jpg')).metadata()).width).toBe(60);
  });

  it('that are cut or spoiled are a sentence, never more', async () => {
    const whole = Buffer.from(rawFile({ width: 64, height: 48, light: () => [0.4, 0.5, 0.6] }));
    const sentence = async (file: Buffer): Promise<void> => {
      await decodeRawFile(file, 'walk.dng').then(
        ({ width, height }) => expect(width * height).toBeLessThan(2e8),
        (error: Error) => {
          expect(error).toBeInstanceOf(InputError);
          expect(error.message).toMatch(/^walk\.dng: [^\n]*\.$/);
        },
      );
    };
    for (let cut = 0; cut < whole.length; cut += Math.ceil(whole.length / 24))
      await sentence(whole.subarray(0, cut));
    for (let i = 0; i < 60; i++) {
      const spoiled = Buffer.from(whole);
      spoiled[(i * 7919) % 420] = (i * 73) & 255;
      await sentence(spoiled);
    }
    // One that lies about its size.
    const vast = Buffer.from(whole);
    for (const entry of [1, 2]) vast.writeUInt32LE(60_000, 8 + 2 + 12 * entry + 8);
    await expect(decodeRawFile(vast, 'walk.dng')).rejects.toBeInstanceOf(InputError);
    writeFileSync(at('walk.nef'), readFileSync(demo).subarray(2, 5000));
    await sentence(readFileSync(at('walk.nef')));
  }, 60_000);

  describe('with light beyond white', () => {
    const patches = [
      [0.5, 0.5, 0.5],
      [1.6, 0.4, 0.1],
      [0.3, 0.3, 1.5],
      [3, 3, 3],
      [1, 1, 1],
    ] as const;
    const [P, ROWS] = [40, 40];
    const lamps = (): Uint8Array<ArrayBuffer> =>
      rawFile({ width: P * patches.length, height: ROWS, light: (x) => patches[Math.floor(x / P)]! });
    /** Linear light of the middle of each patch. */
    const lightOf = (samples: ArrayLike<number>): number[][] =>
      patches.map((_, i) => {
        const at = 3 * ((ROWS / 2) * P * patches.length + i * P + P / 2);
        return [0, 1, 2].map((c) => toLinear(samples[at + c]! / 65535));
      });
    const rendered = async (name: string, recipe: object): Promise<Uint16Array> => {
      writeFileSync(at('lamps.dng'), lamps());
      writeFileSync(at('r.json'), JSON.stringify({ format: 'hazy-lens-recipe', version: 1, ...recipe }));
      const args = ['--recipe', at('r.json'), '--in', at('lamps.dng'), '--out', at(name)];
      const { status, stderr } = spawnSync(process.execPath, [program, ...args], { encoding: 'utf8' });
      expect([status, stderr]).toEqual([0, '']);
      const raw = await sharp(at(name), { ignoreIcc: true })
        .toColourspace('rgb16')
        .raw({ depth: 'ushort' })
        .toBuffer();
      return new Uint16Array(raw.buffer, raw.byteOffset, raw.length / 2);
    };

    it('keep it as far as the sensor saw it; where it saw no more, it is white', async () => {
      const { data, gain, primaries } = await decodeRawFile(Buffer.from(lamps()), 'a.dng', true);
      expect(primaries).toBe('display-p3');
      expect(gain).toBeCloseTo(2, 4);
      const wide = lightOf(new Uint16Array(data.buffer, data.byteOffset, data.length / 2));
      const made = wide.map((light) =>
        [0, 1, 2].map((c) => light.reduce((sum, value, k) => sum + P3_TO_SRGB[3 * c + k]! * value, 0)),
      );
      for (const [i, exact] of patches.entries())
        for (const [c, value] of exact.entries()) {
          const due = i === 3 ? 2 : value;
          expect(Math.abs(gain * made[i]![c]! - due), `${i} ${c}`).toBeLessThan(0.03);
        }
      // Elements have none of it.
      const plain = await decodeRawFile(Buffer.from(lamps()), 'a.dng');
      expect(plain.gain).toBe(1);
    });

    it('show it as white, and have it where exposure takes it back', async () => {
      const plain = lightOf(await rendered('plain.png', {}));
      for (const [i, exact] of patches.entries())
        for (const [c, value] of exact.entries())
          expect(Math.abs(plain[i]![c]! - Math.min(1, value)), `${i} ${c}`).toBeLessThan(0.02);
      const dark = lightOf(await rendered('dark.tif', { colour: { exposure: -1 } }));
      expect(Math.abs(dark[1]![0]! - 0.8)).toBeLessThan(0.02);
      expect(Math.abs(dark[2]![2]! - 0.75)).toBeLessThan(0.02);
      expect(Math.abs(dark[0]![0]! - 0.25)).toBeLessThan(0.01);
    });

    it('have its energy in what is blurred', async () => {
      const soft = await rendered('soft.png', { focus: { rest: 1 }, blur: { radius: 0.04 } });
      // At the edge to the red lamp half of each: 0.5 and 1.6; a lamp that is cut off would give 0.75.
      const beside = toLinear(soft[3 * ((ROWS / 2) * P * patches.length + P - 2)]! / 65535);
      expect(beside).toBeGreaterThan(0.9);
    });
  });
});
