import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  type Mend,
  type Samples,
  type Size,
  Scratch,
  mendSamples,
  mendsIn,
  parseRecipe,
  splitAlpha,
} from '../src/index';
import { fillBytes, inpaint } from '../src/tidy/mend/inpaint';
import { interpolateHole } from '../src/tidy/mend/membrane';
import { between } from './arbitraries';
import { kernelModule, kernelsWith } from './harness';
import { KernelContext } from '../src/memory';

const mendOf = (more: Partial<Mend>): Mend =>
  parseRecipe({
    format: 'hazy-lens-recipe',
    version: 1,
    tidy: { mends: [{ id: 'm', kind: 'fill', points: [[0.5, 0.5]], ...more }] },
  }).tidy.mends[0]!;

/** A picture by a function of a place, 8 bits. */
function drawn(
  { width, height }: Size,
  at: (x: number, y: number, c: number) => number,
  channels = 3,
): Samples {
  const data = new Uint8Array(width * height * channels);
  for (let i = 0; i < width * height; i++)
    for (let c = 0; c < channels; c++) data[i * channels + c] = at(i % width, Math.floor(i / width), c);
  return { width, height, channels, data };
}
const copyOf = (samples: Samples): Samples => ({ ...samples, data: samples.data.slice() });
const mended = async (samples: Samples, mend: Mend): Promise<Samples> => {
  const made = copyOf(samples);
  await mendSamples(new Scratch(), kernelModule, made, mend);
  return made;
};

/** Mean square difference inside a mend's circle, of 255. */
function error(a: Samples, b: ArrayLike<number>, [cx, cy]: [number, number], radius: number): number {
  let [sum, count] = [0, 0];
  for (let y = 0; y < a.height; y++)
    for (let x = 0; x < a.width; x++) {
      if (Math.hypot(x + 0.5 - cx, y + 0.5 - cy) > radius) continue;
      for (let c = 0; c < 3; c++) {
        const at = (y * a.width + x) * a.channels + c;
        sum += (a.data[at]! - b[at]!) ** 2;
        count++;
      }
    }
  return sum / count;
}

describe('a mend on a picture with transparent places', () => {
  // Orange on the left, half of it there; nothing on the right; a blue spot on the orange.
  const [width, height] = [120, 80];
  const straight = new Uint8Array(width * height * 4);
  for (let i = 0; i < width * height; i++) {
    const [x, y] = [i % width, Math.floor(i / width)];
    const isSpot = Math.hypot(x - 40, y - 40) < 5;
    straight.set(isSpot ? [20, 40, 220, 255] : x < 90 ? [230, 140, 40, 128] : [0, 0, 0, 0], i * 4);
  }
  const split = (): Samples => {
    const flat = new Uint8Array(width * height * 3);
    for (let i = 0; i < flat.length; i++) {
      const share = straight[Math.floor(i / 3) * 4 + 3]! / 255;
      flat[i] = Math.round(straight[Math.floor(i / 3) * 4 + (i % 3)]! * share + 255 * (1 - share));
    }
    return { width, height, channels: 3, data: flat, parts: splitAlpha(straight, 255) };
  };
  const d = Math.hypot(width, height);
  const at = (x: number, y: number): number => (y * width + x) * 4;

  it('fills how much there is along with the colours', async () => {
    const [made, came] = [split(), split()];
    await mendSamples(
      new Scratch(),
      kernelModule,
      made,
      mendOf({ points: [[40 / 120, 0.5]], radius: 9 / d }),
    );
    const [now, was] = [made.parts!, came.parts!];
    for (let c = 0; c < 3; c++) {
      expect(Math.abs(now.alpha[at(40, 40) + c]! - was.alpha[at(10, 10) + c]!)).toBeLessThan(300);
      expect(Math.abs(now.premultiplied[at(40, 40) + c]! - was.premultiplied[at(10, 10) + c]!)).toBeLessThan(
        900,
      );
    }
    expect(now.premultiplied.slice(0, at(0, 20))).toEqual(was.premultiplied.slice(0, at(0, 20)));
  });

  it('copies nothing where there is nothing', async () => {
    const made = split();
    const copy = mendOf({ kind: 'copy', points: [[40 / 120, 0.5]], radius: 9 / d, from: [65 / 120, 0] });
    await mendSamples(new Scratch(), kernelModule, made, copy);
    expect([...made.parts!.alpha.slice(at(40, 40), at(40, 40) + 4)]).toEqual([0, 0, 0, 65535]);
    expect([...made.parts!.premultiplied.slice(at(40, 40), at(40, 40) + 4)]).toEqual([0, 0, 0, 65535]);
  });
});

