import { describe, expect, it } from 'vitest';
import { frameColours } from '../src/tidy/mend/frame-colours';
import {
  type Carry,
  type FramePixels,
  type FrameFormat,
  type Mend,
  IDENTITY_CARRY,
  Scratch,
  frameBytes,
  compositePatch,
  mendPatch,
  mendSamples,
} from '../src/index';
import { kernelModule, psnr, recipe } from './harness';

const size = { width: 160, height: 120 };
const FORMATS: [string, FrameFormat][] = [
  ['8 bits', { channels: 3, bytes: 1 }],
  ['16 bits', { channels: 4, bytes: 2 }],
  ['planes', { matrix: 'bt709', range: 'limited' }],
  ['planes of full range', { matrix: 'bt601', range: 'full' }],
];
const all = { x: 0, y: 0, ...size };

/** A frame of a colour at each place. */
function frame(format: FrameFormat, of: (x: number, y: number) => readonly number[]): FramePixels {
  const made = { ...size, format, pixels: new Uint8Array(frameBytes(format, size)) };
  const colours = Float32Array.from(
    Array.from({ length: size.width * size.height }, (_, i) =>
      of(i % size.width, Math.floor(i / size.width)),
    ).flat(),
  );
  frameColours(made).write(all, colours, new Uint8Array(size.width * size.height).fill(1));
  return made;
}

const copyOf = (one: FramePixels): FramePixels => ({ ...one, pixels: one.pixels.slice() });

/** Ground with soft detail, which a spot lies on; the view has moved, and the light has changed. */
const ground = (x: number, y: number): [number, number, number] => [
  0.45 + 0.12 * Math.sin(x / 9) + 0.05 * Math.cos(y / 6),
  0.5 + 0.1 * Math.sin(y / 11 + x / 30),
  0.35 + 0.06 * Math.cos(x / 14 - y / 8),
];
const isSpot = (x: number, y: number): boolean => Math.hypot(x - 80, y - 60) < 6;

function mendOf(parts: Partial<Mend>): Mend {
  const mend = { id: 'm', kind: 'fill', radius: 0.05, softness: 0.3, points: [[0.503, 0.504]], ...parts };
  return recipe({ tidy: { mends: [mend] } }).tidy.mends[0]!;
}

const spotted = (format: FrameFormat) => frame(format, (x, y) => (isSpot(x, y) ? [1, 1, 1] : ground(x, y)));

