// Traces the demo's balloons as cut-outs: npm run demo -- balloons
import sharp from 'sharp';
import { takeBytes } from './demo-bytes.mjs';

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
