import { parseRecipe } from '@hazy-lens/core';
import { describe, expect, it } from 'vitest';
import { withLook } from '../src/app/model/looks';

const colourOf = (colour: object) => parseRecipe({ format: 'hazy-lens-recipe', version: 1, colour }).colour;

describe('colours under another look', () => {
  it('keep what is one’s own, and how strong the look before was', () => {
    const colour = colourOf({ exposure: 0.3, look: { name: 'enamel', amount: 0.4 } });
    const other = withLook(colour, 'plum dusk');
    expect(other).toMatchObject({ exposure: 0.3, look: { name: 'plum dusk', amount: 0.4 } });
    expect(withLook(colourOf({}), 'kite noon').look).toEqual({ name: 'kite noon', amount: 1 });
  });

  it('are seen even where the colours were off, and have none of it where none is chosen', () => {
    expect(withLook(colourOf({ on: false }), 'enamel').on).toBe(true);
    const none = withLook(colourOf({ look: { name: 'enamel' } }), null);
    expect(none).not.toHaveProperty('look');
    expect(() => parseRecipe({ format: 'hazy-lens-recipe', version: 1, colour: none })).not.toThrow();
  });
});
