import { describe, expect, it } from 'vitest';
import { type FileFacts, adviseOpening } from '../src/app/model/opening';

const names = (count: number, extension = 'jpg'): string[] =>
  Array.from({ length: count }, (_, i) => `loop_${String(i + 1).padStart(4, '0')}.${extension}`);

/** Facts of files that were taken at these seconds. */
const facts = (seconds: (number | null)[], size: string | null = '1920 x 1080'): FileFacts[] =>
  seconds.map((at, i) => ({ name: names(i + 1).at(-1)!, size, taken: at === null ? null : at * 1000 }));

const timer = [0, 5, 10, 15, 20, 25, 30, 35, 40, 45, 50, 55];

describe('several pictures', () => {
  it('are a clip where their numbers, sizes and times say so', () => {
    expect(adviseOpening(names(240), facts(timer))).toEqual({
      as: 'clip',
      because: 'They are numbered and of one size, taken 5.0 s apart.',
      canBeClip: true,
    });
    // Rendered frames have no date.
    expect(adviseOpening(names(240), facts(timer.map(() => null)))).toMatchObject({ as: 'clip' });
    // Copies have the same date all.
    expect(adviseOpening(names(240), facts(timer.map(() => 7)))).toMatchObject({ as: 'clip' });
  });

  it('are not where a camera merely counted, or sizes differ, or they are few', () => {
    expect(adviseOpening(names(240), facts([0, 2, 3, 400, 401, 9000]))).toMatchObject({
      as: 'batch',
      because: 'They are numbered, but were taken at uneven times.',
    });
    const mixed = [...facts([0, 5]), ...facts([10], '1080 x 1920')];
    expect(adviseOpening(names(3), mixed)).toMatchObject({
      as: 'projects',
      because: 'They are numbered, but differ in size.',
    });
    expect(adviseOpening(names(3), facts([0, 5, 10]))).toMatchObject({ as: 'projects', canBeClip: true });
    expect(adviseOpening(['kites.jpg', 'fair.jpg'], facts([0, 5]))).toMatchObject({ as: 'projects' });
    expect(
      adviseOpening(
        Array.from({ length: 9 }, (_, i) => `${'abcdefghi'[i]}.jpg`),
        [],
      ),
    ).toMatchObject({ as: 'batch' });
  });

  it('cannot be a clip where one of them is no frame', () => {
    expect(adviseOpening([...names(20), 'walk.mp4'], facts(timer))).toMatchObject({
      as: 'batch',
      canBeClip: false,
    });
    expect(adviseOpening(names(20, 'heic'), facts(timer))).toMatchObject({ canBeClip: false });
  });
});
