import { describe, expect, it } from 'vitest';
import {
  type SceneReading,
  diagonal,
  readScene,
  resolveRecipe,
  suggestBand,
  uprightsAcrossFocus,
} from '../src/index';
import { focusField } from '../src/focus/field';
import { recipe } from './harness';

const [width, height] = [960, 640];
const DEGREE = Math.PI / 180;
const lens = height / (2 * Math.tan(22.5 * DEGREE));

interface Post {
  /** Where its line crosses the middle row, from the middle of the picture. */
  at: number;
  from: number;
  to: number;
}

/** Bright posts that stand upright in a view that looks down so far, on grey. */
function drawn(down: number, posts: readonly Post[]): Float32Array {
  const slope = Math.tan(down * DEGREE);
  const values = new Float32Array(width * height).fill(0.35);
  for (const { at, from, to } of posts)
    for (let y = Math.round(from * height); y < to * height; y++) {
      const x = width / 2 + (at * (lens - (y - height / 2) * slope)) / lens;
      for (let column = Math.ceil(x - 3); column <= x + 3; column++)
        if (column >= 0 && column < width)
          values[y * width + column] = Math.max(
            values[y * width + column]!,
            0.35 + 0.55 * Math.min(1, (3 - Math.abs(column - x)) / 1.5),
          );
    }
  return values;
}

const read = (values: Float32Array): SceneReading => readScene({ width, height, values });

/** Posts all over the picture, each a twelfth of the height. */
const many: Post[] = Array.from({ length: 90 }, (_, i) => {
  const from = 0.05 + ((i * 37) % 80) / 100;
  return { at: ((i * 61) % 90) * 10 - 440, from, to: from + 1 / 12 };
});

describe('the view of a picture', () => {
  it('is told by what stands upright, from level to steep', () => {
    for (const down of [0, 8, 20, 35, 50, 70]) {
      const suit = read(drawn(down, many));
      expect(Math.abs(suit.down! - down), `${down}°`).toBeLessThan(2.5);
      expect(suit.horizon).toBeCloseTo(0.5 - (lens * Math.tan(suit.down! * DEGREE)) / height, 6);
    }
  });

  it('is not told where nothing stands upright', () => {
    expect(read(new Float32Array(width * height).fill(0.5))).toMatchObject({
      down: null,
      horizon: null,
      detail: 0,
      tallest: null,
    });
    let seed = 1;
    const noise = new Float32Array(width * height).map(
      () => (seed = (seed * 16807) % 2147483647) / 2147483647,
    );
    expect(read(noise)).toMatchObject({ down: null, tallest: null });
  });

  it('is read of pictures of any size', () => {
    for (const [w, h] of [
      [1, 1],
      [1, 300],
      [3, 2],
      [17, 960],
    ] as const) {
      const suit = readScene({ width: w, height: h, values: new Float32Array(w * h) });
      expect(suit.detail).toBe(0);
      expect(Number.isFinite(suit.row)).toBe(true);
    }
  });
});

describe('what else is read', () => {
  it('is the tallest upright thing, where it stands and how high', () => {
    const tall = { at: -240, from: 0.2, to: 0.75 };
    const { tallest } = read(drawn(20, [...many, tall]));
    expect(tallest!.at).toBeCloseTo(0.25, 1);
    expect(tallest!.from).toBeCloseTo(0.2, 1);
    expect(tallest!.to).toBeCloseTo(0.75, 1);
    const { from, to } = read(drawn(20, many)).tallest!;
    expect(to - from).toBeLessThan(0.25);
  });

  it('is how much of it has detail, and the row that has most', () => {
    const values = new Float32Array(width * height).fill(0.4);
    for (let y = Math.round(0.55 * height); y < 0.65 * height; y++)
      for (let x = 0; x < width; x++) values[y * width + x] = (x >> 2) % 2 ? 0.9 : 0.1;
    const { detail, row } = read(values);
    expect(detail).toBeGreaterThan(0.07);
    expect(detail).toBeLessThan(0.17);
    expect(row).toBeCloseTo(0.6, 1);
  });
});

describe('the first band', () => {
  const suit: SceneReading = { down: 22, horizon: -0.4, detail: 0.5, tallest: null, row: 0.55 };
  const size = { width: 4800, height: 3200 };
  const bandOf = (read: SceneReading) => suggestBand(read, size, 'suited');

  it('lies along the row of most detail, and grows hazy evenly to both sides, as on ground that recedes', () => {
    const band = bandOf(suit);
    const { focus } = recipe({ focus: { bands: [band] } });
    const haze = focusField(focus, size);
    const at = (row: number): number => haze(size.width / 2, row * size.height);
    expect(at(0.55)).toBe(0);
    for (const away of [0.1, 0.2, 0.3]) expect(at(0.55 - away)).toBeCloseTo(at(0.55 + away), 9);
    expect(at(0.35) - at(0.4)).toBeCloseTo(at(0.3) - at(0.35), 9);
    expect(at(0.01)).toBeGreaterThan(0.9);
    expect(() => resolveRecipe(recipe({ focus: { bands: [band] } }), size)).not.toThrow();
  });

  it('is narrower, and hazy sooner, where the horizon is near', () => {
    const [high, low] = [bandOf(suit), bandOf({ ...suit, horizon: 0.25 })];
    expect(low.far.clear).toBeLessThan(high.far.clear);
    expect(low.near.falloff).toBeLessThan(high.near.falloff);
    for (const horizon of [null, 0.9, -30]) {
      const { clear, falloff } = bandOf({ ...suit, horizon }).near;
      expect(clear * diagonal(size)).toBeGreaterThan(0);
      expect(falloff).toBeGreaterThanOrEqual(0.1);
    }
  });
});

describe('what stands across the plane', () => {
  const tallest = { at: 0.5, from: 0.2, to: 0.6 };
  const of = (down: number | null, thing: SceneReading['tallest'] = null): string =>
    uprightsAcrossFocus({ down, horizon: null, detail: 0.5, tallest: thing, row: 0.5 });

  it('is all that stands in a low view, something tall in a high one, nothing from straight above', () => {
    expect([of(4), of(4, tallest)]).toEqual(['all', 'all']);
    expect([of(25), of(25, tallest), of(25, { ...tallest, to: 0.4 })]).toEqual(['nothing', 'something', 'nothing']); // prettier-ignore
    expect(of(80, tallest)).toBe('nothing');
    expect(of(null)).toBe('nothing');
  });
});
