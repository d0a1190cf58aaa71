import type { Type } from '@angular/core';
import { type BlurKind, type Recipe, type RecipePath, aperturePoints } from '@hazy-lens/core';
import { LensControls } from './lens-controls';
import { blurWords } from '../../words/blur';

/** A mark of a kind of blur: what it makes of a point of light, in a box from (−12, −9) to (12, 9). */
export interface BlurMark {
  /** Of SVG paths. */
  d: string;
  /** As a line, or as a shape of this opacity. */
  fill: null | number;
}

/** A kind of blur as people choose it: to add one, write an entry here beside that of the core's list. */
export interface BlurKindEntry {
  kind: BlurKind;
  label: string;
  description: string;
  marks(blur: Recipe['blur']): BlurMark[];
  /** Its own settings: numbers of the recipe under a title, or a component where that is not enough. */
  settings?: { title: string; numbers: RecipePath[]; hasSliders: boolean; hint: string } | Type<unknown>;
}

const CENTRE_HINT = blurWords.orDragTheCentre;
const centreOf = (kind: 'spin' | 'zoom'): BlurKindEntry['settings'] => ({
  title: blurWords.centre,
  numbers: [
    ['blur', kind, 'centre', 0],
    ['blur', kind, 'centre', 1],
  ],
  hasSliders: false,
  hint: CENTRE_HINT,
});

const disc = (radius: number, fill: number): BlurMark => ({
  d: `M${-radius} 0a${radius} ${radius} 0 1 0 ${2 * radius} 0a${radius} ${radius} 0 1 0 ${-2 * radius} 0Z`,
  fill,
});

/** The outline of the aperture, as large as the box lets it be. */
function aperture({ lens }: Recipe['blur']): BlurMark {
  const points = aperturePoints(lens, 96);
  const fit = 8 / Math.max(1, ...points.map(([x, y]) => Math.hypot(x, y)));
  const outline = points.map(([x, y]) => `${(x * fit).toFixed(2)} ${(y * fit).toFixed(2)}`);
  return { d: `M${outline.join('L')}Z`, fill: 1 };
}

/** Lines along a direction, each from one place to another. */
function along(deg: number, ...lines: [x0: number, x1: number, y: number][]): BlurMark {
  const [cos, sin] = [Math.cos((deg * Math.PI) / 180), Math.sin((deg * Math.PI) / 180)];
  const at = (x: number, y: number): string =>
    `${(x * cos - y * sin).toFixed(2)} ${(x * sin + y * cos).toFixed(2)}`;
  return { d: lines.map(([x0, x1, y]) => `M${at(x0, y)}L${at(x1, y)}`).join(''), fill: null };
}

/** By kind, so that none is forgotten; in the order in which they are offered. */
const ENTRIES: { readonly [K in BlurKind]: Omit<BlurKindEntry, 'kind'> } = {
  gaussian: {
    label: blurWords.gaussian,
    description: blurWords.softAndShapelessFast,
    marks: () => [disc(8, 0.18), disc(5.5, 0.34), disc(3, 0.34)],
  },
  lens: {
    label: blurWords.lens,
    description: blurWords.lensLikePointsOfLight,
    marks: (blur) => [aperture(blur)],
    settings: LensControls,
  },
  motion: {
    label: blurWords.motion,
    description: blurWords.asIfTheCameraMoved,
    marks: ({ motion }) => [along(motion.angle, [-9, 5, -4], [-5, 9, 0], [-9, 3, 4])],
    settings: {
      title: blurWords.motion,
      numbers: [['blur', 'motion', 'angle']],
      hasSliders: true,
      hint: blurWords.orRotateTheLine,
    },
  },
  spin: {
    label: blurWords.spin,
    description: blurWords.asIfTheCameraRotated,
    marks: () => [
      {
        d: 'M-8 0A8 8 0 0 1 0 -8M8 0A8 8 0 0 1 0 8M-4 2A4.5 4.5 0 0 1 0 -4.5M4 -2A4.5 4.5 0 0 1 0 4.5',
        fill: null,
      },
    ],
    settings: centreOf('spin'),
  },
  zoom: {
    label: blurWords.zoom,
    description: blurWords.asIfTheLensZoomed,
    marks: () => [{ d: 'M0 -4V-8M0 4V8M-4 0H-8M4 0H8M-3 -3L-6 -6M3 -3L6 -6M-3 3L-6 6M3 3L6 6', fill: null }],
    settings: centreOf('zoom'),
  },
};

export const BLUR_KINDS: readonly BlurKindEntry[] = (Object.keys(ENTRIES) as BlurKind[]).map((kind) => ({
  kind,
  ...ENTRIES[kind],
}));
