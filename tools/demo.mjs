// Renders the demo pictures, their depth maps and outlines, and films the clips:
// npm run demo [-- name | footage | optical | views | mends | balloons | meadow] [-- --look] [-- --outlines] [-- --sharp]
import { build } from 'esbuild';
import { chromium } from '@playwright/test';
import { createServer } from 'node:http';
import { mkdir } from 'node:fs/promises';
import sharp from 'sharp';
import { CHROMIUM_ARGS, chromiumPath } from './chromium.mjs';
import { photographMeadow, traceBalloons } from './demo-balloons.mjs';
import { takeBytes, takeDepth } from './demo-bytes.mjs';
import { filmDemo } from './demo-footage.mjs';
import { mendDemo } from './demo-mends.mjs';
import { photographDemo } from './demo-optical.mjs';
import { surveyDemo } from './demo-views.mjs';

const look = process.argv.includes('--look');
const wanted = process.argv.slice(2).filter((word) => !word.startsWith('--'));
const names = ['tram-loop', 'glasshouses', 'night-fair'].filter(
  (name) => wanted.length === 0 || wanted.includes(name),
);
const isSharp = process.argv.includes('--sharp');
const onlyOutlines = process.argv.includes('--outlines');
/** A thing of each scene whose true outline stands beside the pictures. */
const THINGS = {
  'tram-loop': { name: 'house', at: [0.287, 0.69] },
  glasshouses: { name: 'shed', at: [0.69, 0.36] },
  'night-fair': { name: 'tent', at: [0.776, 0.47] },
};
const OUTLINE = { width: 900, height: 600 };
const target = look ? '.cache/demo' : 'demo/pictures';

await mkdir(target, { recursive: true });
const bundle = await build({
  entryPoints: ['demo/generator/main.ts'],
  bundle: true,
  write: false,
  format: 'iife',
});
const script = bundle.outputFiles[0].text;
const server = createServer((request, response) => {
  const isScript = request.url === '/main.js';
  response.setHeader('content-type', isScript ? 'text/javascript' : 'text/html');
  response.end(isScript ? script : '<!doctype html><meta charset="utf-8"><script src="/main.js"></script>');
});
await new Promise((resolve) => server.listen(0, '127.0.0.1', resolve));
const browser = await chromium.launch({
  executablePath: chromiumPath(),
  args: [
    ...CHROMIUM_ARGS.filter((arg) => arg !== '--disable-gpu'),
    '--use-angle=swiftshader',
    '--enable-unsafe-swiftshader',
  ],
});
async function open() {
  const page = await browser.newPage();
  page.on('console', (message) => console.log(message.text()));
  page.on('pageerror', (error) => console.log(String(error)));
  await page.goto(`http://127.0.0.1:${server.address().port}/`);
  return page;
}
try {
  for (const name of names) {
    const page = await open();
    const thing = THINGS[name];
    const outline = await page.evaluate(
      ([n, at, w, h]) => window.outline(n, at, w, h),
      [name, thing.at, OUTLINE.width, OUTLINE.height],
    );
    await sharp(
      Uint8Array.from(outline, (v) => v * 255),
      { raw: { ...OUTLINE, channels: 1 } },
    )
      .toColourspace('b-w')
      .png({ palette: false, compressionLevel: 9 })
      .toFile(`${target}/${name}-${thing.name}.png`);
    if (onlyOutlines) {
      await page.close();
      continue;
    }
    const scale = look ? 0.25 : 1;
    const { width, height } = await page.evaluate(
      ([n, s, q]) => window.develop(n, s, q),
      [name, scale, look],
    );
    const colours = await takeBytes(page, 'colours', width * height * 4);
    const exif = {
      IFD0: { ImageDescription: `Orrin Bank: ${name}`, Artist: 'Hazy Lens demo generator', Copyright: 'MIT' },
    };
    await sharp(colours, { raw: { width, height, channels: 4 } })
      .flip()
      .removeAlpha()
      .withExif(exif)
      .jpeg({ quality: look ? 90 : 86, chromaSubsampling: '4:2:0', mozjpeg: true })
      .toFile(`${target}/${name}.jpg`);
    await takeDepth(page, width / 2, height / 2, `${target}/${name}-depth.png`);
    await page.close();
  }
  const has = (what) => wanted.length === 0 || wanted.includes(what);
  const into = (folder) => (look ? '.cache/demo' : folder);
  if (has('footage')) await filmDemo(open, into('demo/footage'), look);
  if (has('optical')) await photographDemo(open, into('demo/optical'), look, isSharp);
  if (has('views')) await surveyDemo(open, into('demo/views'));
  if (has('balloons')) await traceBalloons(open, target);
  if (has('meadow')) await photographMeadow(open, into('demo/optical'), look, isSharp);
  if (has('mends')) await mendDemo(open, into('demo/mends'));
} finally {
  await browser.close();
  server.close();
}
