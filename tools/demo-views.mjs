// Renders demo scenes from other viewpoints, with what is true of each: npm run demo -- views
import { mkdir, writeFile } from 'node:fs/promises';
import sharp from 'sharp';
import { takeBytes } from './demo-bytes.mjs';

/** Size as a share of the demo picture's, and the width of the files: made smaller, edges have no steps. */
const SCALES = { 'tram-loop': 0.3, glasshouses: 0.4, 'night-fair': 0.4 };
const WIDTH = 960;

/** From the ground to high above it; far and wide, and straight down. */
const VIEWS = {
  'tram-loop': [
    { eye: [16, 72, 112], towards: [0, 0, -27], fov: 37 },
    { eye: [-60, 95, 90], towards: [0, 0, -10], fov: 30 },
    { eye: [30, 40, 70], towards: [-5, 0, 0], fov: 45 },
    { eye: [0, 30, 120], towards: [0, 10, -60], fov: 40 },
    { eye: [8, 1.7, 26], towards: [0, 3, -30], fov: 55 },
    { eye: [-12, 4, 34], towards: [0, 6, -40], fov: 50 },
    { eye: [0, 140, 4], towards: [0, 0, 0], fov: 40 },
    { eye: [40, 20, 60], towards: [0, 4, -20], fov: 35 },
  ],
  glasshouses: [
    { eye: [-6, 14.5, 34], towards: [0.5, 0.3, -3], fov: 30 },
    { eye: [18, 24, 30], towards: [0, 0, -4], fov: 34 },
    { eye: [0, 1.6, 18], towards: [0, 1.6, -20], fov: 50 },
    { eye: [-20, 6, 24], towards: [0, 1, -10], fov: 40 },
    { eye: [2, 45, 3], towards: [2, 0, 0], fov: 36 },
    { eye: [0, 10, 40], towards: [0, 2, -30], fov: 28 },
  ],
  'night-fair': [
    { eye: [5, 17, 40], towards: [-0.5, 2.4, -16], fov: 34 },
    { eye: [-20, 34, 44], towards: [0, 0, -14], fov: 36 },
    { eye: [0, 1.7, 20], towards: [0, 2.4, -30], fov: 55 },
    { eye: [12, 6, 30], towards: [0, 3, -20], fov: 40 },
    { eye: [0, 60, -4], towards: [0, 0, -14], fov: 40 },
    { eye: [30, 22, 20], towards: [-4, 0, -18], fov: 38 },
  ],
};

/** @param open gives a page with the generator. @param target the folder that the pictures go into. */
export async function surveyDemo(open, target) {
  await mkdir(target, { recursive: true });
  const told = {};
  for (const [name, views] of Object.entries(VIEWS)) {
    const page = await open();
    for (const [i, view] of views.entries()) {
      const { width, height, truth } = await page.evaluate(
        ([n, s, v]) => window.survey(n, s, v),
        [name, SCALES[name], view],
      );
      const colours = await takeBytes(page, 'colours', width * height * 4);
      const file = `${name}-${i + 1}.jpg`;
      await sharp(colours, { raw: { width, height, channels: 4 } })
        .flip()
        .removeAlpha()
        .resize(WIDTH)
        .jpeg({ quality: 82, mozjpeg: true })
        .toFile(`${target}/${file}`);
      told[file] = { ...view, ...truth };
    }
    await page.close();
  }
  await writeFile(`${target}/views.json`, `${JSON.stringify(told, null, 2)}\n`);
}
