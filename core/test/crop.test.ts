import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { turnReference } from '../reference/rotate';
import {
  type Crop,
  type PixelFormat,
  type CropGeometry,
  cropGeometry,
  renderCrop,
  resolveFocus,
  frameBytes,
  insideCrop,
  isUncropped,
  fieldOf,
  resolveTidiedRecipe,
  toPicture,
  toCrop,
  fullCrop,
} from '../src/index';
import { cropField } from '../src/render/crop-settings';
import { focusField } from '../src/focus/field';
import { between, focus, focusPictures } from './arbitraries';
import { renderPicture, recipe, testPicture, testThreads } from './harness';

const crop = fc.record({
  centre: fc.tuple(between(0, 1), between(0, 1)),
  size: fc.tuple(between(0.001, 1.5), between(0.001, 1.5)),
  turn: fc.oneof(between(-360, 360), fc.constantFrom(-180, -90, 0, 90, 180, 270)),
  flip: fc.boolean(),
});
const side = fc.integer({ min: 1, max: 300 });
const AS_IT_CAME: Crop = { centre: [0.5, 0.5], size: [1, 1], turn: 0, flip: false };

const cornersOf = (sheet: CropGeometry): [number, number][] =>
  [0, sheet.width].flatMap((x) => [0, sheet.height].map((y) => toPicture(sheet, [x, y])));

