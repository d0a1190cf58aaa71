import { fileURLToPath } from 'node:url';
import fc from 'fast-check';
import sharp from 'sharp';
import { describe, expect, it, vi } from 'vitest';
import { aperture, gatherLens, tintedLamps } from '../reference/lens';
import { apertureTaps, innerTaps } from '../src/blur/lens/aperture';
import {
  type FocusPictures,
  type Recipe,
  aperturePoints,
  diagonal,
  fromLinear,
  fieldOf,
  keepMaskFrom,
  makeRaster,
  sampleRaster,
  SharedRenderer,
  resolveRecipe,
  toLinear,
} from '../src/index';
import { NO_PICTURES } from '../src/focus/field';
import {
  type Picture,
  bytesOf,
  linearPlanes,
  psnr,
  recipe,
  renderPicture,
  testPicture,
  testThreads,
  viewOf,
} from './harness';

const demo = fileURLToPath(new URL('../../demo/pictures/tram-loop.jpg', import.meta.url));

async function demoCrop(width: number, height: number): Promise<Picture> {
  const data = await sharp(demo)
    .extract({ left: 1700, top: 1300, width, height })
    .removeAlpha()
    .raw()
    .toBuffer();
  return { width, height, data, channels: 3 };
}

/** Compares scattered pixels with the formula. */
async function agreement(
  picture: Picture,
  how: Recipe,
  samples: number,
  pictures: FocusPictures = NO_PICTURES,
): Promise<number> {
  const result = await renderPicture(picture, how, { pictures, workers: 2 });
  const plain = linearPlanes(picture);
  const planes = how.blur.lens.highlights.tint > 0 ? tintedLamps(plain, how.blur.lens) : plain;
  const field = fieldOf(resolveRecipe(how, picture, pictures).field, picture);
  const full = how.blur.radius * diagonal(picture);
  const radius = (x: number, y: number): number => full * field(x + 0.5, y + 0.5);
  const { depth } = pictures;
  const nearness = (x: number, y: number): number =>
    sampleRaster(depth!.levels[0], (x + 0.5) / picture.width, (y + 0.5) / picture.height);
  const [ours, exact]: [number[], number[]] = [[], []];
  for (let k = 0; k < samples; k++) {
    const x = Math.floor(((k * 0.7548776662) % 1) * picture.width);
    const y = Math.floor(((k * 0.569840291) % 1) * picture.height);
    const light = gatherLens(planes, radius, how.blur.lens, x, y, depth && nearness, full);
    for (let c = 0; c < 3; c++) {
      ours.push(result[(y * picture.width + x) * picture.channels + c]!);
      exact.push(Math.min(1, Math.max(0, fromLinear(light[c]!))) * 255);
    }
  }
  return psnr(ours, exact);
}

const side = { clear: 0.01, falloff: 0.3 };
const ramp = (radius: number, lens: object, angle = 12) =>
  recipe({
    focus: { bands: [{ id: 'a', kind: 'planar', angle, profile: 'linear', near: side, far: side }] },
    blur: { kind: 'lens', radius, lens },
  });

