import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { zipSync } from 'fflate';
import sharp from 'sharp';

/** Small files of every kind that is read, made of the demo pictures. */
export async function seeds(root: string): Promise<[string, Uint8Array][]> {
  const picture = () => sharp(join(root, 'demo/pictures/night-fair.jpg')).resize(96, 64);
  const raw = await picture().raw().toBuffer();
  const deep = () =>
    sharp(
      Uint16Array.from(raw, (v) => v * 257),
      { raw: { width: 96, height: 64, channels: 3 } },
    ).toColourspace('rgb16');
  const grey = () => sharp(join(root, 'demo/pictures/night-fair-depth.png')).resize(96, 64).greyscale();
  const recipe = Buffer.from(
    JSON.stringify({
      format: 'hazy-lens-recipe',
      version: 1,
      focus: {
        soundings: [{ at: [0.2, 0.3], haze: 0.4 }],
        bands: [
          { id: 'a', kind: 'planar', profile: { knots: [[0.4, 0.2]] } },
          { id: 'b', kind: 'iris', mode: 'haze' },
        ],
        strokes: [{ mode: 'clear', points: [[0.1, 0.1, 0.5], [0.6, 0.4]] }], // prettier-ignore
      },
      blur: { radius: 0.02 },
      colour: { saturation: 0.3 },
    }),
  );
  const depth = await grey().png().toBuffer();
  const named = Buffer.from(
    JSON.stringify({
      format: 'hazy-lens-recipe',
      version: 1,
      focus: { depthMap: { image: 'depth.png' } },
    }),
  );
  return [
    ['a.jpg', await picture().jpeg().toBuffer()],
    ['progressive.jpg', await picture().jpeg({ progressive: true }).toBuffer()],
    ['profile.jpg', await picture().withIccProfile('p3').jpeg().toBuffer()],
    ['a.png', await picture().png().toBuffer()],
    ['alpha.png', await picture().ensureAlpha(0.5).png({ palette: true }).toBuffer()],
    ['deep.png', await deep().png().toBuffer()],
    ['a.webp', await picture().webp().toBuffer()],
    ['a.avif', await picture().avif({ effort: 0 }).toBuffer()],
    ['a.gif', await picture().gif().toBuffer()],
    ['a.tif', await picture().tiff({ compression: 'lzw' }).toBuffer()],
    ['tiled.tif', await picture().tiff({ compression: 'deflate', tile: true, tileWidth: 32, tileHeight: 32 }).toBuffer()], // prettier-ignore
    ['deep.tif', await deep().tiff({ compression: 'none' }).toBuffer()],
    ['jpeg.tif', await picture().tiff({ compression: 'jpeg' }).toBuffer()],
    ['fax.tif', await picture().greyscale().threshold().toColourspace('b-w').tiff({ bitdepth: 1, compression: 'ccittfax4' }).toBuffer()], // prettier-ignore
    ['cmyk.tif', await picture().toColourspace('cmyk').tiff({ compression: 'packbits' }).toBuffer()],
    ['depth.png', depth],
    ['a.heic', await readFile(join(root, 'web/test/fixtures/tram-loop.heic'))],
    ['look.json', recipe],
    ['look.zip', zipSync({ 'recipe.json': named, 'depth.png': depth })],
  ];
}
