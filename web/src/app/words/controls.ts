/** The words of controls that several panels have, by the parts that show them. */
export const controlsWords = {
  // export-settings
  fileFormat: 'File format',
  bitDepth: 'Bit depth',
  asSource: 'As source',
  n8Bit: '8-bit',
  n16Bit: '16-bit',
  chroma: 'Chroma',
  colourAtHalfTheSize: 'Colour at half the size each way: smaller files',
  colourAtFullSizeSharper: 'Colour at full size: sharper red and blue edges',
  colours: 'Colours',
  colourSpace: 'Colour space',
  looksTheSameEverywhere: 'Looks the same everywhere',
  srgb: 'sRGB',
  strongerRedsAndGreens: 'Stronger reds and greens, for screens and programs that read profiles',
  displayP3: 'Display P3',
  size: 'Size',
  sharpensClearAreas:
    'Sharpens clear areas for the output size: half strength at full size, full strength at half size',
  metadata: 'Metadata',
  metadataInTheFile: 'Metadata in the file',
  quality: 'Quality',
  sharpening: 'Sharpening',
  longEdge: 'Long edge',
  shortEdge: 'Short edge',
  megapixels: 'Megapixels',
  percent: 'Percent',

  // follow-controls
  follow: 'Follow',
  followFromFrame: (label: string, frame: number): string => `Follow ${label} from frame ${frame}`,
  following: (label: string): string => `Following ${label}`,
  ofTheWay: (percent: number): string => `${percent}% of the way`,
  stopHere: 'Stop here',
  lookAt: 'Look at',
  itsOwnContent: 'Its own content',
  backward: 'Backward',
  toTheBeginningOfTheClip: 'To the beginning of the clip',
  bothWays: 'Both ways',
  throughTheWholeClip: 'Through the whole clip',
  forward: 'Forward',
  toTheEndOfTheClip: 'To the end of the clip',

  // key-tab
  key: (label: string): string => `${label} key`,
  deleteKeyHere: 'Delete key here',
  addKeyHere: 'Add key here',

  // number-field
  dragToChangeDoubleClickFor: (shown: string): string => `Drag to change, double-click for ${shown}`,
  slider: (name: string): string => `${name} slider`,
  maximum: (shown: string): string => `Maximum ${shown}`,
  minimum: (shown: string): string => `Minimum ${shown}`,
};
