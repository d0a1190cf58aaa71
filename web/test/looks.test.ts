import { parseRecipe, referencedFiles, renameReferences } from '@hazy-lens/core';
import { describe, expect, it } from 'vitest';
import { choiceOf, withLook } from '../src/app/model/looks';

const colourOf = (colour: object) => parseRecipe({ format: 'hazy-lens-recipe', version: 1, colour }).colour;

describe('colours under another look', () => {
  it('keep what is one’s own, and how strong the look before was', () => {
    const colour = colourOf({ exposure: 0.3, look: { name: 'enamel', amount: 0.4 } });
    const other = withLook(colour, { name: 'plum dusk' });
    expect(other).toMatchObject({ exposure: 0.3, look: { name: 'plum dusk', amount: 0.4 } });
    expect(withLook(colourOf({}), { name: 'kite noon' }).look).toEqual({ name: 'kite noon', amount: 1 });
  });

  it('are seen even where the colours were off, and have none of it where none is chosen', () => {
    expect(withLook(colourOf({ on: false }), { name: 'enamel' }).on).toBe(true);
    const none = withLook(colourOf({ look: { name: 'enamel' } }), null);
    expect(none).not.toHaveProperty('look');
    expect(() => parseRecipe({ format: 'hazy-lens-recipe', version: 1, colour: none })).not.toThrow();
  });

  it('name either a look of ours or the file of a table, and know which', () => {
    const table = withLook(colourOf({ look: { name: 'enamel', amount: 0.4 } }), { image: 'own.cube' });
    expect(table.look).toEqual({ image: 'own.cube', amount: 0.4 });
    expect(choiceOf(table)).toEqual({ image: 'own.cube' });
    expect(choiceOf(colourOf({ look: { name: 'enamel' } }))).toEqual({ name: 'enamel' });
    expect(choiceOf(colourOf({}))).toBeNull();
    for (const look of [{}, { name: 'enamel', image: 'own.cube' }, { image: '../own.cube' }])
      expect(() => colourOf({ look })).toThrow(/colour\.look/);
  });

  it('take the file of their table along with the recipe', () => {
    const recipe = parseRecipe({
      format: 'hazy-lens-recipe',
      version: 1,
      colour: { look: { image: 'own.cube' } },
    });
    expect(referencedFiles(recipe)).toEqual(['own.cube']);
    expect(referencedFiles(renameReferences(recipe, new Map([['own.cube', 'fresh.cube']])))).toEqual([
      'fresh.cube',
    ]);
  });
});
