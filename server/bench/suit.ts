/**
 * How often the readings of "does it suit" are right: the angle of the view and what stands across the plane, on the demo
 * pictures and on the same scenes from other viewpoints, whose truth the generator has written beside them.
 */
import { readFile } from 'node:fs/promises';
import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import { SCENE_LONG_EDGE_PX, lumaOf, readScene, uprightsAcrossFocus } from '@hazy-lens/core';
import { thousandth } from './timing';

interface Truth {
  down: number;
  fov: number;
  tallest: number;
}

const demo = fileURLToPath(new URL('../../demo/', import.meta.url));
/** The demo pictures' own viewpoints, as the generator has them. */
const PICTURES: Record<string, Partial<Truth>> = {
  'pictures/tram-loop.jpg': { down: 27.2, fov: 37 },
  'pictures/glasshouses.jpg': { down: 20.7, fov: 30 },
  'pictures/night-fair.jpg': { down: 14.5, fov: 34 },
  'footage/kite-meadow-clip.jpg': { down: 17, fov: 34 },
};
/** The angle is taken for that of a normal lens: so is the truth. */
const NORMAL_FOV = 45;
const DEGREE = Math.PI / 180;
const RIGHT_WITHIN = 5;
const TALL = 0.3;

const views = JSON.parse(await readFile(`${demo}views/views.json`, 'utf8')) as Record<string, Truth>;
const all = [
  ...Object.entries(PICTURES),
  ...Object.entries(views).map(([file, truth]): [string, Partial<Truth>] => [`views/${file}`, truth]),
];
const seen = [];
for (const [file, { down, fov, tallest }] of all) {
  const { data, info } = await sharp(demo + file)
    .resize(SCENE_LONG_EDGE_PX, SCENE_LONG_EDGE_PX, { fit: 'inside' })
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const started = performance.now();
  const suit = readScene(lumaOf({ width: info.width, height: info.height, data }));
  const ms = performance.now() - started;
  const tan =
    (Math.tan(down! * DEGREE) * Math.tan((fov! / 2) * DEGREE)) / Math.tan((NORMAL_FOV / 2) * DEGREE);
  seen.push({
    file,
    down: Number((Math.atan(tan) / DEGREE).toFixed(1)),
    read: suit.down === null ? null : Number(suit.down.toFixed(1)),
    tallest: tallest === undefined ? null : thousandth(tallest),
    crosses: uprightsAcrossFocus(suit),
    detail: thousandth(suit.detail),
    row: thousandth(suit.row),
    ms: Math.round(ms),
  });
}
for (const one of seen) console.log(JSON.stringify(one));
const told = seen.filter(({ read }) => read !== null);
const within = told.filter(({ down, read }) => Math.abs(down - read!) <= RIGHT_WITHIN);
const judged = seen.filter(({ tallest }) => tallest !== null);
const agree = judged.filter(({ tallest, crosses }) => tallest! >= TALL === (crosses !== 'nothing'));
console.log(
  JSON.stringify({
    case: 'suit',
    pictures: seen.length,
    told: told.length,
    viewWithin5Degrees: within.length,
    judgedAcross: judged.length,
    acrossRight: agree.length,
    medianMs: seen.map(({ ms }) => ms).sort((a, b) => a - b)[Math.floor(seen.length / 2)],
  }),
);
