// Films the demo clips, with their true motion: npm run demo -- footage [--look]
import { zipSync } from 'fflate';
import { mkdir, writeFile } from 'node:fs/promises';

const FPS = 30;
/** Bits a second that keep each clip below 4 MB. */
const BITRATE = { 'tram-loop': 3_700_000, 'kite-meadow': 6_500_000 };

/** @param open gives a page with the generator. @param target the folder that the clips go into. */
export async function filmDemo(open, target, look) {
  await mkdir(target, { recursive: true });
  for (const name of ['tram-loop', 'kite-meadow']) {
    const page = await open();
    const { frames } = await page.evaluate(
      ([n, s, q]) => window.shoot(n, s, q),
      [name, look ? 0.4 : 1, look],
    );
    const bytes = (base64) => Buffer.from(base64, 'base64');
    if (look) {
      for (const frame of [0, Math.floor(frames / 2), frames - 1])
        await writeFile(
          `${target}/${name}-${frame}.jpg`,
          bytes(await page.evaluate((f) => window.shootFrame(f, 1, 0.9), frame)),
        );
      await page.close();
      continue;
    }
    const film = async (file, from, to, pumps) => {
      const length = await page.evaluate(
        (wish) => window.film(...wish),
        [from, to, FPS, BITRATE[name], pumps],
      );
      await writeFile(
        `${target}/${file}.mp4`,
        bytes(await page.evaluate((n) => window.take('film', 0, n), length)),
      );
    };
    await writeFile(
      `${target}/${name}-clip.jpg`,
      bytes(await page.evaluate(() => window.shootFrame(0, 0.375, 0.85))),
    );
    await film(name, 0, frames, false);
    if (name === 'tram-loop') {
      const { motion, gains } = await page.evaluate(() => window.truth());
      await film(`${name}-flicker`, frames / 2, frames, true);
      const truth = {
        what: 'motion: pixels of frame 0 to each frame, 3 x 3 row by row; gains: brightness of the flickering clip',
        motion,
        gains: gains.slice(frames / 2),
      };
      await writeFile(`${target}/${name}-truth.json`, JSON.stringify(truth));
      const files = {};
      for (let frame = 0; frame < frames; frame++)
        files[`${name}-${String(frame + 1).padStart(4, '0')}.jpg`] = [
          bytes(await page.evaluate((f) => window.shootFrame(f, 0.35, 0.45), frame)),
          { level: 0 },
        ];
      await writeFile(`${target}/${name}-frames.zip`, zipSync(files));
    }
    await page.close();
  }
}
