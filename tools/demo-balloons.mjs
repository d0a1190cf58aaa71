// Traces the demo's balloons as cut-outs: npm run demo -- balloons
import sharp from 'sharp';
import { mkdir, writeFile } from 'node:fs/promises';
import { takeBytes, takeDepth } from './demo-bytes.mjs';

const CLOTHS = ['ember', 'lagoon', 'plum'];

/** @param open gives a page with the generator. @param target the folder that the pictures go into. */
export async function traceBalloons(open, target) {
  const page = await open();
  for (const cloth of CLOTHS) {
    const { width, height } = await page.evaluate((name) => window.balloon(name), cloth);
    const rgba = await takeBytes(page, 'colours', width * height * 4);
    await sharp(rgba, { raw: { width, height, channels: 4 } })
      .png({ compressionLevel: 9 })
      .toFile(`${target}/balloon-${cloth}.png`);
  }
  await page.close();
}

/** Size as a share of the demo picture's, and the lens: each of the passes of light is seen from `places` places in it. */
const MEADOW = { scale: 0.1, lens: { aperture: 2.9, focus: 0.45, tilt: 0, places: 10 } };

/**
 * Photographs the town sharp, balloons for it each alone, and all through a thin lens, as the truth that elements are held to:
 * npm run demo -- meadow [--look] [--sharp]
 * @param isSharp only what needs no lens.
 */
export async function photographMeadow(open, target, look, isSharp) {
  await mkdir(target, { recursive: true });
  const page = await open();
  const { scale, lens } = MEADOW;
  const keep = async (file, { width, height }, hasAlpha) => {
    const colours = await takeBytes(page, 'colours', width * height * 4);
    const image = sharp(colours, { raw: { width, height, channels: 4 } }).flip();
    await (hasAlpha ? image : image.removeAlpha())
      .png({ compressionLevel: 9 })
      .toFile(`${target}/${file}.png`);
  };
  for (const [i, name] of ['far', 'middle', 'near'].entries())
    await keep(`meadow-${name}`, await page.evaluate(([s, k]) => window.cutBalloon(s, k), [scale, i]), true);
  const bare = await page.evaluate((s) => window.hang(s, null, false), scale);
  await keep('meadow', bare, false);
  await takeDepth(page, bare.width, bare.height, `${target}/meadow-depth.png`);
  if (isSharp) return page.close();
  const through = look ? { ...lens, places: 1 } : lens;
  const seen = await page.evaluate(([s, l]) => window.hang(s, l, true), [scale, through]);
  await keep('meadow-lens', seen, false);
  const { disc, depths } = seen;
  await writeFile(`${target}/meadow.json`, `${JSON.stringify({ ...lens, disc, depths }, null, 2)}\n`);
  await page.close();
}
