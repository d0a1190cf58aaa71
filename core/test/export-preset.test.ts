import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  type ExportPreset,
  defaultExportSettings,
  exportPresetSchema,
  exportSize,
  parsePresets,
  presetsText,
  sharpenForOutput,
  sharpeningAt,
} from '../src/index';

const preset = (parts: Partial<ExportPreset>): ExportPreset =>
  exportPresetSchema.parse({ ...defaultExportSettings(), name: 'web', ...parts });

describe('export presets', () => {
  it('come back from their file as they were', () => {
    const presets = [
      preset({ size: { by: 'long-edge', px: 2400 }, sharpening: 0.5 }),
      preset({ name: 'print', kind: 'tiff', bits: 16, size: { by: 'megapixels', mp: 12.5 } }),
      preset({
        name: 'both',
        clip: { kind: 'webm', holds: 'bitrate', quality: 80, rate: 6 },
        size: { by: 'percent', percent: 50 },
      }),
    ];
    expect(parsePresets(presetsText(presets))).toEqual(presets);
  });

  it('have defaults for what is not said', () => {
    const text = JSON.stringify({
      format: 'hazy-lens-presets',
      version: 1,
      presets: [{ name: ' small ', kind: 'webp' }],
    });
    expect(parsePresets(text)).toEqual([
      { ...defaultExportSettings(), name: 'small', kind: 'webp', clip: null },
    ]);
  });

  it.each([
    ['no JSON', '{', /no valid JSON/],
    ['another format', '{"format":"else","version":1,"presets":[]}', /^format: /],
    ['a newer version', '{"format":"hazy-lens-presets","version":2}', /version 2\. Update/],
    ['none', '{"format":"hazy-lens-presets","version":1,"presets":[]}', /^presets: /],
    ['a field that is none', presetsText([{ ...preset({}), dpi: 300 } as never]), /presets\.0: .*dpi/],
    [
      'a size of nothing',
      presetsText([preset({}), { ...preset({}), size: { by: 'long-edge', px: 0 } }]),
      /presets\.1\.size\.px/,
    ],
    ['null', 'null', /./],
    ['a list', '[]', /./],
  ])('refuse %s by name', (_, text, says) => {
    expect(() => parsePresets(text)).toThrow(says);
  });

  it('give sizes that keep the shape and are never larger than the picture', () => {
    const picture = { width: 6000, height: 4000 };
    expect(exportSize(picture, { by: 'full' })).toEqual(picture);
    expect(exportSize(picture, { by: 'long-edge', px: 2400 })).toEqual({ width: 2400, height: 1600 });
    expect(exportSize(picture, { by: 'short-edge', px: 1000 })).toEqual({ width: 1500, height: 1000 });
    expect(exportSize(picture, { by: 'megapixels', mp: 6 })).toEqual({ width: 3000, height: 2000 });
    expect(exportSize(picture, { by: 'percent', percent: 25 })).toEqual({ width: 1500, height: 1000 });
    const any = fc.integer({ min: 1, max: 9000 });
    fc.assert(
      fc.property(any, any, any, (width, height, px) => {
        for (const by of ['long-edge', 'short-edge'] as const) {
          const made = exportSize({ width, height }, { by, px: Math.max(16, px) });
          expect(made.width).toBeLessThanOrEqual(width);
          expect(made.height).toBeLessThanOrEqual(height);
          expect(Math.min(made.width, made.height)).toBeGreaterThan(0);
        }
      }),
    );
  });
});

describe('sharpening for output', () => {
  const size = { width: 12, height: 8 };
  const format = { channels: 3, bytes: 1 } as const;
  /** Dark on the left, light on the right. */
  const edge = (channels: 3 | 4 = 3): Uint8Array =>
    Uint8Array.from({ length: size.width * size.height * channels }, (_, i) => {
      if (i % channels === 3) return 255;
      return Math.floor(i / channels) % size.width < 6 ? 100 : 140;
    });
  const haze = (value: number): Uint16Array => new Uint16Array(size.width * size.height).fill(value);

  it('is the difference to what is around, by a formula', () => {
    const made = edge();
    sharpenForOutput(made, format, size, haze(0), 1);
    // Beside the edge a quarter of what is around lies on the other side: 1.5 x 40 / 4.
    expect([4, 5, 6, 7].map((x) => made[x * 3])).toEqual([100, 85, 155, 140]);
  });

  it('leaves what is hazy, and rises as the haze falls', () => {
    const contrast = (value: number): number => {
      const made = edge();
      sharpenForOutput(made, format, size, haze(value), 1);
      return made[6 * 3]! - made[5 * 3]!;
    };
    expect(contrast(65535)).toBe(40);
    expect(contrast(0.25 * 65535)).toBe(40);
    expect(contrast(0.12 * 65535)).toBeGreaterThan(40);
    expect(contrast(0)).toBeGreaterThan(contrast(0.12 * 65535));
  });

  it('says the same at 16 bits, keeps colours, and leaves rims of transparent places', () => {
    const deep = Uint16Array.from(edge(), (value) => value * 257);
    sharpenForOutput(deep, { channels: 3, bytes: 2 }, size, haze(0), 0.5);
    const plain = edge();
    sharpenForOutput(plain, format, size, haze(0), 0.5);
    for (const [i, value] of plain.entries())
      expect(Math.abs(deep[i]! / 257 - value)).toBeLessThanOrEqual(0.5);
    const cut = edge(4);
    for (let y = 0; y < size.height; y++) cut[4 * (y * size.width + 6) + 3] = 200;
    const before = cut.slice();
    sharpenForOutput(cut, { channels: 4, bytes: 1 }, size, haze(0), 1);
    expect(cut).toEqual(before);
  });

  it('is half at full size, and all at half the size and less', () => {
    expect([1, Math.SQRT1_2, 0.5, 0.1].map((scale) => sharpeningAt(0.8, scale))).toEqual([
      expect.closeTo(0.4),
      expect.closeTo(0.6),
      expect.closeTo(0.8),
      expect.closeTo(0.8),
    ]);
  });
});
