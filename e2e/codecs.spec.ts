import { createHash } from 'node:crypto';
import type { Sharp } from 'sharp';
import { detailed, expect, sharp, test } from './fixtures';

const [width, height] = [301, 203];
const picture = () => detailed(width, height);

/** Files that the browser decodes, and two that it leaves to the library. */
const files: Record<string, () => Sharp> = {
  'a.jpg': () => picture().jpeg(),
  'progressive.jpg': () => picture().jpeg({ progressive: true, quality: 60 }),
  'all its chroma.jpg': () => picture().jpeg({ chromaSubsampling: '4:4:4' }),
  'grey.jpg': () => picture().toColourspace('b-w').jpeg(),
  'turned.jpg': () => picture().withMetadata({ orientation: 6 }).jpeg(),
  'in sRGB.jpg': () => picture().withIccProfile('srgb').jpeg(),
  'a.png': () => picture().png(),
  'grey.png': () => picture().toColourspace('b-w').png(),
  'line by other line.png': () => picture().png({ progressive: true }),
  'wide colours.jpg': () => picture().withIccProfile('p3').jpeg(),
  'four inks.jpg': () => picture().toColourspace('cmyk').jpeg(),
};

test('whoever decodes a file, its pixels are those that the command line reads', async ({ app, page }) => {
  expect(app.complaints).toEqual([]);
  let asked = 0;
  page.on('request', (request) => (asked += request.url().endsWith('vips.wasm') ? 1 : 0));
  for (const [name, make] of Object.entries(files)) {
    const file = await make().toBuffer();
    const ours = await page.evaluate(
      async ([name, text]) => {
        const bytes = Uint8Array.from(atob(text!), (c) => c.charCodeAt(0));
        const names = document.querySelector<HTMLMetaElement>('meta[name="built-files"]')!.content;
        const { codecs } = JSON.parse(names) as { codecs: string };
        const worker = new Worker(`${codecs}/codec-worker.js`, { type: 'module' });
        const decoded = await new Promise<{ pixels: SharedArrayBuffer; width: number; height: number }>(
          (resolve, reject) => {
            worker.onmessage = async ({ data }) => {
              if (data.kind === 'library')
                worker.postMessage({
                  vips: await WebAssembly.compileStreaming(fetch(`${codecs}/vips.wasm`)),
                });
              if (data.kind === 'done') resolve(data.value.decoded);
              if (data.kind === 'failed') reject(new Error(data.message));
            };
            worker.postMessage({ task: { kind: 'picture', file: new Blob([bytes]), name, free: [] } });
          },
        );
        worker.terminate();
        const { pixels, width, height } = decoded;
        const hash = await crypto.subtle.digest('SHA-256', new Uint8Array(pixels).slice());
        return { width, height, hash: [...new Uint8Array(hash)] };
      },
      [name, file.toString('base64')],
    );
    const isForeign = name === 'wide colours.jpg' || name === 'four inks.jpg';
    const theirs = await sharp(file).autoOrient().toColourspace('srgb').ensureAlpha().raw().toBuffer({ resolveWithObject: true }); // prettier-ignore
    expect([ours.width, ours.height], name).toEqual([theirs.info.width, theirs.info.height]);
    expect(Buffer.from(ours.hash), name).toEqual(createHash('sha256').update(theirs.data).digest());
    // The library is there for those alone that need it.
    expect(asked > 0, name).toBe(isForeign);
  }
});
