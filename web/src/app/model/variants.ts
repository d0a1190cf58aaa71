import { type Recipe, repairRecipe } from '@hazy-lens/core';

/** A named version of a project. */
export interface Variant {
  id: string;
  name: string;
  recipe: Recipe;
}

/** The versions of a project. What is worked on is one of them: its recipe here is as old as when it was last left. */
export interface Variants {
  list: readonly Variant[];
  current: string;
}

/** Work that may have versions. */
interface Versioned {
  recipe: Recipe;
  variants?: Variants;
}

/** The versions as they are now, the present one too; none where the project has only one. */
export function variantsOf({ recipe, variants }: Versioned): readonly Variant[] {
  return variants?.list.map((one) => (one.id === variants.current ? { ...one, recipe } : one)) ?? [];
}

/** Work with a new version of it, made from the present one, which goes on as the new one. */
export function withVariant<W extends Versioned>(work: W, newId: () => string): W {
  const list = [...variantsOf(work)];
  if (list.length === 0) list.push({ id: newId(), name: 'Variant 1', recipe: work.recipe });
  const id = newId();
  const names = new Set(list.map(({ name }) => name));
  let number = list.length + 1;
  while (names.has(`Variant ${number}`)) number++;
  list.push({ id, name: `Variant ${number}`, recipe: work.recipe });
  return { ...work, variants: { list, current: id } };
}

/** Work that goes on with another version; the present one is kept as it is. */
export function withChosen<W extends Versioned>(work: W, id: string): W {
  const list = variantsOf(work);
  const chosen = list.find((one) => one.id === id);
  return chosen ? { ...work, recipe: chosen.recipe, variants: { list, current: id } } : work;
}

export function withVariantName<W extends Versioned>(work: W, id: string, name: string): W {
  if (!work.variants) return work;
  const list = work.variants.list.map((one) => (one.id === id ? { ...one, name } : one));
  return { ...work, variants: { ...work.variants, list } };
}

/** Work without a version that is not the present one; where one is left, it is the project, and has no name of its own. */
export function withoutVariant<W extends Versioned>(work: W, id: string): W {
  const { variants, ...alone } = work;
  if (!variants || id === variants.current) return work;
  const list = variants.list.filter((one) => one.id !== id);
  return list.length > 1 ? { ...work, variants: { ...variants, list } } : (alone as W);
}

/** Versions read from anything that was stored; those that cannot be read are left out. */
export function parseVariants(value: unknown): Variants | undefined {
  const { list, current } = (value ?? {}) as Partial<Variants>;
  if (!Array.isArray(list) || typeof current !== 'string') return undefined;
  const whole = (list as unknown[]).flatMap((one) => {
    const { id, name, recipe } = (one ?? {}) as Partial<Variant>;
    if (typeof id !== 'string' || typeof name !== 'string') return [];
    try {
      return [{ id, name, recipe: repairRecipe(recipe) }];
    } catch {
      return [];
    }
  });
  return whole.length > 1 && whole.some(({ id }) => id === current) ? { list: whole, current } : undefined;
}
