import type { Recipe } from '@hazy-lens/core';
import { miniature, overPicture } from '../../model/starting-recipe';

export interface DemoPicture {
  file: string;
  /** Its true depth, beside it; of a still. */
  depth?: string;
  /** What the shelf shows of a clip. */
  poster?: string;
  /** Files beside it that its recipe names. */
  files?: readonly string[];
  name: string;
  about: string;
  recipe: Recipe;
}

/** The pictures and clips of Orrin Bank that come with the application, each with a look of its own. */
export const DEMO_PICTURES: readonly DemoPicture[] = [
  {
    file: 'tram-loop.jpg',
    depth: 'tram-loop-depth.png',
    name: 'Tram loop',
    about: 'The square of Orrin Bank from the clock tower',
    recipe: miniature(
      {
        centre: [0.5, 0.585],
        angle: 1.5,
        near: { clear: 0.05, falloff: 0.165 },
        far: { clear: 0.06, falloff: 0.24 },
      },
      0.0105,
      0.32,
    ),
  },
  {
    file: 'glasshouses.jpg',
    depth: 'glasshouses-depth.png',
    name: 'Glasshouses',
    about: 'The allotments on a summer afternoon',
    recipe: miniature(
      {
        centre: [0.54, 0.6],
        angle: -3,
        near: { clear: 0.06, falloff: 0.2 },
        far: { clear: 0.07, falloff: 0.24 },
      },
      0.01,
      0.22,
    ),
  },
  {
    file: 'night-fair.jpg',
    depth: 'night-fair-depth.png',
    name: 'Night fair',
    about: 'Lamps over the kite meadow after dark',
    recipe: miniature(
      { centre: [0.5, 0.64], near: { clear: 0.05, falloff: 0.24 }, far: { clear: 0.05, falloff: 0.28 } },
      0.009,
      0.15,
    ),
  },
  {
    file: 'tram-loop.jpg',
    poster: 'balloons.jpg',
    files: ['balloon-ember.png', 'balloon-lagoon.png', 'balloon-plum.png'],
    name: 'Balloons',
    about: 'Three over the square: near, middle and far',
    recipe: overPicture(
      miniature(
        {
          centre: [0.5, 0.585],
          angle: 1.5,
          near: { clear: 0.05, falloff: 0.165 },
          far: { clear: 0.06, falloff: 0.24 },
        },
        0.0105,
        0.25,
      ),
      [
        { id: 'far', name: 'Far balloon', image: 'balloon-plum.png', centre: [0.27, 0.15], width: 0.06, focus: { rest: 0.6 } },
        { id: 'middle', name: 'Middle balloon', image: 'balloon-ember.png', centre: [0.45, 0.36], width: 0.125, turn: -2 },
        { id: 'near', name: 'Near balloon', image: 'balloon-lagoon.png', centre: [0.83, 0.5], width: 0.27, turn: 4, focus: { rest: 0.8 } },
      ],
    ), // prettier-ignore
  },
  {
    file: 'tram-loop.mp4',
    poster: 'tram-loop-clip.jpg',
    name: 'Tram loop, time-lapse',
    about: 'Eight seconds of a morning, the view drifting',
    recipe: miniature(
      {
        centre: [0.52, 0.47],
        near: { clear: 0.07, falloff: 0.2 },
        far: { clear: 0.07, falloff: 0.22 },
      },
      0.0105,
      0.32,
    ),
  },
  {
    file: 'kite-meadow.mp4',
    poster: 'kite-meadow-clip.jpg',
    name: 'Kite meadow',
    about: 'Four seconds of kites, the view steady',
    recipe: miniature(
      { centre: [0.5, 0.47], near: { clear: 0.06, falloff: 0.24 }, far: { clear: 0.06, falloff: 0.2 } },
      0.0095,
      0.25,
    ),
  },
];
