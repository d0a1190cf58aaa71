/** The words of Focus, by the parts that show them. */
export const focusWords = {
  // add-row
  addFocus: 'Add focus',
  planar: 'Planar',
  clearAlongALineHazy: 'Clear along a line, hazy on both sides: drag along the line',
  linear: 'Linear',
  fadesFromClearToHazy: 'Fades from clear to hazy: drag across the fade',
  elliptical: 'Elliptical',
  clearInsideAnEllipseDrag: 'Clear inside an ellipse: drag out from the centre',
  iris: 'Iris',
  clearInsideAnApertureShape: 'Clear inside an aperture shape: drag out from the centre',
  sounding: 'Sounding',
  setsHazeAtSinglePoints: 'Sets haze at single points: click the picture',
  depthMap: 'Depth map',
  hazeByDistance: 'Haze by distance, from a greyscale map',
  brush: 'Brush',
  paintClearOrHazeByHand: 'Paint clear or haze by hand',
  subject: 'Subject',
  keepsASubjectClearWhatever: 'Keeps a subject clear whatever the bands do: scribble over it',
  newSubject: 'new subject',

  // aspect-question
  proportionsDiffer: 'Proportions differ',
  isPxButThePicture: (
    fileName: string,
    width: number,
    height: number,
    pictureWidth: number,
    pictureHeight: number,
  ): string =>
    `“${fileName}” is ${width} × ${height} px, but the picture is ${pictureWidth} × ${pictureHeight} px.`,
  cancel: 'Cancel',
  stretch: 'Stretch',
  cropToFit: 'Crop to fit',

  // band-panel
  selectedBand: 'Selected band',
  nameOfTheBand: 'Name of the band',
  mode: 'Mode',
  keepsTheInsideClear: 'Keeps the inside clear',
  clear: 'Clear',
  addsHazeOverClearAreas: 'Adds haze over clear areas',
  haze: 'Haze',
  swapsClearAndHazyAreas: 'Swaps clear and hazy areas',
  invert: 'Invert',
  sidesOfTheBand: 'Sides of the band',
  sidesLinked: 'Sides linked',
  sidesUnlinked: 'Sides unlinked',
  endsOfTheGradient: 'Ends of the gradient',
  shapeOfTheBand: 'Shape of the band',
  outlineByDirection: 'Outline by direction',
  outlineAt: (label: string): string => `Outline at ${label}`,
  falloffByDirection: 'Falloff by direction',
  directionsLinked: 'Directions linked',
  directionsUnlinked: 'Directions unlinked',
  falloffAt: (label: string): string => `Falloff at ${label}`,
  farSide: 'Far side',
  nearSide: 'Near side',
  start: 'Start',
  renameBand: 'rename band',
  bandMode: 'band mode',
  falloffProfile: 'falloff profile',

  // brush-panel
  brushMode: 'Brush mode',
  penPressure: 'Pen pressure',
  holdShiftForAStraight:
    'Hold Shift for a straight line from the last stroke. Resize with S and L or Alt + wheel.',
  paintsAreasClear: 'Paints areas clear',
  paintsHazeOverSharpAreas: 'Paints haze over sharp areas',
  erase: 'Erase',
  erasesBrushStrokes: 'Erases brush strokes',
  off: 'Off',
  size: 'Size',
  strength: 'Strength',

  // depth-panel
  clickThePictureWhereYou: 'Click the picture where you want focus.',
  nearValuesOfTheMap: 'Near values of the map',
  brightIsNear: 'Bright is near',
  darkIsNear: 'Dark is near',
  replaceMap: 'Replace map',
  useDemoMap: 'Use demo map',
  depthMapProfile: 'depth map: profile',
  depthMapNamed: (label: string): string => `depth map: ${label}`,

  // element-list
  elements: 'Elements',
  paste: (name: string): string => `Paste “${name}”`,
  pasteText: 'Paste',
  addACutOut: 'Add a cut-out over the picture: PNG, WebP or TIFF with transparency',
  addElement: 'Add element',
  altPlusArrowKeysReorder: (name: string): string => `${name}; Alt + arrow keys reorder`,
  show: (name: string): string => `Show ${name}`,
  moreFor: (name: string): string => `More for ${name}`,
  duplicate: 'Duplicate',
  copyForAnotherProject: 'Copy for another project',
  bringNearer: 'Bring nearer',
  sendFarther: 'Send farther',
  delete: 'Delete',
  picture: 'Picture',
  duplicateElement: 'duplicate element',
  deleteNamed: (name: string): string => `delete ${name}`,
  reorderElements: 'reorder elements',

  // element-panel
  element: 'Element',
  nameOfTheElement: 'Name of the element',
  flip: 'Flip',
  standing: 'Standing',
  hazeOfTheElement: 'Haze of the element',
  bandsAndSoundingsAddedNow: 'Bands and soundings added now shape the focus of this element alone.',
  asHazyAsThePicture:
    'As hazy as the picture is at the foot: drag the foot to where the element touches the ground.',
  replaceImage: 'Replace image…',
  renameElement: 'rename element',
  flipElement: 'flip element',

  // field-list
  moreForNamed: (label: string): string => `More for ${label}`,
  moveUp: 'Move up',
  moveDown: 'Move down',
  baseHaze: 'Base haze',
  soundings: 'Soundings',
  focus: (percent: number): string => `focus ${percent}%`,
  deleteNamedName: (label: string): string => `delete ${label}`,
  duplicateBand: 'duplicate band',
  reorderBands: 'reorder bands',

  // focus-panel
  focusText: 'Focus',
  dragOnThePictureClick: (names: string): string =>
    `${names}: drag on the picture. Click or press Enter for a default band.`,
  focusLayers: 'Focus layers',
  noFocusYetTheWhole:
    'No focus yet: the whole picture is blurred. Add a band above and drag it over the area to keep clear.',

  // matte-panel
  nameOfTheSubject: 'Name of the subject',
  cuttingOut: 'cutting out…',
  cuttingOutLabel: 'Cutting out',
  scribbleOverTheSubjectThen: 'Scribble over the subject, then over the background. A few lines are enough.',
  scribbleMode: 'Scribble mode',
  inside: 'Inside',
  outside: 'Outside',
  deleteScribbles: 'Delete scribbles',
  subjectIs: 'Subject is',
  asHazyAllOver: 'As hazy all over as the ground at its foot. Drag the foot on the picture.',
  lifted: 'Lifted',
  fillingInTheBackground: 'filling in the background…',
  theBackgroundIsFilled:
    'The background is filled in behind it, so that neither bleeds into the other’s blur.',
  howItCombines: 'How it combines with other subjects',
  add: 'Add',
  subtract: 'Subtract',
  importMatte: 'Import matte',
  exportMatte: 'Export matte',
  makeElement: 'Make element',
  renameSubject: 'rename subject',
  liftSubject: 'lift subject',
  unliftSubject: 'unlift subject',
  subjectMode: 'subject mode',
  invertSubject: 'invert subject',
  deleteScribblesName: 'delete scribbles',

  // profile-choice
  profileOfTheFalloff: 'Profile of the falloff',
  falloff: (profile: string): string => `Falloff: ${profile}`,
  custom: 'custom',
  customFalloffDragKnots: 'Custom falloff: drag knots on the profile, double-click to add one',

  // raster-import
  theDepthMapCant: (name: string): string =>
    `The depth map “${name}” can’t be reached. Start Hazy Lens again.`,
  depthMapName: 'depth map',
  matteFromAFile: 'matte from a file',
  theShapeOfTheGreyPicture: 'The shape of the grey picture',
  isInColourSo: (fileName: string): string =>
    `“${fileName}” is in colour, so its luminance is used. A greyscale file is more reliable.`,
  greyscaleImages: 'Greyscale images',

  // scale-section
  scaleGauge: 'Scale gauge',
  theHorizonIsRead: 'The horizon is read from the picture.',
  cameraAngleAssumed25Down: 'Camera angle assumed: 25° down (no verticals to measure).',
  aScaleSetsThePlanar: (camera: string): string =>
    `A scale sets the planar band and the blur as that lens would draw level ground. ${camera}`,
  distance: 'Distance',
  distanceToTheFocus: 'Distance to the focus',
  lens: 'Lens',
  focalLength: 'Focal length',
  scale1: 'Scale 1 :',
  scaleOneTo: 'Scale, one to',

  // soundings-panel
  clickThePictureToAdd:
    'Click the picture to add a sounding: a point with its own haze. Haze runs smoothly between soundings. Drag the number to move it; drag the bar or scroll to change haze; Alt-drag to copy.',
  soundingNamed: (number: number): string => `Sounding ${number}`,
  soundingNamedText: (number: number): string => `sounding ${number}`,
  addSounding: 'Add sounding',
  newSounding: 'new sounding',
  deleteSounding: 'delete sounding',
};
