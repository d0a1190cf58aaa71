/** An object of 200 pixels filled away on 24 megapixels; beside it the smear that sharp makes of the same window. */
import sharp from 'sharp';
import { IDENTITY_CARRY, type Mend, Scratch, diagonal, mendSamples } from '@hazy-lens/core';
import { LARGE, demoPixels, threads } from './large-picture';
import { inTurns } from './timing';

const OBJECT_PX = 200;
const RUNS = 5;
const AT = [0.405, 0.776] as const;

const source = await demoPixels(LARGE);
const module = await threads.module;
const scratch = new Scratch();
const mend: Mend = {
  id: 'bench',
  on: true,
  kind: 'fill',
  radius: OBJECT_PX / 2 / diagonal(LARGE),
  softness: 0.3,
  points: [[...AT]],
  from: [0, 0],
  carry: IDENTITY_CARRY,
};
const samples = { ...LARGE, channels: 3, data: new Uint8Array(source.length) };
const fill = async (): Promise<void> => {
  samples.data.set(source);
  await mendSamples(scratch, module, samples, mend);
};
const side = 2 * OBJECT_PX;
const window = {
  left: Math.round(AT[0] * LARGE.width) - OBJECT_PX,
  top: Math.round(AT[1] * LARGE.height) - OBJECT_PX,
  width: side,
  height: side,
};
const smear = (): Promise<Buffer> =>
  sharp(source, { raw: { ...LARGE, channels: 3 } })
    .extract(window)
    .blur(OBJECT_PX / 4)
    .raw()
    .toBuffer();
const [fillMs, smearMs] = (await inTurns(RUNS, [fill, smear])) as [number, number];
await threads.close();
console.log(
  JSON.stringify({
    case: 'fill',
    objectPx: OBJECT_PX,
    fillMs: Math.round(fillMs),
    smearMs: Math.round(smearMs),
    peer: 'sharp',
  }),
);