describe('a crop', () => {
  it('of any kind lies inside its picture, in whole pixels, and places go both ways', () => {
    fc.assert(
      fc.property(crop, side, side, between(0, 1), between(0, 1), (how, width, height, u, v) => {
        const sheet = cropGeometry(how as Crop, { width, height });
        expect(sheet.width).toBe(Math.max(1, Math.round(sheet.width)));
        expect(sheet.height).toBe(Math.max(1, Math.round(sheet.height)));
        // A sheet of a single pixel may be all there is room for, and sides are rounded by a thousandth.
        const reach = Math.min(sheet.width, sheet.height) === 1 ? 1 : 2e-3;
        for (const [x, y] of cornersOf(sheet)) {
          expect(Math.max(-x, x - width, -y, y - height)).toBeLessThanOrEqual(reach);
        }
        const at = [u * width, v * height] as const;
        toPicture(sheet, toCrop(sheet, at)).forEach((value, i) => expect(value).toBeCloseTo(at[i]!, 6));
      }),
    );
  });

  it('that lies inside stays as it is; one that reaches out keeps its form', () => {
    const inside: Crop = { centre: [0.4, 0.5], size: [0.5, 0.5], turn: 10, flip: false };
    expect(insideCrop(inside, { width: 300, height: 200 })).toBe(inside);
    const { size } = insideCrop({ ...AS_IT_CAME, turn: 30 }, { width: 300, height: 200 });
    expect(size[0]).toBeLessThan(0.75);
    expect(size[0]).toBeCloseTo(size[1], 9);
    const moved = insideCrop(
      { ...AS_IT_CAME, size: [0.5, 0.5], centre: [1, 0] },
      { width: 300, height: 200 },
    );
    expect(moved.centre).toEqual([0.75, 0.25]);
  });

  it('of everything is the picture itself', () => {
    expect(isUncropped(cropGeometry(AS_IT_CAME, { width: 31, height: 17 }))).toBe(true);
    const quarter = cropGeometry(
      { ...AS_IT_CAME, turn: 90, size: [17 / 31, 31 / 17] },
      { width: 31, height: 17 },
    );
    expect([quarter.width, quarter.height]).toEqual([17, 31]);
    // What was the first column's foot comes first.
    expect(toCrop(quarter, [0, 17]).map(Math.round)).toEqual([17, 31]);
    expect(toCrop(quarter, [0, 0]).map(Math.round)).toEqual([0, 31]);
  });

  it('leaves the field on its subject, whatever makes it, turned and flipped', () => {
    const picture = { width: 240, height: 160 };
    fc.assert(
      fc.property(crop, focus, focusPictures, between(0, 1), between(0, 1), (how, parts, pictures, u, v) => {
        const made = recipe({ focus: parts }).focus;
        const sheet = cropGeometry(how as Crop, picture);
        const at = [u * sheet.width, v * sheet.height] as const;
        const [x, y] = toPicture(sheet, at);
        const there = focusField(made, picture, pictures)(x, y);
        const here = fieldOf(cropField(resolveFocus(made, picture, pictures), sheet), sheet)(...at);
        expect(Math.abs(here - there)).toBeLessThan(2e-4);
      }),
    );
  });

  it('has the same haze from the kernels as at a point', async () => {
    const picture = { width: 90, height: 60 };
    await fc.assert(
      fc.asyncProperty(crop, focus, focusPictures, async (tidy, parts, pictures) => {
        const how = recipe({
          focus: parts,
          tidy: { crop: { ...tidy, size: tidy.size.map((s) => Math.min(1, s)) } },
        });
        const sheet = cropGeometry(how.tidy.crop, picture);
        const look = resolveTidiedRecipe(how, picture, pictures);
        const field = fieldOf(look.field, sheet);
        const { width, height } = sheet;
        const blank = { width, height, channels: 3 as const, data: new Uint8Array(width * height * 3) };
        const map = await renderPicture(blank, how, { content: 'haze16', look });
        for (let i = 0; i < map.length; i += 7) {
          const exact = field((i % width) + 0.5, Math.floor(i / width) + 0.5);
          expect(Math.abs(map[i]! / 65535 - exact)).toBeLessThan(3e-3);
        }
      }),
      { numRuns: 40 },
    );
  });

  it('keeps lengths: the blur is as wide as before, along the same lines of the picture', () => {
    const picture = { width: 300, height: 200 };
    const how = recipe({
      tidy: { crop: { size: [0.5, 0.4], turn: 20, flip: true } },
      blur: { kind: 'motion', radius: 0.02, motion: { angle: 50 } },
    });
    const sheet = cropGeometry(how.tidy.crop, picture);
    const { blur } = resolveTidiedRecipe(how, picture);
    const px = blur.radius * Math.hypot(sheet.width, sheet.height);
    expect(px).toBeCloseTo(0.02 * Math.hypot(300, 200), 9);
    const a = (50 * Math.PI) / 180;
    const [from, to] = [[150, 100], [150 + Math.cos(a), 100 + Math.sin(a)]].map((at) => toCrop(sheet, at as [number, number])); // prettier-ignore
    const angle = (Math.atan2(to![1] - from![1], to![0] - from![0]) * 180) / Math.PI;
    expect(Math.sin(((angle - blur.motion.angle) * Math.PI) / 180)).toBeCloseTo(0, 9);
    // The lens still looked at the middle of the picture, which is half its diagonal from a corner.
    const { middle, reach } = blur.axis!;
    const seen = toPicture(sheet, [middle[0] * sheet.width, middle[1] * sheet.height]);
    seen.forEach((value, i) => expect(value).toBeCloseTo([150, 100][i]!, 6));
    expect(reach * Math.hypot(sheet.width, sheet.height)).toBeCloseTo(Math.hypot(150, 100), 9);
  });
});

/** What a sheet shows, cut out by the kernels. */
async function cut(
  sheet: CropGeometry,
  from: { data: ArrayLike<number>; format: PixelFormat },
  size = { width: sheet.width, height: sheet.height },
  region = { x: 0, y: 0, ...size },
): Promise<Uint8Array | Uint16Array> {
  const { data, format } = from;
  const pixels = new SharedArrayBuffer(data.length * format.bytes);
  (format.bytes === 2 ? new Uint16Array(pixels) : new Uint8Array(pixels)).set(data);
  const target = new Uint8Array(new SharedArrayBuffer(frameBytes(format, region)));
  await renderCrop(
    testThreads(2),
    { ...sheet.picture, pixels, format },
    sheet,
    { ...region, picture: size },
    format,
    target,
  );
  return format.bytes === 2 ? new Uint16Array(target.buffer) : target;
}