describe('a draft of a mend', () => {
  const large = { width: 420, height: 320 };
  const wall = drawn(large, (x, y, c) => 120 + 40 * Math.sin(x / 12 + c) + 30 * Math.cos(y / 17));
  const spotted = { ...copyOf(wall), data: wall.data.map((v, i) => (Math.hypot((i / 3) % 420 - 210, Math.floor(i / 1260) - 160) < 100 ? 255 : v)) }; // prettier-ignore

  it('of a large hole is there before it, like it, and nothing but the hole', async () => {
    const made = copyOf(spotted);
    const drafts: Samples[] = [];
    let done = 0;
    await mendSamples(
      new Scratch(),
      kernelModule,
      made,
      mendOf({ radius: 105 / Math.hypot(420, 320) }),
      (now) => (done = now),
      (put) => {
        expect(done).toBeLessThan(0.5);
        expect(made.data).toEqual(spotted.data);
        const copy = copyOf(made);
        put(copy);
        drafts.push(copy);
      },
    );
    expect(drafts).toHaveLength(1);
    const [draft] = drafts as [Samples];
    // Nearer to what it becomes than what stood there.
    expect(error(draft, made.data, [210, 160], 95)).toBeLessThan(
      error(spotted, made.data, [210, 160], 95) / 8,
    );
    const isOutside = (i: number): boolean =>
      Math.hypot(((i / 3) % 420) - 210, Math.floor(i / 1260) - 160) > 110;
    draft.data.forEach((v, i) => isOutside(i) && v !== spotted.data[i] && expect.fail(`sample ${i}`));
  });

  it('of a small one is not worth it', async () => {
    const mend = mendOf({ radius: 40 / Math.hypot(420, 320) });
    const never = (): void => expect.fail('there was a draft');
    await mendSamples(new Scratch(), kernelModule, copyOf(spotted), mend, undefined, never);
    expect(mend.kind).toBe('fill');
  });
});

const size = { width: 180, height: 120 };
const d = Math.hypot(size.width, size.height);
/** Bricks on the left, planks on the right of a slanting edge. */
const wall = (x: number, y: number, c: number): number => {
  if (x + 0.3 * y > 108) return 90 + (y % 9 < 2 ? -50 : 20) + 12 * c;
  const row = Math.floor(y / 8);
  const isJoint = y % 8 < 2 || (x + (row % 2) * 8) % 16 < 2;
  return isJoint ? 200 : 150 - 35 * c;
};

describe('a fill', () => {
  it('carries texture and edges on: at least 6 dB nearer to what was there than a plain diffusion', async () => {
    const truth = drawn(size, wall);
    const [x, y, radius] = [84, 60, 17];
    const spoiled = drawn(size, (px, py, c) =>
      Math.hypot(px - x, py - y) < radius ? [250, 20, 230][c]! : wall(px, py, c),
    );
    const made = await mended(
      spoiled,
      mendOf({ points: [[x / size.width, y / size.height]], radius: (radius + 3) / d, softness: 0 }),
    );
    const hole = Uint8Array.from({ length: size.width * size.height }, (_, i) =>
      Math.hypot((i % size.width) + 0.5 - x, Math.floor(i / size.width) + 0.5 - y) < radius + 3 ? 1 : 0,
    );
    const diffused = Float32Array.from(spoiled.data);
    interpolateHole(diffused, hole, size, 3);
    const [ours, theirs] = [made.data, diffused].map((data) => 10 * Math.log10(65025 / error(truth, data, [x, y], radius))) as [number, number]; // prettier-ignore
    console.log(`fill ${ours.toFixed(1)} dB, diffusion ${theirs.toFixed(1)} dB`);
    expect(ours - theirs).toBeGreaterThan(6);
  });

  it('changes nothing outside of what was painted, and is the same each time', async () => {
    const samples = drawn(size, (x, y, c) => (x * 7 + y * 13 + c * 50 + ((x * y) % 31)) % 256, 4);
    const mend = mendOf({ points: [[0.3, 0.4], [0.5, 0.6]], radius: 0.04 }); // prettier-ignore
    const made = await mended(samples, mend);
    expect(Buffer.compare(Buffer.from(made.data), Buffer.from((await mended(samples, mend)).data))).toBe(0);
    const reach = 0.04 * d + 1;
    for (let i = 0; i < size.width * size.height; i++) {
      const [x, y] = [(i % size.width) + 0.5, Math.floor(i / size.width) + 0.5];
      const [ax, ay, bx, by] = [0.3 * 180, 0.4 * 120, 0.5 * 180, 0.6 * 120];
      const t = Math.min(
        1,
        Math.max(0, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / ((bx - ax) ** 2 + (by - ay) ** 2)),
      );
      if (Math.hypot(x - ax - t * (bx - ax), y - ay - t * (by - ay)) < reach) continue;
      expect([...made.data.subarray(i * 4, i * 4 + 4)]).toEqual([...samples.data.subarray(i * 4, i * 4 + 4)]);
    }
  });

  it('stands anything: the whole picture, a single pixel, grey, places outside, 16 bits', async () => {
    const side = fc.integer({ min: 1, max: 40 });
    const place = fc.tuple(between(-1, 2), between(-1, 2));
    await fc.assert(
      fc.asyncProperty(side, side, fc.array(place, { minLength: 1, maxLength: 4 }), between(0, 0.5), fc.boolean(), fc.constantFrom<Mend['kind']>('fill', 'copy'), place, async (width, height, points, radius, isDeep, kind, way) => {
        const plain = drawn({ width, height }, (x, y) => (x * 31 + y * 17) % 256);
        const samples = isDeep ? { ...plain, data: Uint16Array.from(plain.data, (v) => v * 257) } : plain;
        const from = way.map((v) => Math.min(1, Math.max(-1, v))) as [number, number];
        const made = await mended(samples, mendOf({ kind, points, radius, from }));
        expect(made.data.length).toBe(samples.data.length);
      }),
      { numRuns: 60 },
    ); // prettier-ignore
  });

  it('of a hole with nothing around it leaves it as even as can be', async () => {
    const { kernels, memory } = await kernelsWith(fillBytes({ width: 9, height: 9 }));
    const colours = new Float32Array(9 * 9 * 3).fill(0.5);
    const hole = new Uint8Array(81).fill(1);
    const made = inpaint(new KernelContext(kernels, memory), colours, hole, { width: 9, height: 9 });
    for (const value of made) expect(Number.isFinite(value)).toBe(true);
  });
});

