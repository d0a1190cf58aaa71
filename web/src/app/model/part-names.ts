import type { RecipePart } from '@hazy-lens/core';

/** The parts of a recipe as people choose among them. */
export const PART_NAMES: readonly { id: RecipePart; name: string; says: string }[] = [
  { id: 'tidy', name: 'Tidy', says: 'Crop and mends of the picture that the recipe was made on' },
  { id: 'focus', name: 'Focus', says: 'Bands and soundings' },
  {
    id: 'subjects',
    name: 'Subjects',
    says: 'Cut-out subjects, brush strokes and depth map of the picture that the recipe was made on',
  },
  { id: 'elements', name: 'Elements', says: 'cut-outs over the picture, with a focus of their own' },
  { id: 'blur', name: 'Blur', says: 'Kind of blur and its strength' },
  { id: 'colour', name: 'Colour', says: 'Colours and look' },
  { id: 'finish', name: 'Finish', says: 'Vignette and grain' },
  { id: 'pace', name: 'Pace', says: 'Speed, holding and deflicker of footage' },
];
