import type { RecipePart } from '@hazy-lens/core';

/** The parts of a recipe as people choose among them. */
export const PART_NAMES: readonly { id: RecipePart; name: string; says: string }[] = [
  { id: 'tidy', name: 'Tidy', says: 'Crop and touch-ups of the recipe’s own picture' },
  { id: 'focus', name: 'Focus', says: 'Bands and soundings' },
  {
    id: 'subjects',
    name: 'Subjects',
    says: 'Subjects, brush strokes and depth map of the recipe’s own picture',
  },
  { id: 'elements', name: 'Elements', says: 'Cut-outs over the picture, with their own focus' },
  { id: 'blur', name: 'Blur', says: 'Type of blur and its strength' },
  { id: 'colour', name: 'Colour', says: 'Colours and look' },
  { id: 'finish', name: 'Finish', says: 'Vignette and grain' },
  { id: 'pace', name: 'Pace', says: 'Speed, holding and deflicker of footage' },
];
