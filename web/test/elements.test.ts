import { type Recipe, parseRecipe, referencedFiles, renameReferences } from '@hazy-lens/core';
import { produce } from 'immer';
import { describe, expect, it } from 'vitest';
import {
  bandIn,
  duplicateElement,
  elementName,
  focusOf,
  focusPath,
  hasRoom,
  ownerOfBand,
} from '../src/app/model/elements';
import { assetNames } from '../src/app/storage/asset-names';

const recipe: Recipe = parseRecipe({
  format: 'hazy-lens-recipe',
  version: 1,
  focus: { bands: [{ id: 'p', kind: 'planar' }] },
  elements: [
    { id: 'a', image: 'element-1.png', focus: { bands: [{ id: 'e', kind: 'elliptical' }] } },
    { id: 'b', image: 'element-2.tif', name: 'Kite', centre: [2, 0.5] },
  ],
});

describe('elements of a recipe', () => {
  it('have a name, a focus, and a place of it', () => {
    expect([0, 1].map((i) => elementName(recipe.elements, i))).toEqual(['Element 1', 'Kite']);
    expect(focusOf(recipe, null)).toBe(recipe.focus);
    expect(focusOf(recipe, 'b')).toBe(recipe.elements[1]!.focus);
    expect(focusOf(recipe, 'gone')).toBe(recipe.focus);
    expect(focusPath(recipe, 'b')).toEqual(['elements', 1, 'focus']);
    expect(focusPath(recipe, null)).toEqual(['focus']);
  });

  it('own their bands', () => {
    expect(ownerOfBand(recipe, 'p')?.layer).toBeNull();
    expect(ownerOfBand(recipe, 'e')?.layer).toBe('a');
    expect(ownerOfBand(recipe, 'gone')).toBeNull();
    expect(bandIn(recipe, 'e')?.kind).toBe('elliptical');
    expect(bandIn(recipe, undefined)).toBeNull();
  });

  it('are doubled beside themselves, with bands of their own', () => {
    const { elements } = produce(recipe, (draft) => duplicateElement(draft, 'a', 'c'));
    expect(elements.map(({ id }) => id)).toEqual(['a', 'c', 'b']);
    expect(elements[1]!.name).toBe('Element 1 copy');
    expect(elements[1]!.focus.bands[0]!.id).not.toBe('e');
    expect(elements[1]!.centre[0]).toBeCloseTo(0.55, 9);
    const far = produce(recipe, (draft) => duplicateElement(draft, 'b', 'd'));
    expect(far.elements[2]!.centre[0]).toBe(2);
    expect(produce(recipe, (draft) => duplicateElement(draft, 'gone', 'd'))).toBe(recipe);
  });

  it('name their pictures, which are kept and renamed with the others', () => {
    expect(referencedFiles(recipe)).toEqual(['element-1.png', 'element-2.tif']);
    const other = renameReferences(recipe, new Map([['element-2.tif', 'element-9.tif']]));
    expect(referencedFiles(other)).toEqual(['element-1.png', 'element-9.tif']);
    expect(assetNames({ recipe })).toEqual(expect.arrayContaining(['element-1.png', 'element-2.tif']));
  });

  it('are 50 at most', () => {
    const [one] = recipe.elements;
    const full = { ...recipe, elements: Array.from({ length: 50 }, (_, i) => ({ ...one!, id: `${i}` })) };
    expect(hasRoom(recipe)).toBe(true);
    expect(hasRoom(full)).toBe(false);
  });
});
