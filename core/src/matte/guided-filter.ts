import { type GreyImage, boxMean, resizeGrey } from './grey-image';

function times(a: GreyImage, b: GreyImage): GreyImage {
  return { ...a, values: a.values.map((v, i) => v * b.values[i]!) };
}

/** The straight line that a guided filter lays through each neighbourhood: value = slope x guide + offset. */
export interface GuidedLines {
  slope: GreyImage;
  offset: GreyImage;
}

/**
 * Lines of the guided filter (He, Sun, Tang, "Guided image filtering", IEEE TPAMI 35, 2013), averaged. Guide and input
 * have the same size; `radius` in pixels; `epsilon` is the variance of the guide (values 0..1) below which it counts as
 * flat.
 */
export function guidedCoefficients(
  guide: GreyImage,
  input: GreyImage,
  radius: number,
  epsilon: number,
): GuidedLines {
  const meanI = boxMean(guide, radius);
  const meanP = boxMean(input, radius);
  const meanIP = boxMean(times(guide, input), radius);
  const meanII = boxMean(times(guide, guide), radius);
  const slope = new Float32Array(guide.values.length);
  const offset = new Float32Array(guide.values.length);
  for (let i = 0; i < slope.length; i++) {
    const mean = meanI.values[i]!;
    const variance = meanII.values[i]! - mean * mean;
    slope[i] = (meanIP.values[i]! - mean * meanP.values[i]!) / (variance + epsilon);
    offset[i] = meanP.values[i]! - slope[i]! * mean;
  }
  return {
    slope: boxMean({ ...guide, values: slope }, radius),
    offset: boxMean({ ...guide, values: offset }, radius),
  };
}

/** The filter's output for a guide of any size: the lines are enlarged to it (He, Sun, "Fast guided filter", 2015). */
export function applyGuided(lines: GuidedLines, guide: GreyImage): GreyImage {
  const slope = resizeGrey(lines.slope, guide.width, guide.height).values;
  const offset = resizeGrey(lines.offset, guide.width, guide.height).values;
  return { ...guide, values: guide.values.map((v, i) => slope[i]! * v + offset[i]!) };
}
