// Photographs demo scenes through a thin lens, as the truth that blur is held to: npm run demo -- optical [--look] [--sharp]
import { mkdir, writeFile } from 'node:fs/promises';
import sharp from 'sharp';
import { takeBytes, takeDepth } from './demo-bytes.mjs';

/** Size as a share of the demo picture's, and what the lens is like. Each pass of light is seen from `places` places. */
const SCENES = {
  'tram-loop': {
    scale: 0.2,
    lenses: {
      lens: { aperture: 2.9, focus: 0.45, tilt: 0, places: 7 },
      tilted: { aperture: 1.1, focus: 0.45, tilt: 0.5, places: 7 },
    },
  },
  'night-fair': {
    scale: 4 / 15,
    lenses: { lens: { aperture: 1.05, focus: 0.47, tilt: 0, places: 10 } },
  },
};

/** @param open gives a page with the generator. @param target the folder that the pictures go into. @param isSharp only what needs no lens. */
export async function photographDemo(open, target, look, isSharp) {
  await mkdir(target, { recursive: true });
  const told = {};
  for (const [name, { scale, lenses }] of Object.entries(SCENES)) {
    const page = await open();
    const photograph = async (file, lens) => {
      const { width, height, disc } = await page.evaluate(
        ([n, s, l]) => window.photograph(n, s, l),
        [name, look ? scale / 2 : scale, lens],
      );
      const colours = await takeBytes(page, 'colours', width * height * 4);
      await sharp(colours, { raw: { width, height, channels: 4 } })
        .flip()
        .removeAlpha()
        .png({ compressionLevel: 9 })
        .toFile(`${target}/${file}.png`);
      if (!lens) await takeDepth(page, width, height, `${target}/${file}-depth.png`);
      return disc;
    };
    await photograph(name, null);
    for (const [kind, lens] of Object.entries(isSharp ? {} : lenses)) {
      const disc = await photograph(`${name}-${kind}`, look ? { ...lens, places: 2 } : lens);
      told[`${name}-${kind}`] = { ...lens, disc };
    }
    await page.close();
  }
  if (!isSharp) await writeFile(`${target}/lenses.json`, `${JSON.stringify(told, null, 2)}\n`);
}
