import { spawnSync } from 'node:child_process';
import {
  copyFileSync,
  linkSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import {
  type ExportPreset,
  crc32,
  defaultExportSettings,
  displayP3Profile,
  isP3Profile,
  isSrgbProfile,
  presetsText,
  readMetadata,
  tagTiff,
} from '@hazy-lens/core';
import { converter } from 'culori';
import { zipSync } from 'fflate';
import sharp from 'sharp';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';

const program = fileURLToPath(new URL('../dist/render.mjs', import.meta.url));
const heic = fileURLToPath(new URL('../../web/test/fixtures/tram-loop.heic', import.meta.url));

describe('files of the command line', () => {
  let folder: string;
  const at = (...path: string[]): string => join(folder, ...path);

  beforeEach(async () => {
    folder = mkdtempSync(join(tmpdir(), 'hazy-lens-'));
    mkdirSync(at('in'));
    writeFileSync(at('in', 'kites.png'), await picture('#884422').png().toBuffer());
  });
  afterEach(() => rmSync(folder, { recursive: true }));

  /** A PNG that says it is of 60000 x 60000 pixels. */
  const wide = async (): Promise<Buffer> => {
    const file = await picture('#000000').png().toBuffer();
    file.writeUInt32BE(60000, 16);
    file.writeUInt32BE(60000, 20);
    file.writeUInt32BE(crc32(file.subarray(12, 29)), 29);
    return file;
  };
  const picture = (background: string) =>
    sharp({ create: { width: 60, height: 40, channels: 3, background } });
  const render = (recipe: object, input: string, out: string, ...more: string[]) => {
    writeFileSync(at('recipe.json'), JSON.stringify({ format: 'hazy-lens-recipe', version: 1, ...recipe }));
    const args = ['--recipe', at('recipe.json'), '--in', at(input), '--out', at(out), ...more];
    return spawnSync(process.execPath, [program, ...args, '--workers', '1'], { encoding: 'utf8' });
  };

  it('are never written over what is read, by whatever name it is reached', () => {
    const before = readFileSync(at('in', 'kites.png'));
    symlinkSync(at('in'), at('link'));
    symlinkSync(at('in', 'kites.png'), at('soft.png'));
    linkSync(at('in', 'kites.png'), at('hard.png'));
    for (const [input, out, ...more] of [
      ['in/kites.png', 'in/kites.png'],
      ['in/kites.png', 'in/../in/kites.png'],
      ['in/kites.png', 'soft.png'],
      ['in/kites.png', 'hard.png'],
      ['in', 'in'],
      ['in', 'link'],
      ['in/kites.png', 'recipe.json'],
      ['in/kites.png', 'good.png', '--map', at('in', 'kites.png')],
    ] as const) {
      const { status, stderr } = render({}, input, out, ...more);
      expect(status, `${input} ${out}`).toBe(2);
      expect(stderr).toMatch(/would be overwritten\. Choose another place\.\n$/);
    }
    expect(Buffer.compare(readFileSync(at('in', 'kites.png')), before)).toBe(0);
    expect(JSON.parse(readFileSync(at('recipe.json'), 'utf8'))).toMatchObject({ version: 1 });
  });

  it('of every kind in a folder are read, and what is none is named', async () => {
    writeFileSync(at('in', 'roof.gif'), await picture('#224488').gif().toBuffer());
    copyFileSync(heic, at('in', 'phone.HEIC'));
    writeFileSync(at('in', 'notes.txt'), 'noon');
    writeFileSync(at('in', '.hidden'), '');
    const { status, stderr } = render({}, 'in', 'out');
    expect(status).toBe(0);
    expect(stderr).toBe('notes.txt: left out, it is no picture.\n');
    expect(readdirSync(at('out')).sort()).toEqual(['kites.png', 'phone.png', 'roof.png']);
    const [r, , b] = await sharp(at('out', 'roof.png')).raw().toBuffer();
    expect([r, b]).toEqual([0x22, 0x88]);
  });

  it('are given up where they are no files, bombs or lies, each by its name and soon', async () => {
    spawnSync('mkfifo', [at('pipe.png')]);
    symlinkSync('/dev/zero', at('endless.png'));
    writeFileSync(at('drawn.svg'), '<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"/>');
    writeFileSync(at('named.png'), readFileSync(at('drawn.svg')));
    writeFileSync(at('large.png'), await wide());
    const spoiled = await picture('#224466').png().toBuffer();
    spoiled[spoiled.indexOf('IDAT') + 4 + spoiled.readUInt32BE(spoiled.indexOf('IDAT') - 4)]! ^= 1;
    writeFileSync(at('spoiled.png'), spoiled);
    for (const [input, words] of [
      ['pipe.png', 'isn’t a regular file'],
      ['endless.png', 'isn’t a regular file'],
      ['drawn.svg', 'can’t be read as a picture'],
      ['named.png', 'can’t be read as a picture'],
      ['spoiled.png', 'can’t be read as a picture: the PNG is damaged (a checksum is wrong)'],
      ['large.png', 'It is 60000 x 60000 pixels'],
    ] as const) {
      const { status, stderr } = render({}, input, 'out.png');
      expect([status, stderr], input).toEqual([2, expect.stringContaining(`${input}: ${words}`)]);
    }
    for (const [image, words] of [
      ['large.png', 'It is 60000 x 60000 pixels'],
      ['pipe.png', 'isn’t a regular file'],
    ] as const)
      for (const focus of [{ depthMap: { image } }, { mattes: [{ id: 'm', image }] }]) {
        const { status, stderr } = render({ focus }, 'in/kites.png', 'out.png');
        expect([status, stderr]).toEqual([
          2,
          expect.stringMatching(new RegExp(`${image}: ${words}.*used by`)),
        ]);
      }
    const look = render({ colour: { look: { image: 'endless.png' } } }, 'in/kites.png', 'out.png');
    expect(look.stderr).toMatch(/endless\.png: isn’t a regular file.*colour\.look\.image names it/);
  });

  it('of a zip are unpacked one by one; what is too much, encrypted or damaged is named, the others are made', async () => {
    const good = readFileSync(at('in', 'kites.png'));
    const zip = zipSync({ 'bomb.png': good, 'broken.png': good, 'kites.png': good, 'secret.png': good });
    const view = new DataView(zip.buffer, zip.byteOffset);
    let entry = view.getUint32(zip.length - 6, true);
    const next = (): void => void (entry += 46 + view.getUint16(entry + 28, true));
    view.setUint32(entry + 24, 2_000_000_000, true);
    next();
    view.setUint32(entry + 16, 1, true);
    next();
    next();
    view.setUint16(entry + 8, 1, true);
    writeFileSync(at('in.zip'), zip);
    const { status, stderr } = render({}, 'in.zip', 'out');
    expect(status).toBe(3);
    expect(stderr).toBe(
      'bomb.png: unpacks to 2000 MB, far more than a picture.\n' +
        'broken.png: can’t be unpacked. The zip is damaged or cut short.\n' +
        'secret.png: can’t be unpacked. It is encrypted: unpack the zip with its password first.\n',
    );
    expect(readdirSync(at('out'))).toEqual(['kites.png']);
  });

  it('and fields of any length and content are told of in one short line', () => {
    const { stderr } = render({ ['\u202e\u001b[2J'.repeat(1000)]: 1 }, 'in/kites.png', 'out.png');
    expect(stderr).toMatch(/^[^\p{Cc}\p{Cf}]{20,400}\n$/u);
    expect(stderr).toContain('isn’t a field of a recipe');
  });

  it('of recipes may begin with a mark, and be of UTF-16', () => {
    const recipe = JSON.stringify({ format: 'hazy-lens-recipe', version: 1 });
    writeFileSync(at('marked.json'), Buffer.from(`\ufeff${recipe}`, 'utf16le'));
    const args = ['--recipe', at('marked.json'), '--in', at('in/kites.png'), '--out', at('out.png')];
    const { status, stderr } = spawnSync(process.execPath, [program, ...args], { encoding: 'utf8' });
    expect([status, stderr]).toEqual([0, '']);
  });

  it('of one name get names of their own', async () => {
    const [one, two] = [
      await picture('#ff0000').png().toBuffer(),
      await picture('#00ff00').jpeg().toBuffer(),
    ];
    const files = { 'a/kites.png': one, 'b/kites.png': one, 'b/KITES.png': one, 'b/kites.jpg': two };
    writeFileSync(at('in.zip'), zipSync(files));
    expect(render({}, 'in.zip', 'out').status).toBe(0);
    const names = readdirSync(at('out'));
    expect(names).toHaveLength(4);
    expect(new Set(names.map((name) => name.toLowerCase().replace(/\.\w+$/, ''))).size).toBe(4);
  });

  it('get a recipe’s look, and what belongs to its own picture only where that is asked for', async () => {
    const recipe = {
      tidy: { crop: { size: [0.5, 0.5] } },
      focus: { mattes: [{ id: 'm', image: 'gone.png' }] },
    };
    const sizeOf = async (path: string): Promise<number> => (await sharp(path).metadata()).width;
    expect(render(recipe, 'in', 'out').status).toBe(0);
    expect(await sizeOf(at('out', 'kites.png'))).toBe(60);
    expect(render(recipe, 'in', 'cropped', '--parts', 'tidy,focus').status).toBe(0);
    expect(await sizeOf(at('cropped', 'kites.png'))).toBe(30);
    // For a picture by itself the recipe is all its own.
    const alone = render(recipe, 'in/kites.png', 'alone.png');
    expect(alone.status).toBe(2);
    expect(alone.stderr).toContain('gone.png');
    expect(render(recipe, 'in', 'wrong', '--parts', 'everything').stderr).toContain(
      '--parts: must be all, or some of tidy,focus,subjects,elements,blur,colour,finish,pace, not "everything"',
    );
  });

  it.each(['jpg', 'png', 'webp', 'tif', 'avif'])(
    'keep author and XMP, without place, in .%s',
    async (ending) => {
      const XMP =
        '<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF><dc:creator>A. Maker</dc:creator></rdf:RDF></x:xmpmeta>';
      const came = await picture('#884422')
        .withExif({
          IFD0: { Artist: 'A. Maker' },
          IFD2: { DateTimeOriginal: '2031:05:04 10:20:30' },
          IFD3: { GPSLatitudeRef: 'N', GPSLatitude: '47/1 30/1 0/1' },
        })
        .withXmp(XMP)
        .jpeg()
        .toBuffer();
      writeFileSync(at('came.jpg'), came);
      const made = (out: string, ...more: string[]) => {
        const { status, stderr } = render({ blur: { radius: 0.01 } }, 'came.jpg', out, ...more);
        expect(stderr).toBe('');
        expect(status).toBe(0);
        return readMetadata(readFileSync(at(out)));
      };
      const { exif, xmp } = made(`kept.${ending}`);
      const text = Buffer.from(exif!).toString('latin1');
      expect(text).toContain('A. Maker');
      expect(text).toContain('2031:05:04');
      expect(xmp).toContain('A. Maker');
      expect((await sharp(at(`kept.${ending}`)).metadata()).width).toBe(60);
      const none = made(`none.${ending}`, '--metadata', 'none');
      expect(none.xmp).toBeNull();
      expect(Buffer.from(none.exif ?? []).toString('latin1')).not.toContain('A. Maker');
    },
  );

  it('without pixels are refused', () => {
    const tiff = Buffer.from('49492a0008000000010000010300010000003c000000' + '00000000', 'hex');
    writeFileSync(at('empty.tif'), tiff);
    const { status, stderr } = render({}, 'empty.tif', 'out.png');
    expect(status).toBe(2);
    expect(stderr).toBe(`${at('empty.tif')}: the TIFF holds no pixels.\n`);
  });

  describe('of Display P3', () => {
    /** A red that sRGB has not, a grey and a green, as P3 has them. */
    const colours = [
      [250, 12, 30],
      [120, 120, 120],
      [20, 235, 40],
    ] as const;
    const p3 = async (deep: boolean): Promise<Buffer> => {
      const samples = Array.from({ length: 60 * 40 }, (_, i) => colours[Math.floor((i % 60) / 20)]!).flat();
      const raw = { width: 60, height: 40, channels: 3 } as const;
      const image = deep
        ? sharp(
            Uint16Array.from(samples, (value) => value * 257 - 3),
            { raw },
          ).toColourspace('rgb16')
        : sharp(Uint8Array.from(samples), { raw });
      return Buffer.from(tagTiff(await image.tiff({ compression: 'none' }).toBuffer(), displayP3Profile()));
    };
    const samplesOf = async (path: string, deep = false): Promise<number[]> => {
      const image = sharp(path, { ignoreIcc: true });
      if (!deep) return [...(await image.raw().toBuffer())];
      const { buffer, byteOffset, length } = await image
        .toColourspace('rgb16')
        .raw({ depth: 'ushort' })
        .toBuffer();
      return [...new Uint16Array(buffer, byteOffset, length / 2)];
    };
    const spaceOf = async (path: string): Promise<string> => {
      const { icc } = await sharp(path).metadata();
      if (icc && isP3Profile(icc)) return 'p3';
      return !icc || isSrgbProfile(icc) ? 'srgb' : 'other';
    };

    it('keep their colours where they are wanted so: bit for bit at 16 bits and at 8', async () => {
      writeFileSync(at('wide.tif'), await p3(false));
      writeFileSync(at('deep.tif'), await p3(true));
      for (const ending of ['png', 'tif', 'jpg', 'webp', 'avif']) {
        expect(render({}, 'wide.tif', `kept.${ending}`, '--space', 'display-p3').stderr, ending).toBe('');
        expect(await spaceOf(at(`kept.${ending}`)), ending).toBe('p3');
      }
      expect(await samplesOf(at('kept.png'))).toEqual(await samplesOf(at('wide.tif')));
      expect(await samplesOf(at('kept.tif'))).toEqual(await samplesOf(at('wide.tif')));
      for (const ending of ['png', 'tif']) {
        const name = `deep-kept.${ending}`;
        expect(render({}, 'deep.tif', name, '--space', 'display-p3').stderr).toBe('');
        expect((await sharp(at(name)).metadata()).depth).toBe('ushort');
        expect(await spaceOf(at(name))).toBe('p3');
        expect(await samplesOf(at(name), true)).toEqual(await samplesOf(at('deep.tif'), true));
      }
    });

    it('become sRGB where nothing is said, as a library of colours has it; and sRGB becomes P3', async () => {
      writeFileSync(at('wide.tif'), await p3(false));
      expect(render({}, 'wide.tif', 'plain.png').stderr).toBe('');
      expect(await spaceOf(at('plain.png'))).toBe('srgb');
      const toRgb = converter('rgb');
      const toP3 = converter('p3');
      const held = (value: number): number => Math.round(255 * Math.min(1, Math.max(0, value)));
      const plain = await samplesOf(at('plain.png'));
      for (const [i, [r, g, b]] of colours.entries()) {
        const exact = toRgb({ mode: 'p3', r: r / 255, g: g / 255, b: b / 255 });
        const theirs = [exact.r, exact.g, exact.b].map(held);
        theirs.forEach((value, c) =>
          expect(Math.abs(plain[60 * i + c]! - value), `${i} ${c}`).toBeLessThan(2),
        );
      }
      expect(render({}, 'in/kites.png', 'p3.png', '--space', 'display-p3').stderr).toBe('');
      const [r, g, b] = [0x88, 0x44, 0x22].map((value) => value / 255) as [number, number, number];
      const exact = toP3({ mode: 'rgb', r, g, b });
      const made = await samplesOf(at('p3.png'));
      [exact.r, exact.g, exact.b].forEach((value, c) =>
        expect(Math.abs(made[c]! - held(value))).toBeLessThan(2),
      );
    });

    it('can be more saturated in P3 than in sRGB, each within its gamut', async () => {
      writeFileSync(at('wide.tif'), await p3(true));
      const colour = { saturation: 0.8 };
      expect(render({ colour }, 'wide.tif', 'more.tif', '--space', 'display-p3').stderr).toBe('');
      expect(render({ colour }, 'wide.tif', 'less.tif').stderr).toBe('');
      const [more, less] = [await samplesOf(at('more.tif'), true), await samplesOf(at('less.tif'), true)];
      // The grey stays; the green of P3, seen as sRGB, is clipped.
      for (const list of [more, less])
        for (let c = 0; c < 3; c++) expect(Math.abs(list[60 + c]! - (120 * 257 - 3))).toBeLessThan(40);
      expect(less[120]!).toBeLessThan(200);
      expect(more[121]! - Math.max(more[120]!, more[122]!)).toBeGreaterThan(50_000);
    });
  });

  it('are written with each preset of a file: size, kind, metadata, sharpening and name are its own', async () => {
    writeFileSync(at('in', 'roofs.png'), await picture('#225588').png().toBuffer());
    const presets: ExportPreset[] = [
      { ...defaultExportSettings(), name: 'web', clip: null, size: { by: 'long-edge', px: 30 } },
      {
        ...defaultExportSettings(),
        name: 'Print',
        clip: null,
        kind: 'tiff',
        bits: 16,
        sharpening: 1,
        pattern: '{number} {recipe}',
      },
    ];
    writeFileSync(at('presets.json'), presetsText(presets));
    const made = render({}, 'in', 'out', '--presets', at('presets.json'));
    expect([made.status, made.stderr]).toEqual([0, '']);
    expect(readdirSync(at('out'))).toEqual(['Print', 'web']);
    expect(readdirSync(at('out', 'web'))).toEqual(['kites edit.jpg', 'roofs edit.jpg']);
    expect(readdirSync(at('out', 'Print'))).toEqual(['01 recipe.tif', '02 recipe.tif']);
    const web = await sharp(at('out', 'web', 'kites edit.jpg')).metadata();
    expect([web.width, web.height, web.chromaSubsampling]).toEqual([30, 20, '4:2:0']);
    const print = await sharp(at('out', 'Print', '02 recipe.tif')).metadata();
    expect([print.width, print.depth]).toEqual([60, 'ushort']);
    const lines = made.stdout.trim().split('\n');
    expect(lines.map((line) => (JSON.parse(line) as { name: string }).name)).toEqual([
      'web/kites edit.jpg',
      'Print/01 recipe.tif',
      'web/roofs edit.jpg',
      'Print/02 recipe.tif',
    ]);
    // One preset lies in the folder itself, and a picture alone is written, too.
    writeFileSync(at('presets.json'), presetsText(presets.slice(0, 1)));
    expect(render({}, 'in/kites.png', 'one', '--presets', at('presets.json')).status).toBe(0);
    expect(readdirSync(at('one'))).toEqual(['kites edit.jpg']);
  });

  it('refuse presets that cannot be, in sentences', () => {
    const says = (out: string, ...more: string[]) =>
      render({}, 'in', out, '--presets', at('presets.json'), ...more).stderr;
    expect(says('out')).toContain('presets.json: file not found');
    writeFileSync(at('presets.json'), '{"format":"hazy-lens-presets","version":1,"presets":[{"name":"a"}]}');
    expect(says('out')).toMatch(/presets\.json: presets\.0\.kind/);
    writeFileSync(at('presets.json'), presetsText([{ ...defaultExportSettings(), name: 'web', clip: null }]));
    expect(says('out.png')).toContain('must be a folder');
    expect(says('out', '--bits', '16')).toContain('--bits: can’t be combined with --presets');
    expect(says('in')).toContain('would be overwritten');
    expect(says('out.mp4')).toContain('must be a folder');
  });

  it('has 16 bits or 8 by choice, marked as sRGB, with the same colours', async () => {
    const grey = await sharp({ create: { width: 40, height: 30, channels: 3, background: '#7a3c10' } })
      .png()
      .toBuffer();
    writeFileSync(at('plain.png'), grey);
    for (const [ending, bits, depth] of [
      ['png', '16', 'ushort'],
      ['tif', '16', 'ushort'],
      ['png', '8', 'uchar'],
      ['jpg', '16', 'uchar'],
    ] as const) {
      const out = `bits-${bits}.${ending}`;
      expect(render({}, 'plain.png', out, '--bits', bits).status).toBe(0);
      const meta = await sharp(at(out)).metadata();
      expect(meta).toMatchObject({ depth, channels: 3 });
      if (ending === 'tif') expect(meta.icc?.length).toBeGreaterThan(100);
      if (depth !== 'ushort') continue;
      const samples = await sharp(at(out), { ignoreIcc: true })
        .toColourspace('rgb16')
        .raw({ depth: 'ushort' })
        .toBuffer();
      const first = new Uint16Array(samples.buffer, samples.byteOffset, 3);
      for (const [c, value] of [0x7a, 0x3c, 0x10].entries())
        expect(Math.abs(first[c]! - value * 257)).toBeLessThanOrEqual(1);
    }
    expect(render({}, 'plain.png', 'x.png', '--bits', '12').stderr).toContain('--bits: must be 8 or 16');
  });

  it('writes the chroma of a JPEG as it is wanted', async () => {
    for (const [chroma, found] of [
      ['420', '4:2:0'],
      ['444', '4:4:4'],
    ] as const) {
      expect(render({}, 'in/kites.png', `c${chroma}.jpg`, '--chroma', chroma).status).toBe(0);
      expect((await sharp(at(`c${chroma}.jpg`)).metadata()).chromaSubsampling).toBe(found);
    }
  });

  it('helps, with examples and what its ends mean', () => {
    const { status, stdout } = spawnSync(process.execPath, [program, '--help'], { encoding: 'utf8' });
    expect(status).toBe(0);
    for (const name of ['--recipe', '--bits', '--chroma', 'Examples', 'Ends with 0'])
      expect(stdout).toContain(name);
  });
});
