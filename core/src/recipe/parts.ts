import type { Recipe } from './schema';

/**
 * The parts of a recipe that can be used without the others. `tidy` (crop and mends) and `subjects` (cut-out subjects, brush
 * strokes and the depth map) are of the picture that they were made on, and so are the elements that lie over it.
 */
export const RECIPE_PARTS = [
  'tidy',
  'focus',
  'subjects',
  'elements',
  'blur',
  'colour',
  'finish',
  'pace',
] as const;
export type RecipePart = (typeof RECIPE_PARTS)[number];

/** Those that go to another picture where nothing else is said. */
export const LOOK_PARTS: ReadonlySet<RecipePart> = new Set(['focus', 'blur', 'colour', 'finish', 'pace']);
export const ALL_PARTS: ReadonlySet<RecipePart> = new Set(RECIPE_PARTS);

/** Fields of a recipe's focus that are of its picture. */
const OF_SUBJECTS = ['depthMap', 'strokes', 'strokesOn', 'strokesCarry', 'mattes'] as const;
const isOfSubjects = (field: string): boolean => (OF_SUBJECTS as readonly string[]).includes(field);

/** The part that a key's number belongs to. */
function partOfKey(of: string): string {
  const [part, field] = of.split('/');
  return part === 'focus' && isOfSubjects(field!) ? 'subjects' : part!;
}

/** A recipe with parts of another one in place of its own, and the keys of those parts with them. */
export function withParts(own: Recipe, other: Recipe, parts: ReadonlySet<RecipePart>): Recipe {
  const isTaken = ({ of }: Recipe['keys'][number]): boolean => parts.has(partOfKey(of) as RecipePart);
  const from = (part: RecipePart): Recipe => (parts.has(part) ? other : own);
  const fields = (focus: Recipe['focus'], ofSubjects: boolean): Partial<Recipe['focus']> =>
    Object.fromEntries(Object.entries(focus).filter(([field]) => isOfSubjects(field) === ofSubjects));
  const keys = [...own.keys.filter((key) => !isTaken(key)), ...other.keys.filter(isTaken)];
  const focus = {
    ...fields(from('focus').focus, false),
    ...fields(from('subjects').focus, true),
  } as Recipe['focus'];
  return {
    ...own,
    tidy: from('tidy').tidy,
    focus,
    elements: from('elements').elements,
    blur: from('blur').blur,
    colour: from('colour').colour,
    finish: from('finish').finish,
    pace: from('pace').pace,
    keys: keys.sort((a, b) => a.at - b.at),
  };
}
