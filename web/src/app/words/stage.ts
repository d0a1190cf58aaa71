/** The words of the stage, by the parts that show them. */
export const stageWords = {
  // band-handles
  gripOfBand: (grip: string, band: string): string => `${grip} of ${band}`,

  // comparison-view
  theSameAreaWith: 'The same area with the other blur',

  // crop-window
  cropWindowArrowKeysMove: (says: string): string => `Crop window, ${says}; arrow keys move`,
  ofTheCrop: (name: string): string => `${name} of the crop`,
  cropRotation: 'Crop rotation',
  leftEdge: 'Left edge',
  rightEdge: 'Right edge',
  topEdge: 'Top edge',
  bottomEdge: 'Bottom edge',
  topLeftCorner: 'Top left corner',
  topRightCorner: 'Top right corner',
  bottomLeftCorner: 'Bottom left corner',
  bottomRightCorner: 'Bottom right corner',
  moveCrop: 'move crop',
  rotateCrop: 'rotate crop',

  // element-grips
  widthOfCorner: (name: string, corner: number): string => `Width of ${name}, corner ${corner}`,
  placeOf: (name: string): string => `Place of ${name}`,
  rotationOf: (name: string): string => `Rotation of ${name}`,
  footOf: (name: string): string => `Foot of ${name}`,
  acrossDown: (across: number, down: number): string => `${across}% across, ${down}% down`,
  placeOfElement: 'place of element',
  widthOfElement: 'width of element',
  rotationOfElement: 'rotation of element',
  footOfElement: 'foot of element',

  // foot-mark
  footOfSubject: 'foot of subject',

  // half-caption
  editing: 'Editing',
  editHalf: (where: string): string => `Edit ${where} half`,
  edit: 'Edit',
  keepHalf: (where: string): string => `Keep ${where} half`,
  keepThis: 'Keep this',

  // elliptical-handles
  centreOfTheEllipse: 'Centre of the ellipse',
  radiusAlong: 'Radius along',
  alongPx: (radius: string): string => `along ${radius} px`,
  radiusAcross: 'Radius across',
  acrossPx: (radius: string): string => `across ${radius} px`,
  rotation: 'Rotation',
  outerEdge: 'Outer edge',
  falloff: (percent: string): string => `falloff ${percent}%`,

  // iris-handles
  falloffAt: (degrees: number): string => `Falloff at ${degrees}°`,
  outlineAt: (degrees: number): string => `Outline at ${degrees}°`,
  outline: (percent: string): string => `outline ${percent}%`,
  centreOfTheIris: 'Centre of the iris',
  stretch: 'Stretch',
  stretchNamed: (percent: string): string => `stretch ${percent}%`,
  radius: 'Radius',
  radiusPx: (radius: string): string => `radius ${radius} px`,

  // linear-handles
  pxHaze: (x: string, y: string, haze: number): string => `${x}, ${y} px, haze ${haze}%`,
  startOfTheGradient: 'Start of the gradient',
  endOfTheGradient: 'End of the gradient',
  wholeGradient: 'Whole gradient',
  pxLong: (count: string): string => `${count} px long`,

  // planar-handles
  nearSideClearEdge: 'Near side, clear edge',
  nearSideOuterEdge: 'Near side, outer edge',
  farSideClearEdge: 'Far side, clear edge',
  farSideOuterEdge: 'Far side, outer edge',
  focusLine: 'Focus line',
  rotationOneEnd: 'Rotation, one end',
  rotationOtherEnd: 'Rotation, other end',

  // hue-picker
  blackAndWhiteMix: 'black and white mix',

  // mend-brush
  aPictureCanHaveTouch: (mends: number): string =>
    `A picture can have ${mends} touch-ups. Delete some first.`,

  // mend-marks
  arrowKeysMoveDeleteRemoves: (name: string): string => `${name}; arrow keys move, Delete removes`,
  move: (kind: string): string => `move ${kind}`,

  // model-scale
  scale: (scale: number): string => `scale 1:${scale}`,
  theBlurIsAtItsLimit: 'The blur is at its limit: it reaches full strength before the edge of the picture.',

  // movement-mark
  angleOfTheMovement: 'Angle of the movement',
  angleOfTheMovementName: 'angle of the movement',
  centreOfThe: (kind: string): string => `centre of the ${kind}`,

  // quiet-mark
  quietAreaArrowKeysMove: 'Quiet area; arrow keys move',
  sizeOfTheQuietArea: 'Size of the quiet area',

  // sounding-marks
  hazeOf: (name: string): string => `Haze of ${name}`,
  sounding: (number: number): string => `Sounding ${number}`,
  hazeOfASounding: 'haze of a sounding',
  duplicateSounding: 'duplicate sounding',
  placeOfASounding: 'place of a sounding',
  deleteSounding: 'delete sounding',

  // stage-tools
  newBand: (kind: string): string => `new ${kind} band`,
  stroke: (mode: string): string => `${mode} stroke`,
  scribble: (side: string): string => `scribble ${side}`,
  newSounding: 'new sounding',
  depthInFocus: 'depth in focus',

  // stage
  pictureArrowKeysMove: 'Picture: arrow keys move the pointer, Enter clicks, Shift and arrow keys pan',
  picture: (name: string): string => `Picture: ${name}`,

  // status-line
  fitToTheStageF: 'Fit to the stage (F)',
  fit: 'Fit',
  actualSize1: 'Actual size (1)',
  tapToKeep: (does: string, shown: string): string => `${does} (${shown}). Tap to keep it on, or hold`,
  hazePxAtCursor: (haze: number, px: string): string => `haze ${haze}% · ${px} px at cursor`,
  exaggerated: (exaggeration: number): string => `Exaggerated ${exaggeration}×`,
  hazeMap: 'Haze map',
  draft: 'Draft',

  // variant-caption
  nameOfTheVariant: 'Name of the variant',
  rename: (name: string): string => `Rename ${name}`,
  editNamed: (name: string): string => `Edit ${name}`,

  // vignette-mark
  centreOfTheVignetteArrow: 'Centre of the vignette; arrow keys move',
  centreOfTheVignette: 'centre of the vignette',

  // wipe
  wipeBetweenBeforeAndAfter: 'Wipe between before and after',
  before: 'before',
  after: 'after',
};
