/** The words of Colour, by the parts that show them. */
export const colourWords = {
  // balance-plate
  greenToRed: 'green to red',
  blueToYellow: 'blue to yellow',
  towardsHue: (percent: number, hue: string): string => `${percent}% to ${hue}`,
  asItIs: 'as it is',
  balance: (tones: string): string => `${tones} balance`,

  // colour-panel
  colour: 'Colour',
  tones: 'Tones',
  now: 'now',
  original: 'original',
  red: 'red',
  green: 'green',
  blue: 'blue',
  histogram: 'Histogram',
  rgb: 'RGB',
  holdCRisingStripesMark: 'Hold (C): rising stripes mark clipped whites, falling stripes clipped blacks',
  showClipping: 'Show clipping',
  looks: 'Looks',
  lightAndColour: 'Light and colour',
  setsWarmthAndTintClick: 'Sets warmth and tint: click a spot that should be grey',
  clickAGreySpot: 'Click a grey spot',
  pickWhiteBalance: 'Pick white balance',
  modelPaintIsBright20:
    'Model paint is bright: 20–40% saturation sells the miniature. Vibrance lifts muted colours more than vivid ones.',
  colourBalance: 'Colour balance',
  shadows: 'Shadows',
  midtones: 'Midtones',
  highlights: 'Highlights',
  tintsShadowsMidtonesAndHighlights:
    'Tints shadows, midtones and highlights without changing brightness. Double-click to reset.',
  blackAndWhite: 'Black and white',
  setsTheBrightnessOfEach:
    'Sets the brightness of each colour. Or drag a colour on the picture: up lightens, down darkens.',
  blackAndWhiteName: 'black and white',
  blackAndWhiteOff: 'black and white off',
  readingTheTones: 'Reading the tones…',
  ofPixelsClipToBlack: (black: string, white: string): string =>
    `${black} of pixels clip to black in a channel, ${white} to white`,
  blackAtLeftWhiteAtRight: (clipped: string): string => `Black at left, white at right. ${clipped}.`,

  // look-strip
  none: 'None',
  look: (label: string): string => `look: ${label}`,
  noLook: 'no look',

  // own-looks-row
  nameOfTheLook: 'Name of the look',
  deleteLook: 'Delete look',
  deleteTheLook: (name: string): string => `Delete the look ${name}`,
  nameOfANewLook: 'Name of a new look',
  savesAllColourSettingsExcept: 'Saves all colour settings except clarity, for other pictures',
  saveLook: 'Save look',
  importCube: 'Import .cube',
  exportsAllColourSettingsExcept: 'Exports all colour settings except clarity as a standard LUT',
  exportCube: 'Export .cube',
  lutFiles: 'LUT files',
  lookNamed: (number: number): string => `Look ${number}`,
  lookDeletedPicturesUsing: (name: string): string =>
    `Look “${name}” deleted. Pictures using it don’t change.`,
  restore: 'Restore',
  deleteAProjectToMake: 'Delete a project to make room for another look.',
};
