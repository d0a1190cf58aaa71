import { describe, expect, it } from 'vitest';
import { cubeGrid, cubeText } from '../src/index';

describe('a table of colours', () => {
  it('has every step of each channel, red going fastest', () => {
    const { width, height, samples } = cubeGrid(5);
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
    const lines = cubeText('kite "noon"\nhigh', 2, cubeGrid(2).samples).split('\n');
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
});
