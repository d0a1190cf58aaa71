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
import { readMetadata } from '@hazy-lens/core';
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
      '--parts: must be all, or some of tidy,focus,subjects,blur,colour,finish,pace, not "everything"',
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
});