describe('what is cut out', () => {
  const picture = testPicture(130, 90);
  const little = testPicture(61, 40);
  const source = { data: picture.data, format: { channels: 3, bytes: 1 } as const };

  it('is copied byte for byte where nothing is turned', async () => {
    const sheet = cropGeometry({ ...AS_IT_CAME, centre: [0.4, 0.6], size: [0.31, 0.47] }, picture);
    const [left, top] = sheet.corner;
    const made = await cut(sheet, source);
    const rows = Array.from({ length: sheet.height }, (_, y) => {
      const from = ((y + top) * 130 + left) * 3;
      return [...picture.data.subarray(from, from + sheet.width * 3)];
    });
    expect([...made]).toEqual(rows.flat());
  });

  it('has the same pixels, elsewhere, after quarter turns and when flipped', async () => {
    const deep = {
      data: Uint16Array.from(picture.data, (v) => v * 257),
      format: { channels: 3, bytes: 2 } as const,
    };
    for (const turn of [0, 90, 180, -90])
      for (const flip of [false, true]) {
        const sheet = cropGeometry(
          { ...AS_IT_CAME, size: [0.4, 0.5], centre: [0.45, 0.5], turn, flip },
          picture,
        );
        const made = await cut(sheet, deep);
        let most = 0;
        for (let y = 0; y < sheet.height; y++)
          for (let x = 0; x < sheet.width; x++) {
            const [px, py] = toPicture(sheet, [x + 0.5, y + 0.5]).map(Math.floor) as [number, number];
            for (let c = 0; c < 3; c++) {
              const came = deep.data[(py * 130 + px) * 3 + c]!;
              most = Math.max(most, Math.abs(made[(y * sheet.width + x) * 3 + c]! - came));
            }
          }
        expect(most).toBeLessThanOrEqual(1);
      }
  });

  it('is turned as the slow formula says, to the edges of the picture', async () => {
    await fc.assert(
      fc.asyncProperty(crop, async (how) => {
        const sheet = cropGeometry(how as Crop, little);
        const made = await cut(sheet, { ...source, data: little.data });
        const exact = turnReference(little.data, 3, sheet);
        // Dither moves a value by half a level, and the table's phases by some more beside hard edges.
        let most = 0;
        made.forEach((value, i) => (most = Math.max(most, Math.abs(value - exact[i]!))));
        expect(most).toBeLessThan(3.2);
      }),
      { numRuns: 20 },
    );
  });

  it('of a part is that part of the whole, at its own size and smaller', async () => {
    for (const turn of [0, 7, 133]) {
      const sheet = cropGeometry({ centre: [0.5, 0.5], size: [0.6, 0.6], turn, flip: turn > 100 }, picture);
      for (const scale of [1, 0.6]) {
        const size = { width: Math.round(sheet.width * scale), height: Math.round(sheet.height * scale) };
        const all = await cut(sheet, source, size);
        const region = { x: 9, y: 5, width: size.width - 14, height: size.height - 9 };
        const part = await cut(sheet, source, size, region);
        let most = 0;
        for (let y = 0; y < region.height; y++)
          for (let x = 0; x < region.width * 3; x++) {
            const whole = all[(y + 5) * size.width * 3 + 27 + x]!;
            most = Math.max(most, Math.abs(part[y * region.width * 3 + x]! - whole));
          }
        expect(most).toBeLessThanOrEqual(1);
      }
    }
  });

  it('shows at half the size what it shows at its own', async () => {
    const [width, height] = [128, 96];
    const smooth = Uint8Array.from({ length: width * height * 3 }, (_, i) => {
      const [x, y] = [Math.floor(i / 3) % width, Math.floor(i / 3 / width)];
      return 128 + 90 * Math.sin(x / 17 + (i % 3)) * Math.cos(y / 13);
    });
    const from = { data: smooth, format: source.format };
    const sheet = cropGeometry({ ...AS_IT_CAME, size: [0.625, 0.75], turn: 12 }, fullCrop({ width, height }));
    const size = { width: sheet.width >> 1, height: sheet.height >> 1 };
    const [large, small] = [await cut(sheet, from), await cut(sheet, from, size)];
    for (let y = 2; y < size.height - 2; y++)
      for (let x = 2; x < size.width - 2; x++) {
        const at = (ox: number, oy: number): number => large[((2 * y + oy) * sheet.width + 2 * x + ox) * 3]!;
        const mean = (at(0, 0) + at(1, 0) + at(0, 1) + at(1, 1)) / 4;
        expect(Math.abs(small[(y * size.width + x) * 3]! - mean)).toBeLessThan(4);
      }
  });
});
