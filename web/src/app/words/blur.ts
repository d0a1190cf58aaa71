/** The words of Blur, by the parts that show them. */
export const blurWords = {
  // aperture-bench
  blades: (blades: number): string => `${blades} blades`,
  squeeze: (squeeze: string): string => `, ${squeeze}× squeeze`,
  aperture: (shape: string, squeeze: string): string => `Aperture: ${shape}${squeeze}`,

  // blur-panel
  blur: 'Blur',
  blurType: 'Blur type',
  showsTheBlurFourTimes: 'Shows the blur four times stronger without changing the recipe (hold X).',
  exaggerate: 'Exaggerate',
  splitsTheStageToCompare: 'Splits the stage to compare two blurs. Undo takes the whole comparison back.',
  compareBlurs: 'Compare blurs',
  theBrightestHazySpot: 'The brightest hazy spot at 100% zoom. Radius is the blur at 100% haze.',
  blurNamed: (kind: string): string => `${kind} blur`,

  // bright-spot
  theBrightestHazySpotAt100: 'The brightest hazy spot of the picture at 100%',

  // kinds
  orDragTheCentre: 'Or drag the centre on the picture. Streaks lengthen away from the centre.',
  centre: 'Centre',
  gaussian: 'Gaussian',
  softAndShapelessFast: 'Soft and shapeless: fast, and gentle on skin and sky.',
  lens: 'Lens',
  lensLikePointsOfLight: 'Lens-like: points of light become discs shaped by the aperture.',
  motion: 'Motion',
  asIfTheCameraMoved: 'As if the camera moved in a straight line.',
  orRotateTheLine: 'Or rotate the line on the picture. Subjects and areas painted clear don’t smear.',
  spin: 'Spin',
  asIfTheCameraRotated: 'As if the camera rotated around a point.',
  zoom: 'Zoom',
  asIfTheLensZoomed: 'As if the lens zoomed during the exposure.',

  // lens-controls
  apertureLabel: 'Aperture',
  bladesText: 'Blades',
  highlights: 'Highlights',
  restoresBrightnessToClippedLamps:
    'Restores brightness to clipped lamps and glints, so that they bloom into discs.',
  apertureBlades: 'aperture blades',
};
