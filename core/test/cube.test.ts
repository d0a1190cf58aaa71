import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { throughTable } from '../reference/lut';
import { CUBE_SIZE, type ColourLut, identityLut, formatCube, fromLinear, parseCube } from '../src/index';
import { between } from './arbitraries';
import { bytesOf, kernelsWith, recipe, renderPicture, testPicture } from './harness';

type Triple = [number, number, number];

const { memory, kernels } = await kernelsWith(1 << 22);
const floats = new Float32Array(memory.buffer);

/** A table of random colours. */
const tables = fc
  .record({
    kind: fc.constantFrom('lattice', 'curves'),
    size: fc.integer({ min: 2, max: 9 }),
    low: between(-0.2, 0.2),
    high: between(0.7, 1.3),
    seed: fc.integer({ min: 1, max: 1 << 30 }),
  })
  .map(({ kind, size, low, high, seed }) => {
    let at = seed;
    const next = (): number => ((at = (at * 16807) % 2147483647) % 1000) / 999;
    const count = kind === 'lattice' ? size ** 3 : size;
    const colours = Array.from({ length: count }, () => [next(), next(), next()].join(' '));
    const word = kind === 'lattice' ? 'LUT_3D_SIZE' : 'LUT_1D_SIZE';
    const domain = [`DOMAIN_MIN ${low} 0 0`, `DOMAIN_MAX ${high} 1 1`];
    return parseCube([`${word} ${size}`, ...domain, ...colours].join('\n'), 'random');
  });

/** What the kernels make of pixels. */
function throughKernel(
  { kind, size, from, to, values }: ColourLut,
  pixels: Triple[],
  share: number,
): Triple[] {
  const [row, plane, table, domain] = [64, 256, 4096, 32];
  floats.set(values, table / 4);
  floats.set([...from, ...from.map((low, c) => (size - 1) / (to[c]! - low))], domain / 4);
  pixels.forEach((rgb, i) => rgb.forEach((v, c) => (floats[(row + c * plane) / 4 + i] = v)));
  kernels[kind === 'lattice' ? 'lut3dRow' : 'lut1dRow'](
    row,
    plane,
    pixels.length,
    table,
    size,
    domain,
    share,
  );
  return pixels.map((_, i) => [0, 1, 2].map((c) => floats[(row + c * plane) / 4 + i]!) as Triple);
}

const coded = (v: number): number => fromLinear(Math.min(1, Math.max(0, v)));

