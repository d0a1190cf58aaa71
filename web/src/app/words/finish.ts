/** The words of Finish, by the parts that show them. */
export const finishWords = {
  // finish-panel
  finish: 'Finish',
  vignette: 'Vignette',
  dragTheCentre:
    'Drag the centre on the picture; the lines show where the vignette starts and reaches full strength.',
  grain: 'Grain',
  original: 'original',
  leftAfterBlur: 'left after blur',
  restored: 'restored',
  newGrainPattern: 'New grain pattern',
  blurSmoothsGrainAwaySo:
    'Blur smooths grain away, so clear areas stop matching the rest. Match restores grain to suit brightness and blur.',
  measuringTheNoise: 'Measuring the noise…',
  grainPattern: 'grain pattern',

  // quiet-section
  quietArea: 'Quiet area',
  quietAreaForACaption: 'Quiet area for a caption',
  detail: 'Detail',
  blurLeavesOfTheDetail: (left: number): string => `Blur leaves ${left}% of the detail.`,
  reading: 'Reading…',
  contrastIsAgainstTheWorst:
    'Contrast is against the worst pixel; small text needs 4.5:1. The frame is never exported.',
  blackText: 'Black text',
  whiteText: 'White text',
  blurTimes: (times: number): string => `${times}× blur`,
  black: 'Black',
  white: 'White',
  slightlyBusy: 'slightly busy',
  theAreaIsText: (quiet: string, better: string): string =>
    `The area is ${quiet}. ${better} text is readable everywhere.`,
  theAreaIsInPart: (quiet: string, better: string, percent: number): string =>
    `The area is ${quiet}. ${better} text is readable on ${percent}% of the area.`,
};
