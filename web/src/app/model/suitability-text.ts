import { TOP_DOWN_DEG, type SceneReading, uprightsAcrossFocus } from '@hazy-lens/core';

/** One reading of a picture in words: how well it suits, what was read, and what to do. */
export interface Reading {
  suits: 'well' | 'partly' | 'hardly';
  /** What it is about. */
  of: string;
  says: string;
  advice: string;
}

/** Views that look down by fewer degrees are level, and by fewer than the second low. */
const LEVEL = 6;
const LOW = 13;
/** Shares of the picture with detail that are much, and some. */
const MUCH = 0.4;
const SOME = 0.18;

const percent = (share: number): string => `${Math.round(share * 100)}%`;

/** The readings of a picture: its view, its detail, what stands across the plane. */
export function describeSuitability(suit: SceneReading): Reading[] {
  return [viewWords(suit), detailWords(suit), uprightWords(suit)];
}

function viewWords({ down }: SceneReading): Reading {
  const of = 'Viewpoint';
  if (down === null)
    return {
      of,
      suits: 'partly',
      says: 'Camera angle unclear: no verticals to measure.',
      advice: 'From a high viewpoint use a band; otherwise place soundings.',
    };
  const about = `about ${Math.max(0, Math.round(down))}°`;
  if (down < LEVEL)
    return {
      of,
      suits: 'hardly',
      says: 'Eye level: the horizon is visible.',
      advice: 'Models are seen from above: crop out the sky and keep the band narrow.',
    };
  if (down < LOW)
    return {
      of,
      suits: 'partly',
      says: `Looks down slightly, ${about}.`,
      advice: 'Crop near the horizon and keep the band low.',
    };
  if (down > TOP_DOWN_DEG)
    return {
      of,
      suits: 'partly',
      says: `Looks almost straight down, ${about}.`,
      advice: 'Little depth to follow: use an elliptical or iris band.',
    };
  return {
    of,
    suits: 'well',
    says: `Looks down ${about}, like a view over a model.`,
    advice: 'The ground recedes: a planar band works well.',
  };
}

function detailWords({ detail }: SceneReading): Reading {
  const of = 'Detail';
  const says = `Fine detail in ${percent(detail)} of the picture.`;
  if (detail >= MUCH) return { of, says, suits: 'well', advice: 'Plenty to explore: strong blur works.' };
  if (detail >= SOME) return { of, says, suits: 'partly', advice: 'Place the band over most of the detail.' };
  return {
    of,
    says,
    suits: 'hardly',
    advice: 'Too little detail for a model: use a wider view or raise clarity.',
  };
}

function uprightWords(suit: SceneReading): Reading {
  const of = 'Tall objects';
  const { tallest } = suit;
  const crosses = uprightsAcrossFocus(suit);
  if (crosses === 'all')
    return {
      of,
      suits: 'hardly',
      says: 'Low viewpoint: anything upright crosses the focus plane.',
      advice: 'Use soundings, a depth map or subjects.',
    };
  if (crosses === 'nothing' || !tallest)
    return {
      of,
      suits: 'well',
      says: 'Nothing tall crosses the focus plane.',
      advice: 'One band is enough.',
    };
  const side = tallest.at < 1 / 3 ? 'on the left' : tallest.at > 2 / 3 ? 'on the right' : 'in the middle';
  return {
    of,
    suits: 'partly',
    says: `A tall object ${side} covers ${percent(tallest.to - tallest.from)} of the height.`,
    advice: 'A band would leave the object part sharp, part hazy: make it a standing subject.',
  };
}
