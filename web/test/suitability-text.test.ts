import type { SceneReading } from '@hazy-lens/core';
import { describe, expect, it } from 'vitest';
import { describeSuitability } from '../src/app/model/suitability-text';

const suit: SceneReading = { down: 25, horizon: -0.3, detail: 0.5, tallest: null, row: 0.5 };
const [view, detail, across] = [0, 1, 2].map(
  (which) => (part: Partial<SceneReading>) => describeSuitability({ ...suit, ...part })[which]!,
) as [
  (part: Partial<SceneReading>) => ReturnType<typeof describeSuitability>[number],
  (part: Partial<SceneReading>) => ReturnType<typeof describeSuitability>[number],
  (part: Partial<SceneReading>) => ReturnType<typeof describeSuitability>[number],
];

describe('the readings of a picture in words', () => {
  it('say how far the view looks down, and what that is good for', () => {
    expect(view({})).toMatchObject({
      suits: 'well',
      says: 'Looks down about 25°, like a view over a model.',
    });
    expect(view({ down: -7 })).toMatchObject({ suits: 'hardly', says: 'Eye level: the horizon is visible.' });
    expect(view({ down: 9 })).toMatchObject({ suits: 'partly', says: 'Looks down slightly, about 9°.' });
    expect(view({ down: 80 }).advice).toContain('Little depth to follow');
    expect(view({ down: null }).says).toContain('Camera angle unclear');
  });

  it('say how much detail there is', () => {
    expect(detail({ detail: 0.504 })).toMatchObject({
      suits: 'well',
      says: 'Fine detail in 50% of the picture.',
    });
    expect(detail({ detail: 0.2 }).suits).toBe('partly');
    expect(detail({ detail: 0 }).suits).toBe('hardly');
  });

  it('name what stands across the plane by where it is', () => {
    expect(across({})).toMatchObject({ suits: 'well', advice: 'One band is enough.' });
    expect(across({ tallest: { at: 0.5, from: 0.5, to: 0.7 } }).suits).toBe('well');
    expect(across({ down: 4 })).toMatchObject({
      suits: 'hardly',
      says: expect.stringContaining('Low viewpoint'),
    });
    for (const [at, where] of [
      [0.1, 'on the left'],
      [0.5, 'in the middle'],
      [0.9, 'on the right'],
    ] as const)
      expect(across({ tallest: { at, from: 0.1, to: 0.6 } })).toMatchObject({
        suits: 'partly',
        says: `A tall object ${where} covers 50% of the height.`,
      });
  });
});
