import {
  IDENTITY_CARRY,
  type Band,
  type Element,
  type ElementFocus,
  MAX_ELEMENTS,
  type Recipe,
  type RecipePath,
} from '@hazy-lens/core';
import { current, isDraft } from 'immer';

/** What an element is called: its own name, or which it is. */
export function elementName(elements: readonly Pick<Element, 'name'>[], index: number): string {
  return elements[index]?.name || `Element ${index + 1}`;
}

/** The focus of a layer: of the element with an id, or the picture's own. */
export function focusOf(recipe: Recipe, layer: string | null): ElementFocus {
  return recipe.elements.find(({ id }) => id === layer)?.focus ?? recipe.focus;
}

/** Where that stands in the recipe. */
export function focusPath({ elements }: Recipe, layer: string | null): RecipePath {
  const index = elements.findIndex(({ id }) => id === layer);
  return index < 0 ? ['focus'] : ['elements', index, 'focus'];
}

/** The focus that holds a band, and the id of the element that it is of. */
export function ownerOfBand(
  { focus, elements }: Recipe,
  id: string,
): { focus: ElementFocus; layer: string | null } | null {
  const has = ({ bands }: ElementFocus): boolean => bands.some((band) => band.id === id);
  if (has(focus)) return { focus, layer: null };
  const element = elements.find((one) => has(one.focus));
  return element ? { focus: element.focus, layer: element.id } : null;
}

/** A band by its id, of the picture or of an element. */
export function bandIn(recipe: Recipe, id: string | undefined): Band | null {
  const owner = id === undefined ? null : ownerOfBand(recipe, id);
  return owner?.focus.bands.find((band) => band.id === id) ?? null;
}

/** An element as it is put down: in the middle, sharp, and where it is large, no wider than half the picture. */
export function newElement(id: string, image: string, name: string, width: number): Element {
  return {
    id,
    name,
    on: true,
    image,
    centre: [0.5, 0.5],
    width,
    turn: 0,
    flip: false,
    opacity: 1,
    foot: null,
    focus: { rest: 0, soundingsOn: true, soundings: [], bands: [] },
    carry: IDENTITY_CARRY,
  };
}

/** True where a recipe has room for one more. */
export const hasRoom = ({ elements }: Recipe): boolean => elements.length < MAX_ELEMENTS;

/** Puts a copy of an element nearer than it, a little aside; the bands of the copy have ids of their own. */
export function duplicateElement({ elements }: Recipe, id: string, copyId: string): void {
  const at = elements.findIndex((one) => one.id === id);
  const element = elements[at];
  if (!element) return;
  const copy: Element = structuredClone(isDraft(element) ? current(element) : element);
  copy.id = copyId;
  copy.name = `${elementName(elements, at).slice(0, 70)} copy`;
  for (const band of copy.focus.bands) band.id = crypto.randomUUID();
  copy.centre = [Math.min(2, copy.centre[0] + 0.05), Math.min(2, copy.centre[1] + 0.05)];
  elements.splice(at + 1, 0, copy);
}