describe('a table of colours', () => {
  it('has every step of each channel, red going fastest', () => {
    const { width, height, samples } = identityLut(5);
    expect([width * height, samples.length]).toEqual([125, 375]);
    const at = (r: number, g: number, b: number): number[] => {
      const i = (r + 5 * g + 25 * b) * 3;
      return [...samples.subarray(i, i + 3)];
    };
    expect(at(0, 0, 0)).toEqual([0, 0, 0]);
    expect(at(1, 0, 0)).toEqual([16384, 0, 0]);
    expect(at(4, 2, 1)).toEqual([65535, 32768, 16384]);
    expect(at(4, 4, 4)).toEqual([65535, 65535, 65535]);
  });

  it('is written as the format wants it: a title, its size, a line a colour', () => {
    const lines = formatCube('kite "noon"\nhigh', 2, identityLut(2).samples).split('\n');
    expect(lines[0]).toBe('TITLE "kite  noon  high"');
    expect(lines).toContain('LUT_3D_SIZE 2');
    expect(lines.filter((line) => /^[\d. ]+$/.test(line))).toEqual([
      '0.000000 0.000000 0.000000',
      '1.000000 0.000000 0.000000',
      '0.000000 1.000000 0.000000',
      '1.000000 1.000000 0.000000',
      '0.000000 0.000000 1.000000',
      '1.000000 0.000000 1.000000',
      '0.000000 1.000000 1.000000',
      '1.000000 1.000000 1.000000',
    ]);
  });

  it('is read as it was written', () => {
    const { samples } = identityLut(5);
    const table = parseCube(formatCube('grid', 5, samples), 'a');
    expect(table).toMatchObject({ id: 'a', kind: 'lattice', size: 5, from: [0, 0, 0], to: [1, 1, 1] });
    const nodes = Array.from({ length: 125 }, (_, i) => [...table.values.subarray(i * 4, i * 4 + 3)]).flat();
    nodes.forEach((value, i) => expect(value).toBeCloseTo(samples[i]! / 65535, 5));
  });

  it('is read with comments, other line ends, a domain, and curves of each channel', () => {
    const text =
      '# made by hand\r\nTITLE "ramp"\r\nLUT_1D_SIZE 3\r\nLUT_1D_INPUT_RANGE -0.5 2\r\n\r\n0 0 1\r\n.5 2e-1 .5\r\n1.5 -1 0\r\n';
    const { values, ...rest } = parseCube(text, 'b');
    expect(rest).toEqual({ id: 'b', kind: 'curves', size: 3, from: [-0.5, -0.5, -0.5], to: [2, 2, 2] });
    [0, 0.5, 1, 0, 0.2, 0, 1, 0.5, 0].forEach((value, i) => expect(values[i]).toBeCloseTo(value, 6));
  });

  it('that cannot be used is refused with a sentence', () => {
    const whole = formatCube('x', 3, identityLut(3).samples);
    const cases: [string, RegExp][] = [
      ['', /LUT size missing/],
      ['0 0 0', /LUT size missing/],
      [
        whole.split('\n').slice(0, 20).join('\n'),
        /holds 16 colours where 27 are wanted: it may be cut short/,
      ],
      [`${whole}0 0 0\n`, /holds 28 colours where 27 are wanted\./],
      [whole.replace('1.000000', 'nan'), /Line 7 should hold 3 numbers/],
      [whole.replace('1.000000', 'Infinity'), /should hold 3 numbers/],
      [whole.replace('SIZE 3', 'SIZE 129'), /has 129 steps; tables of 2 to 65/],
      [whole.replace('SIZE 3', 'SIZE 2.5'), /has 2\.5 steps/],
      [whole.replace('SIZE 3', 'SIZE'), /should hold a number/],
      [`LUT_1D_SIZE 4\n${whole}`, /says its size twice/],
      [whole.replace('MIN 0.0', 'MIN 1.0'), /DOMAIN_MIN/],
      ['\u0000\u0001 PNG', /should hold 3 numbers/],
      ['constructor 1 2', /should hold 3 numbers/],
    ];
    for (const [text, sentence] of cases) expect(() => parseCube(text, 'c')).toThrow(sentence);
  });

  it('is looked up as the definition says, by shares of it', () => {
    const light = fc.oneof(between(0, 1), between(-0.1, 3), fc.constantFrom(0, 1));
    fc.assert(
      fc.property(
        tables,
        fc.array(fc.tuple(light, light, light), { minLength: 8, maxLength: 8 }),
        between(0, 1),
        (table, pixels, share) => {
          const got = throughKernel(table, pixels, share);
          pixels.forEach((rgb, i) =>
            throughTable(table, rgb, share).forEach((v, c) =>
              expect(Math.abs(coded(got[i]![c]!) - coded(v))).toBeLessThan(0.4 / 255),
            ),
          );
        },
      ),
      { numRuns: 300 },
    );
  });

  it('of colours takes their place: half a step of 8 bits off in the mean, three at most', async () => {
    const colour = { contrast: 0.3, saturation: -0.4, warmth: 0.2, balance: { shadows: [0.01, -0.03] } };
    const { width, height, samples } = identityLut(CUBE_SIZE);
    const grid = { width, height, data: samples, channels: 3 as const };
    const written = await renderPicture(grid, recipe({ colour }));
    const table = parseCube(formatCube('x', CUBE_SIZE, new Uint16Array(written.buffer)), 'd');
    const picture = testPicture(96, 64);
    const exact = await renderPicture(picture, recipe({ colour }));
    const how = recipe({ colour: { look: { image: 'own.cube' } } });
    const looked = await renderPicture(picture, how, { pictures: { depth: null, keep: [], table } });
    const off = Array.from(exact, (v, i) => Math.abs(v - looked[i]!));
    expect(Math.max(...off)).toBeLessThanOrEqual(3);
    expect(off.reduce((a, b) => a + b) / off.length).toBeLessThan(0.5);
    const half = recipe({ colour: { look: { image: 'own.cube', amount: 0 } } });
    const none = await renderPicture(picture, half, { pictures: { depth: null, keep: [], table } });
    expect(Buffer.compare(bytesOf(none), bytesOf(picture.data))).toBe(0);
  });
});