describe('mends', () => {
  it('are carried out where they, and what tidies, are on', () => {
    const [one, two] = [mendOf({ id: 'one' }), mendOf({ id: 'two', on: false })];
    const { tidy } = parseRecipe({ format: 'hazy-lens-recipe', version: 1 });
    expect(mendsIn({ tidy: { ...tidy, mends: [one, two] } })).toEqual([one]);
    expect(mendsIn({ tidy: { ...tidy, on: false, mends: [one, two] } })).toEqual([]);
  });
});

describe('a copy', () => {
  it('brings in the picture from its offset, whole in the middle, blended at its edge', async () => {
    const samples = drawn(size, (x, y, c) => (x < 90 ? 40 + c : 200 + ((x + y) % 20)));
    const made = await mended(samples, mendOf({ kind: 'copy', points: [[0.25, 0.5]], radius: 14 / d, softness: 0.5, from: [0.5, 0] }));
    const at = (x: number, y: number): number => made.data[(y * 180 + x) * 3]!;
    for (const [x, y] of [[45, 60], [48, 58], [42, 63]] as const) expect(at(x, y)).toBe(samples.data[(y * 180 + x + 90) * 3]);
    const edge = at(45 + 11, 60);
    expect(edge).toBeGreaterThan(45);
    expect(edge).toBeLessThan(195);
    expect(at(45 + 16, 60)).toBe(40);
  }); // prettier-ignore

  it('of what lies outside the picture leaves what is there', async () => {
    const samples = drawn(size, (x) => x);
    const made = await mended(
      samples,
      mendOf({ kind: 'copy', points: [[0.9, 0.5]], radius: 0.05, from: [0.5, 0] }),
    );
    expect([...made.data]).toEqual([...samples.data]);
  });
});

describe('a hole spanned smoothly', () => {
  it('continues a plane exactly, and never leaves the range of what is around it', () => {
    const [width, height] = [40, 30];
    const plane = Float32Array.from(
      { length: width * height },
      (_, i) => 0.01 * (i % width) - 0.02 * Math.floor(i / width),
    );
    const hole = Uint8Array.from(plane, (_, i) =>
      Math.hypot((i % width) - 20, Math.floor(i / width) - 15) < 9 ? 1 : 0,
    );
    const values = Float32Array.from(plane, (v, i) => (hole[i] === 1 ? 99 : v));
    interpolateHole(values, hole, { width, height }, 1);
    values.forEach((v, i) => expect(Math.abs(v - plane[i]!)).toBeLessThan(0.01));
  });
});
