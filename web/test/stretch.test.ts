import { describe, expect, it } from 'vitest';
import { SoundStretcher } from '../src/app/engine/footage/stretch';

const RATE = 48_000;

/** A tone that is loud in the first tenth of every half second, and quiet in between. */
function ticking(seconds: number, hertz: number): Float32Array {
  return Float32Array.from({ length: seconds * RATE }, (_, i) => {
    const loudness = i % (RATE / 2) < RATE / 10 ? 0.4 : 0.04;
    return loudness * Math.sin((2 * Math.PI * hertz * i) / RATE);
  });
}

/** All of a sound at a speed, handed over in pieces. */
async function stretched(
  planes: readonly Float32Array[],
  speed: number,
  piece: number,
  length = Math.round(planes[0]!.length / speed),
): Promise<Float32Array[]> {
  const stretcher = await SoundStretcher.open(planes.length, RATE, speed);
  const made: Float32Array[][] = [];
  for (let at = 0; at < planes[0]!.length; at += piece)
    made.push(stretcher.add(planes.map((plane) => plane.slice(at, at + piece))));
  made.push(stretcher.finish(length));
  return planes.map((_, c) => Float32Array.from(made.flatMap((part) => [...part[c]!])));
}

const rises = (samples: Float32Array): number =>
  samples.filter((value, i) => i > 0 && samples[i - 1]! < 0 && value >= 0).length;

describe('stretched sound', () => {
  it.each([0.4, 0.75, 2, 6.3])('is %d times as fast, in time, and as high as before', async (speed) => {
    const [left, right] = await stretched([ticking(8, 440), ticking(8, 660)], speed, 7001);
    expect(left!.length).toBe(Math.round((8 * RATE) / speed));
    expect(right!.length).toBe(left!.length);
    const seconds = left!.length / RATE;
    expect(rises(left!) / seconds / 440).toBeCloseTo(1, 1);
    expect(rises(right!) / seconds / 660).toBeCloseTo(1, 1);
    if (speed > 2) return;
    for (let tick = 1; tick < 8 * 2; tick++) {
      const due = (tick / 2 / speed) * RATE;
      const before = Math.round(due - 0.06 * RATE);
      const heard = left!.subarray(before).findIndex((value) => Math.abs(value) > 0.2);
      expect(Math.abs(before + heard - due) / RATE).toBeLessThan(0.04);
    }
  });

  it('is the same however it is handed over', async () => {
    const sound = [ticking(2, 523)];
    const [whole] = await stretched(sound, 1.7, 1e6);
    for (const piece of [100, 4096, 30_011]) {
      const [other] = await stretched(sound, 1.7, piece);
      expect(other!.length).toBe(whole!.length);
      expect(Math.max(...other!.map((value, i) => Math.abs(value - whole![i]!)))).toBeLessThan(0.01);
    }
  });

  it('is silent where there is none, and as short as is asked for', async () => {
    expect((await stretched([new Float32Array(0)], 2, 1, 4800))[0]).toEqual(new Float32Array(4800));
    expect((await stretched([ticking(0.01, 440)], 2, 100))[0]!.length).toBe(240);
    const [short] = await stretched([ticking(3, 440)], 2, 4800, 100);
    expect(short!.length).toBeLessThan(1.6 * RATE);
  });
});