describe('a mend on footage', () => {
  it.each(FORMATS)('reads and writes colours of frames of %s', (_, format) => {
    const made = frame(format, ground);
    const colours = frameColours(made);
    const own = new Float32Array(3);
    for (const [x, y] of [[0, 0], [33, 70], [159, 119]] as const) {
      colours.read(x, y, own, 0);
      // Chroma of planes is that of four pixels.
      ground(x, y).forEach((value, c) => expect(Math.abs(own[c]! - value)).toBeLessThan(0.02));
    } // prettier-ignore
    const before = made.pixels.slice();
    colours.write(
      all,
      new Float32Array(size.width * size.height * 3),
      new Uint8Array(size.width * size.height),
    );
    expect(made.pixels).toEqual(before);
  });

  it.each(FORMATS)('of %s is on its own frame what it is on a still', async (_, format) => {
    const scratch = new Scratch();
    const home = spotted(format);
    const patch = (await mendPatch(scratch, kernelModule, home, mendOf({})))!;
    const laid = copyOf(home);
    compositePatch(laid, patch, IDENTITY_CARRY);
    const still = frame({ channels: 3, bytes: 1 }, (x, y) => (isSpot(x, y) ? [1, 1, 1] : ground(x, y)));
    await mendSamples(scratch, kernelModule, { ...size, data: still.pixels, channels: 3 }, mendOf({}));
    const own = new Float32Array(3);
    const inside = (of: FramePixels): number[] => {
      const found: number[] = [];
      for (let y = 50; y < 70; y++)
        for (let x = 70; x < 90; x++) {
          frameColours(of).read(x, y, own, 0);
          found.push(...[...own].map((value) => 255 * value));
        }
      return found;
    };
    expect(psnr(inside(laid), inside(still))).toBeGreaterThan(38);
  });

  it.each(FORMATS)('of %s goes along, and takes the light of each frame', async (_, format) => {
    const patch = (await mendPatch(new Scratch(), kernelModule, spotted(format), mendOf({})))!;
    const carry: Carry = { shift: [14 / 160, -9 / 120], turn: 0, scale: 1 };
    // Brighter, and more so to the right; somebody in black walks by close to it.
    const light = (x: number): number => 1.1 + x / 800;
    const passes = (x: number, y: number): boolean => x > 106 && x < 112 && y > 30 && y < 70;
    const seen = (hasSpot: boolean) => (x: number, y: number) => {
      if (passes(x, y)) return [0, 0, 0];
      const [u, v] = [x - 14, y + 9];
      return hasSpot && isSpot(u, v) ? [1, 1, 1] : ground(u, v).map((value) => value * light(x));
    };
    const [now, truth] = [frame(format, seen(true)), frame(format, seen(false))];
    const before = copyOf(now);
    compositePatch(now, patch, carry);
    const inside = (of: FramePixels): number[] => {
      const colours = frameColours(of);
      const own = new Float32Array(3);
      const found: number[] = [];
      for (let y = 45; y < 58; y++)
        for (let x = 88; x < 101; x++) {
          colours.read(x, y, own, 0);
          found.push(...[...own].map((value) => 255 * value));
        }
      return found;
    };
    expect(psnr(inside(now), inside(truth))).toBeGreaterThan(psnr(inside(before), inside(truth)) + 12);
    expect(psnr(inside(now), inside(truth))).toBeGreaterThan(27);
    // Far from it every byte is as it was.
    const own = new Float32Array(3);
    const was = new Float32Array(3);
    for (const [x, y] of [[20, 20], [80, 66], [109, 50], [94, 70]] as const) {
      frameColours(now).read(x, y, own, 0);
      frameColours(before).read(x, y, was, 0);
      expect(own).toEqual(was);
    } // prettier-ignore
  });

  it('copies from beside it on each frame, wherever both have gone', async () => {
    const format = { channels: 3, bytes: 1 } as const;
    const copy = mendOf({ kind: 'copy', from: [0.25, 0] });
    const patch = (await mendPatch(new Scratch(), kernelModule, spotted(format), copy))!;
    const now = frame(format, (x) => [x / 160, 0.5, 0.5]);
    compositePatch(now, patch, { ...IDENTITY_CARRY, shift: [-20 / 160, 0] });
    const own = new Float32Array(3);
    frameColours(now).read(60, 60, own, 0);
    expect(own[0]).toBeCloseTo(100 / 160, 1);
  });

  it('that is carried out of the picture, or lies outside of it, changes nothing', async () => {
    const format = { channels: 3, bytes: 1 } as const;
    const home = spotted(format);
    const patch = (await mendPatch(new Scratch(), kernelModule, home, mendOf({})))!;
    for (const shift of [[1.5, 0], [0, -1.2], [-3, 3]] as [number, number][]) {
      const now = copyOf(home);
      compositePatch(now, patch, { ...IDENTITY_CARRY, shift });
      expect(now.pixels).toEqual(home.pixels);
    } // prettier-ignore
    expect(await mendPatch(new Scratch(), kernelModule, home, mendOf({ points: [[-0.9, 0.5]] }))).toBeNull();
    // Half of it is still there.
    const edge = copyOf(home);
    compositePatch(edge, patch, { ...IDENTITY_CARRY, shift: [0.5, 0] });
    expect(edge.pixels).not.toEqual(home.pixels);
  });
});