describe('lens blur', () => {
  it.each([
    ['round', {}],
    ['of six blades, turned', { blades: 6, rotation: 17 }],
    ['squeezed, with a rim', { blades: 0, squeeze: 1.8, rim: 0.7 }],
    ['cut towards the corners, fringed', { blades: 7, cat: 0.9, rim: 0.3, fringe: -0.5 }],
    [
      'of five blades, fringed, with lights',
      { blades: 5, roundness: 0.4, fringe: 1, highlights: { stops: 3 } },
    ],
  ])('agrees with the formula on the demo picture, ramps to 40 px: %s', async (name, lens) => {
    const picture = await demoCrop(500, 400);
    const agreed = await agreement(picture, ramp(40 / diagonal(picture), lens), 150);
    console.log(`lens ${name}: ${agreed.toFixed(1)} dB`);
    expect(agreed).toBeGreaterThan(38);
  });

  it('agrees where a subject and a cut depth edge stop the blur', async () => {
    const picture = await demoCrop(420, 330);
    const [w, h] = [42, 33];
    const cells = (inside: (x: number, y: number) => boolean): Uint16Array =>
      Uint16Array.from({ length: w * h }, (_, i) => (inside(i % w, Math.floor(i / w)) ? 65535 : 0));
    const keep = makeRaster(
      'subject',
      w,
      h,
      cells((x, y) => Math.hypot(x - 14, y - 16) < 8),
    );
    const near = makeRaster(
      'depth',
      w,
      h,
      cells((x) => x > 28),
    );
    const how = recipe({
      focus: {
        rest: 1,
        mattes: [{ id: 'm', image: 'm.png' }],
        depthMap: { image: 'd.png', focus: 1, clear: 0.02, falloff: 0.5 },
      },
      blur: { kind: 'lens', radius: 24 / diagonal(picture), lens: { blades: 7 } },
    });
    expect(await agreement(picture, how, 120, { keep: keepMaskFrom(keep), depth: near })).toBeGreaterThan(38);
  });

  it.each([
    ['round', {}],
    ['of five blades, with a rim', { blades: 5, rim: 0.5 }],
    ['fringed', { fringe: 0.6 }],
    ['cut towards the corners', { cat: 0.8 }],
  ])('agrees where what is near and hazy lies over what is behind: %s', async (name, lens) => {
    const picture = await demoCrop(400, 300);
    const [w, h] = [200, 150];
    // Ground that comes nearer downwards, in focus in the middle, and two things that stand on it.
    const depth = makeRaster(
      'depth',
      w,
      h,
      Uint16Array.from({ length: w * h }, (_, i) => {
        const [x, y] = [i % w, Math.floor(i / w)];
        if (x > 120 && x < 150 && y > 40) return 60000;
        if (Math.hypot(x - 50, y - 60) < 18) return 50000;
        return 12000 + y * 200;
      }),
    );
    const how = recipe({
      focus: { depthMap: { image: 'd.png', focus: 0.4, clear: 0.03, falloff: 0.6, profile: 'linear' } },
      blur: { kind: 'lens', radius: 26 / diagonal(picture), lens },
    });
    const agreed = await agreement(picture, how, 140, { ...NO_PICTURES, depth });
    console.log(`near over behind, ${name}: ${agreed.toFixed(1)} dB`);
    expect(agreed).toBeGreaterThan(38);
    const pictures = { ...NO_PICTURES, depth };
    const whole = await renderPicture(picture, how, { pictures, stripRows: 256 });
    const strips = await renderPicture(picture, how, { pictures, stripRows: 20, workers: 3 });
    expect(Buffer.compare(Buffer.from(whole), Buffer.from(strips))).toBe(0);
    // Far from what is near, what is in focus is as it came; and nothing lies over a subject that is cut out of it.
    const keep = makeRaster(
      'keep',
      w,
      h,
      Uint16Array.from({ length: w * h }, (_, i) => (i % w > 121 && i % w < 149 ? 65535 : 0)),
    );
    const kept = await renderPicture(picture, how, { pictures: { depth, keep: keepMaskFrom(keep) } });
    const sameAt = (out: Uint8Array | Uint16Array, x: number, y: number): boolean =>
      [0, 1, 2].every((c) => out[(y * 400 + x) * 3 + c] === picture.data[(y * 400 + x) * 3 + c]);
    expect(sameAt(kept, 270, 200)).toBe(true);
    expect(sameAt(whole, 270, 200)).toBe(false);
    expect(sameAt(whole, 190, 142)).toBe(true);
  });

  it.each([
    [5, 0],
    [11, 6],
    [23, 0],
    [23, 6],
    [47, 0],
    [47, 6],
  ])('makes of one white pixel a disc of radius %i with %i blades', async (radius, blades) => {
    const [width, height] = [400, 300];
    const [x0, y0] = [201, 152];
    const data = new Uint16Array(width * height * 3);
    data.fill(65535, (y0 * width + x0) * 3, (y0 * width + x0) * 3 + 3);
    const picture = { width, height, data, channels: 3 as const };
    const lens = { blades, rotation: 10 };
    const how = recipe({
      focus: { rest: 1 },
      blur: { kind: 'lens', radius: radius / diagonal(picture), lens },
    });
    const out = await renderPicture(picture, how);
    const light = (x: number, y: number): number => toLinear(out[(y * width + x) * 3 + 1]! / 65535);
    let sum = 0;
    for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) sum += light(x, y);
    expect(Math.abs(sum - 1)).toBeLessThan(0.005);
    const outline = aperturePoints(how.blur.lens, 720);
    const area = outline.reduce((a, [x, y], i) => {
      const [nx, ny] = outline[(i + 1) % outline.length]!;
      return a + (radius * radius * (x * ny - nx * y)) / 2;
    }, 0);
    const half = light(x0, y0) / 2;
    const covered = sum / light(x0, y0);
    expect(Math.abs(covered / area - 1)).toBeLessThan(0.03);
    /** Light at a place between pixels. */
    const between = (x: number, y: number): number => {
      const [left, top] = [Math.floor(x), Math.floor(y)];
      const [u, v] = [x - left, y - top];
      const row = (j: number): number => light(left, j) * (1 - u) + light(left + 1, j) * u;
      return row(top) * (1 - v) + row(top + 1) * v;
    };
    // Along each direction the light falls to half within a pixel of the outline.
    for (const [i, [px, py]] of outline.entries()) {
      if (i % 20 !== 0) continue;
      const far = radius * Math.hypot(px, py);
      const [dx, dy] = [px / Math.hypot(px, py), py / Math.hypot(px, py)];
      const at = (d: number): number => between(x0 + dx * d, y0 + dy * d);
      // At a corner less than half of what is around a place lies within the outline.
      const isCorner = blades > 0 && (i / 2 - lens.rotation) % (360 / blades) === 0;
      expect(at(far - (isCorner ? 2 : 1))).toBeGreaterThan(half);
      expect(at(far + 1)).toBeLessThan(half);
    }
  });

  it('does not spread a clear, saturated subject into the haze around it', async () => {
    const [width, height] = [160, 120];
    const picture = testPicture(width, height);
    const isSubject = (x: number, y: number): boolean => x >= 60 && x < 100 && y >= 40 && y < 80;
    for (let i = 0; i < width * height; i++)
      picture.data.set(isSubject(i % width, Math.floor(i / width)) ? [255, 20, 0] : [119, 119, 119], i * 3);
    const keep = makeRaster(
      'k',
      width,
      height,
      Uint16Array.from({ length: width * height }, (_, i) =>
        isSubject(i % width, Math.floor(i / width)) ? 65535 : 0,
      ),
    );
    const how = recipe({
      focus: { rest: 1, mattes: [{ id: 'm', image: 'm.png' }] },
      blur: { kind: 'lens', radius: 20 / diagonal(picture) },
    });
    const out = await renderPicture(picture, how, { pictures: { keep: keepMaskFrom(keep), depth: null } });
    let worst = 0;
    for (let i = 0; i < width * height; i++)
      if (!isSubject(i % width, Math.floor(i / width)))
        worst = Math.max(worst, Math.abs(out[i * 3]! - out[i * 3 + 2]!), Math.abs(out[i * 3]! - 119));
    // Dither moves each channel by up to one level.
    expect(worst).toBeLessThanOrEqual(2);
  });

  /** Lamps on a dark ground: white cores in rings of their own colours, one of them bent around another. */
  function lamps(width: number, height: number): Picture {
    const picture = testPicture(width, height);
    picture.data.fill(6);
    for (let i = 0; i < width * height; i++) {
      const [x, y] = [i % width, Math.floor(i / width)];
      for (const [cx, cy, ring] of [
        [60, 40, [230, 120, 40]],
        [140, 90, [60, 140, 230]],
      ] as const) {
        const far = Math.hypot(x - cx, y - cy);
        if (far < 6) picture.data.set(far < 3.5 ? [255, 255, 255] : ring, i * 3);
      }
      const [arc, turn] = [Math.hypot(x - 140, y - 90), Math.atan2(y - 90, x - 140)];
      if (arc > 16 && arc < 22 && turn > -2)
        picture.data.set(arc > 18 && arc < 19.5 ? [255, 250, 255] : [40, 200, 60], i * 3);
    }
    return picture;
  }

  it('gives each clipped spot one colour, that of what shines around it, as flooding finds it', async () => {
    const picture = lamps(320, 240);
    const lens = { highlights: { stops: 3, tint: 0.9, threshold: 0.85 } };
    const how = (radius: number) =>
      recipe({ focus: { rest: 1 }, blur: { kind: 'lens', radius: radius / diagonal(picture), lens } });
    expect(await agreement(picture, how(5), 400)).toBeGreaterThan(38);
    // All of a lamp's disc has its colour, and the next one's has its own.
    const out = await renderPicture(picture, how(20), { workers: 2, stripRows: 16 });
    const ratios = (cx: number, cy: number): number[] =>
      [-4, 0, 4].map((dx) => out[(cy * 320 + cx + dx) * 3]! / out[(cy * 320 + cx + dx) * 3 + 2]!);
    for (const ratio of ratios(60, 40)) expect(ratio).toBeGreaterThan(1.5);
    for (const ratio of ratios(140, 90)) expect(ratio).toBeLessThan(0.75);
  });

  it('takes no colour from black, nor for what is too large to be a lamp', async () => {
    const picture = lamps(200, 140);
    picture.data.fill(0);
    for (let i = 0; i < 200 * 140; i++) {
      const [x, y] = [i % 200, Math.floor(i / 200)];
      if (Math.hypot(x - 40, y - 40) < 4 || y > 100) picture.data.set([255, 255, 255], i * 3);
      else if (y > 98) picture.data.set([220, 90, 60], i * 3);
    }
    const drawn = (tint: number) =>
      renderPicture(picture, recipe({ focus: { rest: 1 }, blur: { kind: 'lens', radius: 0.02, lens: { highlights: { stops: 3, tint } } } })); // prettier-ignore
    expect(await drawn(1)).toEqual(await drawn(0));
  });

  it.each([6, 13, 29, 34, 47, 64])('makes an even disc of a point at radius %d', async (radius) => {
    // The largest radius of a recipe is a tenth of the diagonal.
    const side = Math.max(2 * radius + 60, Math.ceil(7.2 * radius));
    // Off the grid of the levels.
    const [px, py] = [(side >> 1) + 1, (side >> 1) - 2];
    const data = new Uint16Array(3 * side * side);
    data.fill(65535, 3 * (py * side + px), 3 * (py * side + px) + 3);
    const size = { width: side, height: side };
    const blur = {
      kind: 'lens',
      radius: radius / diagonal(size),
      lens: { blades: 0, highlights: { stops: 0 } },
    };
    const how = recipe({ focus: { rest: 1 }, blur });
    const made = await renderPicture({ ...size, channels: 3, data }, how);
    const light = Float64Array.from({ length: side ** 2 }, (_, i) => toLinear(made[3 * i]! / 65535));
    const due = 1 / (Math.PI * radius ** 2);
    // Its rim is as soft as a sample of the level that it is gathered on.
    const soft = radius > 30 ? 4 : radius > 8 ? 2.5 : 1.5;
    let [energy, area] = [0, 0];
    for (let i = 0; i < light.length; i++) {
      const [x, y] = [i % side, Math.floor(i / side)];
      energy += light[i]!;
      if (light[i]! > due / 2) area++;
      if (Math.hypot(x - px, y - py) > radius - soft) continue;
      expect(Math.abs(light[i]! / due - 1), `${x - px}, ${y - py}`).toBeLessThan(0.15);
    }
    expect(Math.abs(energy - 1)).toBeLessThan(0.02);
    expect(Math.abs(area / (Math.PI * radius ** 2) - 1)).toBeLessThan(radius < 10 ? 0.06 : 0.02);
  });

  it('stands every parameter at its ends, and pictures smaller than a disc', async () => {
    const end = fc.constantFrom(0, 1);
    const ends = fc.record({
      blades: fc.constantFrom(0, 3, 12),
      roundness: end,
      rotation: fc.constantFrom(-360, 0, 360),
      squeeze: fc.constantFrom(0.3, 3),
      rim: fc.constantFrom(-1, 0, 1),
      cat: end,
      fringe: fc.constantFrom(-1, 0, 1),
      highlights: fc.record({ stops: fc.constantFrom(0, 5), threshold: fc.constantFrom(0.5, 1), tint: end }),
    });
    const sizes = fc.constantFrom([1, 1], [7, 1], [1, 9], [130, 3], [33, 65]);
    await fc.assert(
      fc.asyncProperty(ends, sizes, fc.constantFrom(0, 0.001, 0.1), async (lens, [width, height], radius) => {
        const picture = testPicture(width!, height!);
        picture.data.fill(140);
        const how = recipe({ focus: { rest: 1 }, blur: { kind: 'lens', radius, lens } });
        const out = await renderPicture(picture, how, { workers: 2, stripRows: 8 });
        // An even picture stays as it is, whatever the aperture; clipped lights may be brighter.
        for (const v of out)
          expect(Math.abs(v - 140)).toBeLessThanOrEqual(lens.highlights.threshold < 0.55 ? 115 : 1);
      }),
      { numRuns: 40 },
    );
  });

  it('is as bright and as wide in a draft', async () => {
    const picture = await demoCrop(400, 300);
    const how = ramp(24 / diagonal(picture), { blades: 6, highlights: { stops: 2 } });
    const draw = async (isDraft: boolean): Promise<Uint8Array> => {
      const renderer = new SharedRenderer(testThreads(1));
      await renderer.open({ ...viewOf(picture, how), isDraft });
      renderer.input(0).set(bytesOf(picture.data));
      const job = { slot: 0, source: 'a', look: resolveRecipe(how, picture), content: 'picture' } as const;
      return (await renderer.render(job)).slice();
    };
    const [draft, fine] = [await draw(true), await draw(false)];
    expect(psnr(draft, fine)).toBeGreaterThan(38);
    const mean = (data: Uint8Array): number => data.reduce((a, b) => a + b, 0) / data.length;
    expect(Math.abs(mean(draft) - mean(fine))).toBeLessThan(0.2);
  });

  it('gives the same pixels whatever the strips and workers', async () => {
    const picture = testPicture(300, 211, 4);
    const how = ramp(0.06, { blades: 5, rim: 0.4 }, 35);
    const whole = await renderPicture(picture, how, { stripRows: 256 });
    const strips = await renderPicture(picture, how, { stripRows: 16, workers: 3 });
    expect(Buffer.compare(Buffer.from(whole), Buffer.from(strips))).toBe(0);
  });

  it('sums its light in the same order whatever the last bits of an engine’s sines are', () => {
    const aperture = { blades: 6, roundness: 0.1, rotation: 50.42414090243114, squeeze: 1 };
    const plain = apertureTaps(aperture, 12);
    let count = 0;
    const { atan2, cos } = Math;
    /** One unit in the last place more, or less, by turns. */
    const nudged = (value: number): number => value * (1 + ((count++ % 3) - 1) * Number.EPSILON);
    vi.spyOn(Math, 'atan2').mockImplementation((y, x) => nudged(atan2(y, x)));
    vi.spyOn(Math, 'cos').mockImplementation((a) => nudged(cos(a)));
    const other = apertureTaps(aperture, 12);
    vi.restoreAllMocks();
    expect(other).toEqual(plain);
  });

  it.each([
    { blades: 0, squeeze: 1 },
    { blades: 0, squeeze: 2 },
    { blades: 5, roundness: 0.2, rotation: 17 },
    { blades: 3, roundness: 0, rotation: 0, squeeze: 0.6 },
    { blades: 9, roundness: 1, rotation: -40 },
  ])('sums by columns only taps that a disc covers wholly, each of them once: %o', (shape) => {
    const { lens } = recipe({ blur: { lens: shape } }).blur;
    const taps = apertureTaps(lens, 20);
    const inner = innerTaps(taps);
    expect(inner.at(-1)!.count).toBeGreaterThan(0.7 * taps.list.length);
    for (const [quarter, { count, columns }] of inner.entries()) {
      const first = taps.list.slice(0, count);
      for (const [, , scale, reach] of first) expect((quarter / 4) * scale - reach).toBeGreaterThanOrEqual(1);
      const across = (columns.length - 1) / 2;
      const inColumns = columns.flatMap(([top, bottom], i) =>
        Array.from({ length: bottom - top + 1 }, (_, k) => `${top + k} ${i - across}`),
      );
      expect(inColumns.sort()).toEqual(first.map(([dy, dx]) => `${dy} ${dx}`).sort());
    }
  });

  it('has an outline whose cover is that of the formula', () => {
    const lens = recipe({ blur: { lens: { blades: 5, roundness: 0.3, rotation: 20, squeeze: 1.7 } } }).blur
      .lens;
    for (const [x, y] of aperturePoints(lens, 40)) {
      expect(aperture(lens, 20 * x, 20 * y, 20)).toBeCloseTo(0.5, 9);
    }
  });
});
