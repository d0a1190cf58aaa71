import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Crop, cropGeometry, toCrop } from '@hazy-lens/core';
import {
  type CropHandle,
  cornersOf,
  setCropAspect,
  levelTurn,
  moveCrop,
  resizeCrop,
  quarterTurned,
  rotateCrop,
} from '../src/app/model/crop';

const picture = { width: 400, height: 300 };
const WHOLE: Crop = { centre: [0.5, 0.5], size: [1, 1], turn: 0, flip: false };
const by = fc.integer({ min: -600, max: 600 });
const turn = fc.integer({ min: -1790, max: 1790 }).map((tenths) => tenths / 10);
const pull = fc.constantFrom<CropHandle>(
  [-1, 0],
  [1, 0],
  [0, -1],
  [0, 1],
  [-1, -1],
  [1, -1],
  [-1, 1],
  [1, 1],
);
/** A crop that lies inside the picture. */
const inside = fc
  .tuple(turn, by, by, by, by)
  .map(([angle, a, b, c, d]) =>
    resizeCrop(moveCrop(rotateCrop({ ...WHOLE, size: [0.5, 0.5] }, picture, angle), picture, a, b), picture, [1, 1], c, d, null),
  ); // prettier-ignore

function expectInside(crop: Crop): void {
  for (const [x, y] of cornersOf(crop, picture)) {
    expect(Math.min(x, picture.width - x)).toBeGreaterThan(-1e-6);
    expect(Math.min(y, picture.height - y)).toBeGreaterThan(-1e-6);
  }
}
const sides = ({ size }: Crop): [number, number] => [size[0] * picture.width, size[1] * picture.height];

describe('a crop in the hand', () => {
  it('never leaves the picture, however it is pulled, moved, turned and formed', () => {
    fc.assert(
      fc.property(inside, pull, by, by, turn, (start, way, dx, dy, angle) => {
        expectInside(start);
        expectInside(moveCrop(start, picture, dx, dy));
        expectInside(resizeCrop(start, picture, way, dx, dy, null));
        expectInside(resizeCrop(start, picture, way, dx, dy, 1.5));
        expectInside(rotateCrop(start, picture, angle));
        expectInside(setCropAspect(start, picture, 16 / 9));
      }),
    );
  });

  it('keeps the side that is not pulled where it is, and its form where one is held', () => {
    fc.assert(
      fc.property(inside, by, by, (start, dx, dy) => {
        const [a] = cornersOf(start, picture);
        const [b] = cornersOf(resizeCrop(start, picture, [1, 1], dx, dy, null), picture);
        expect(b![0]).toBeCloseTo(a![0], 6);
        expect(b![1]).toBeCloseTo(a![1], 6);
        const formed = setCropAspect(start, picture, 1.5);
        const [w, h] = sides(resizeCrop(formed, picture, [1, 1], dx, dy, 1.5));
        expect(w / h).toBeCloseTo(1.5, 6);
      }),
    );
  });

  it('follows the hand while there is room, and slides along the picture’s edge where there is none', () => {
    const start = { ...WHOLE, size: [0.5, 0.5] as [number, number] };
    expect(sides(resizeCrop(start, picture, [1, 1], 30, -20, null)).map(Math.round)).toEqual([230, 130]);
    expect(sides(resizeCrop(start, picture, [1, 1], 500, -20, null)).map(Math.round)).toEqual([300, 130]);
    expect(moveCrop(start, picture, 500, 30).centre.map((v) => Number(v.toFixed(6)))).toEqual([0.75, 0.6]);
  });

  it('makes a drawn line level or upright, whichever is nearer', () => {
    fc.assert(
      fc.property(by, by, by, by, (ax, ay, bx, by) => {
        fc.pre(Math.hypot(bx - ax, by - ay) > 1);
        const level = levelTurn([ax, ay], [bx, by]);
        expect(Math.abs(level)).toBeLessThanOrEqual(45);
        const sheet = cropGeometry(rotateCrop({ ...WHOLE, size: [0.3, 0.3] }, picture, level), picture);
        const [from, to] = [toCrop(sheet, [ax, ay]), toCrop(sheet, [bx, by])];
        const [dx, dy] = [Math.abs(to[0] - from[0]), Math.abs(to[1] - from[1])];
        expect(Math.min(dx, dy)).toBeLessThan(1e-6 * Math.max(dx, dy) + 1e-9);
      }),
    );
  });

  it('is itself again after four quarter turns', () => {
    const start = { ...WHOLE, size: [0.4, 0.2] as [number, number], turn: 10 };
    let now: Crop = start;
    for (let i = 0; i < 4; i++) now = quarterTurned(now, picture);
    expect(now.turn).toBe(10);
    now.size.forEach((side, i) => expect(side).toBeCloseTo(start.size[i]!, 9));
    const [w, h] = sides(quarterTurned(start, picture));
    expect([w, h].map(Math.round)).toEqual([60, 160]);
  });
});
