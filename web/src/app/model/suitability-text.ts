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

const percent = (share: number): string => `${Math.round(share * 100)} %`;

/** The readings of a picture: its view, its detail, what stands across the plane. */
export function describeSuitability(suit: SceneReading): Reading[] {
  return [viewWords(suit), detailWords(suit), uprightWords(suit)];
}

function viewWords({ down }: SceneReading): Reading {
  const of = 'View';
  if (down === null)
    return {
      of,
      suits: 'partly',
      says: 'Nothing upright tells how far it looks down.',
      advice: 'From high above a band does; elsewhere place soundings.',
    };
  const by = `by about ${Math.max(0, Math.round(down))}°`;
  if (down < LEVEL)
    return {
      of,
      suits: 'hardly',
      says: 'Level: the horizon is in sight.',
      advice: 'Models are seen from above: crop the sky away, keep the band narrow.',
    };
  if (down < LOW)
    return {
      of,
      suits: 'partly',
      says: `Looks down a little, ${by}.`,
      advice: 'Crop what is near the horizon, keep the band low.',
    };
  if (down > TOP_DOWN_DEG)
    return {
      of,
      suits: 'partly',
      says: `Looks almost straight down, ${by}.`,
      advice: 'Nothing recedes: an ellipse or an iris does better than a band.',
    };
  return {
    of,
    suits: 'well',
    says: `Looks down ${by}, as one looks at a model.`,
    advice: 'The ground recedes: a band across it does.',
  };
}

function detailWords({ detail }: SceneReading): Reading {
  const of = 'Detail';
  const says = `Fine detail in ${percent(detail)} of it.`;
  if (detail >= MUCH)
    return { of, says, suits: 'well', advice: 'Much for the eye to find: the blur can be strong.' };
  if (detail >= SOME) return { of, says, suits: 'partly', advice: 'Put the band where the most of it is.' };
  return { of, says, suits: 'hardly', advice: 'Little to make a model of: go wider, or raise clarity.' };
}

function uprightWords(suit: SceneReading): Reading {
  const of = 'Across';
  const { tallest } = suit;
  const crosses = uprightsAcrossFocus(suit);
  if (crosses === 'all')
    return {
      of,
      suits: 'hardly',
      says: 'So low a view: whatever stands, stands across the plane.',
      advice: 'Place soundings, use a depth map, or cut subjects out.',
    };
  if (crosses === 'nothing' || !tallest)
    return {
      of,
      suits: 'well',
      says: 'Nothing tall stands across the plane.',
      advice: 'One band is enough.',
    };
  const side = tallest.at < 1 / 3 ? 'on the left' : tallest.at > 2 / 3 ? 'on the right' : 'in the middle';
  return {
    of,
    suits: 'partly',
    says: `Something upright ${side} takes ${percent(tallest.to - tallest.from)} of the height.`,
    advice: 'It would be sharp and hazy at once: cut it out as a subject that stands.',
  };
}
