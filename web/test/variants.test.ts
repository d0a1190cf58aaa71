import { neutralRecipe } from '@hazy-lens/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  parseVariants,
  variantsOf,
  withChosen,
  withVariant,
  withVariantName,
  withoutVariant,
} from '../src/app/model/variants';
import type { ProjectDocument } from '../src/app/model/project';

const contrasty = (work: ProjectDocument, contrast: number): ProjectDocument => ({
  ...work,
  recipe: { ...work.recipe, colour: { ...work.recipe.colour, contrast } },
});
const contrasts = (work: ProjectDocument): [string, number][] =>
  variantsOf(work).map(({ name, recipe }) => [name, recipe.colour.contrast]);

describe('variants', () => {
  let count = 0;
  const newId = (): string => `v${++count}`;

  it('are made from the present one, which stays as it was when the new one changes', () => {
    const two = contrasty(withVariant(contrasty({ recipe: neutralRecipe() }, 0.1), newId), 0.5);
    expect(contrasts(two)).toEqual([['Variant 1', 0.1], ['Variant 2', 0.5]]); // prettier-ignore
    const back = withChosen(two, variantsOf(two)[0]!.id);
    expect(back.recipe.colour.contrast).toBe(0.1);
    expect(contrasts(contrasty(back, 0.2))).toEqual([['Variant 1', 0.2], ['Variant 2', 0.5]]); // prettier-ignore
  });

  it('lose nothing, whatever is made, changed, chosen, named and taken away', () => {
    const act = fc.constantFrom('make', 'change', 'choose', 'name', 'remove');
    fc.assert(
      fc.property(fc.array(fc.tuple(act, fc.nat(6)), { maxLength: 25 }), (acts) => {
        let work: ProjectDocument = { recipe: neutralRecipe() };
        // What each should be, by its id.
        let wanted = new Map<string, number>();
        for (const [what, n] of acts) {
          const list = variantsOf(work);
          const { id } = list[n % Math.max(1, list.length)] ?? { id: '' };
          if (what === 'make') work = withVariant(work, newId);
          else if (what === 'change') work = contrasty(work, n / 10);
          else if (what === 'choose') work = withChosen(work, id);
          else if (what === 'name') work = withVariantName(work, id, `named ${n}`);
          else work = withoutVariant(work, id);
          const now = new Map(variantsOf(work).map((one) => [one.id, one.recipe.colour.contrast]));
          for (const [known, contrast] of now)
            if (known !== work.variants?.current && wanted.has(known))
              expect(contrast).toBe(wanted.get(known));
          if (work.variants) expect(now.get(work.variants.current)).toBe(work.recipe.colour.contrast);
          expect(now.size).not.toBe(1);
          wanted = now;
        }
      }),
    );
  });

  it('that were stored come back, but for what is damaged', () => {
    const work = withVariant({ recipe: neutralRecipe() } as ProjectDocument, newId);
    const { variants } = JSON.parse(JSON.stringify(work)) as ProjectDocument;
    expect(parseVariants(variants)).toEqual(work.variants);
    const list = variants!.list;
    expect(
      parseVariants({ list: [...list, { id: 'x', name: 'y', recipe: 5 }], current: list[0]!.id })?.list,
    ).toHaveLength(2);
    for (const broken of [
      null,
      {},
      { list: 3, current: 'a' },
      { list: [list[0]], current: list[0]!.id },
      { list, current: 'gone' },
    ])
      expect(parseVariants(broken)).toBeUndefined();
  });
});
