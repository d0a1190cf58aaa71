// Renders demo scenes with and without a thing, as the truth that mends are held to: npm run demo -- mends
import { mkdir } from 'node:fs/promises';
import sharp from 'sharp';
import { takeBytes } from './demo-bytes.mjs';

/** Size as a share of the demo picture's, and the place of the thing that goes. */
const MENDS = {
  van: { scene: 'tram-loop', scale: 0.3, at: [0.4, 0.776] },
  lamp: { scene: 'night-fair', scale: 0.4, at: null },
  shed: { scene: 'glasshouses', scale: 0.4, at: [0.69, 0.36] },
};
/** Levels by which a pixel differs where the thing was seen, or its shadow. */
const DIFFERS = 5;
/** How much around that is kept, as a share of its size. */
const AROUND = 0.6;
const MIN_AROUND = 40;

/** @param open gives a page with the generator. @param target the folder that the pictures go into. */
export async function mendDemo(open, target) {
  await mkdir(target, { recursive: true });
  for (const [thing, { scene, scale, at }] of Object.entries(MENDS)) {
    const page = await open();
    const place = at ?? (await lampOf(page, scene));
    const size = await page.evaluate(([n, s]) => window.develop(n, s, true), [scene, scale]);
    const length = size.width * size.height * 4;
    const picture = { raw: { ...size, channels: 4 } };
    const upright = async () =>
      sharp(await takeBytes(page, 'colours', length), picture)
        .flip()
        .removeAlpha()
        .raw()
        .toBuffer();
    const present = await upright();
    await page.evaluate(([n, s, p]) => window.developWithout(n, s, true, p), [scene, scale, place]);
    const gone = await upright();
    await page.close();
    const window = around(present, gone, size, place);
    for (const [which, data] of Object.entries({ with: present, without: gone }))
      await sharp(data, { raw: { ...size, channels: 3 } })
        .extract(window)
        .png({ compressionLevel: 9 })
        .toFile(`${target}/${thing}-${which}.png`);
    console.log(thing, place, window);
  }
}

/** A lamp in the middle of the scene: neither hidden nor at the edge. */
async function lampOf(page, scene) {
  const things = await page.evaluate((n) => window.thingsIn(n), scene);
  const small = things.filter(
    ({ share, at: [x, y] }) => share < 2e-4 && x > 0.2 && x < 0.8 && y > 0.45 && y < 0.9,
  );
  return small[0].at;
}

/** The window around what differs near a place. */
function around(a, b, { width, height }, [fx, fy]) {
  const [px, py] = [fx * width, fy * height];
  const box = { left: px, right: px, top: py, bottom: py };
  for (let i = 0; i < width * height; i++) {
    const [x, y] = [i % width, Math.floor(i / width)];
    if (Math.abs(x - px) > width / 10 || Math.abs(y - py) > height / 6) continue;
    const differs = [0, 1, 2].some((c) => Math.abs(a[i * 3 + c] - b[i * 3 + c]) > DIFFERS);
    if (!differs) continue;
    Object.assign(box, {
      left: Math.min(box.left, x),
      right: Math.max(box.right, x),
      top: Math.min(box.top, y),
      bottom: Math.max(box.bottom, y),
    });
  }
  const margin = Math.max(MIN_AROUND, AROUND * Math.max(box.right - box.left, box.bottom - box.top));
  const left = Math.max(0, Math.floor(box.left - margin));
  const top = Math.max(0, Math.floor(box.top - margin));
  return {
    left,
    top,
    width: Math.min(width, Math.ceil(box.right + margin)) - left,
    height: Math.min(height, Math.ceil(box.bottom + margin)) - top,
  };
}
