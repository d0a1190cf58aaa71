/** The words of Output, by the parts that show them. */
export const outputWords = {
  // clip-output
  clip: 'Clip',
  clipFormat: 'Clip format',
  thisBrowserCantEncode: (label: string, width: number, height: number): string =>
    `This browser can’t encode ${label} at ${width} × ${height} px. Choose another format.`,
  encodeBy: 'Encode by',
  quality: 'Quality',
  bitRate: 'Bit rate',
  repeatTheFrameBefore: 'Repeat the frame before',
  fileName: 'File name',
  canIncludeNameDateRecipe: 'Can include {name}, {date}, {recipe} and {number}',
  export: (label: string): string => `Export ${label}`,
  exportToFolder: 'Export to folder',
  renderOnTheFarm: 'Render on the farm',
  width: 'Width',
  aboutMb: (megabytes: string): string => `About ${megabytes} MB`,
  toMake: (roughly: string): string => `${roughly} to make`,
  theFileIsCutShort: (frame: number): string =>
    `The file is cut short: frames from ${frame} on are missing. Trim the end away, or repeat the last frame that is there.`,
  transparentAreasBecomeWhitePng: 'Transparent areas become white: PNG frames and WebM, VP9 keep them.',
  transparentAreasStayTransparent: 'Transparent areas stay transparent.',
  transparentAreasBecomeWhite: 'Transparent areas become white where frames are blended or mended.',
  thisFormatHasNoAudio: 'This format has no audio.',
  audioIsIncludedConverted: 'Audio is included, converted to Opus if the format requires it.',
  audioIsStretched: (speed: number): string => `Audio is stretched to ${speed}× at its own pitch, as Opus.`,
  audioIsIncluded: 'Audio is included only at a constant speed, forward.',
  audioIsIncludedOnlyAt1: 'Audio is included only at 1× speed. Turn on Stretch audio in Pace to keep it.',

  // exporting
  tryASmallerSize: 'try a smaller size',
  linear16BitTiffs: 'linear 16-bit TIFFs',
  to: (name: string): string => ` to “${name}”`,
  exported: (files: string, where: string): string => `Exported ${files}${where}.`,
  tryASmallerSizeOrAnother: 'try a smaller size or another format',
  renderedOnTheFarm: 'rendered on the farm',
  tryAgainOrExportItHere: 'try again, or export it here',
  savedTo: (frames: string, name: string): string => `Saved ${frames} to “${name}”.`,
  cancelledFramesStay: 'Cancelled. Frames already exported stay in the folder.',
  exportedMb: (fileName: string, what: string, count: string): string =>
    `Exported “${fileName}”: ${what}, ${count} MB.`,
  couldntBeExported: (fileName: string, reason: string, advice: string): string =>
    `“${fileName}” couldn’t be exported: ${reason} Your project is safe${advice}.`,

  // map-output
  map: 'Map',
  mapFormat: 'Map format',
  exportMap: 'Export map',
  useAsDepthMap: 'Use as depth map',
  n8BitPng: '8-bit PNG',
  n16BitPng: '16-bit PNG',
  n16BitTiff: '16-bit TIFF',
  hazeMap: 'Haze map',
  depthMap: 'Depth map',
  subject: (number: number): string => `Subject ${number}`,
  exportedPx: (fileName: string, width: number, height: number, label: string): string =>
    `Exported “${fileName}”: ${width} × ${height} px, ${label}.`,
  hazeMapAsDepthMap: 'haze map as depth map',
  theHazeMapIsNow: 'The haze map is now the depth map in Focus. Bands still apply on top.',
  couldntBeMadeYourProject: (name: string, reason: string): string =>
    `“${name}” couldn’t be made: ${reason}. Your project is unchanged.`,

  // output-panel
  output: 'Output',
  stillFromFrame: (frame: number): string => `Still from frame ${frame}`,
  pictureSettings: 'Picture settings',
  thePictureIsInDisplay:
    'The picture is in Display P3: colours beyond sRGB become the nearest sRGB has. Hold Clipping below the picture to see them, or choose Display P3.',
  maps: 'Maps',
  layers: 'Layers',
  exportLayers: 'Export layers',
  thePictureFilledBehind:
    'The picture, filled behind what is lifted off it, and each layer over it, blurred, before Colour and Finish: premultiplied 16-bit TIFFs in linear light.',
  recipe: 'Recipe',
  exportRecipe: 'Export recipe',
  importRecipe: 'Import recipe',
  openShelf: 'Open shelf',
  batch: 'Batch',
  addsThePicture: 'Adds the picture to the batch once for each variant',
  batchVariants: 'Batch variants',
  allSettingsInOneOpen:
    'All settings in one open file, or a zip if depth maps or subjects are included. The command line renders it identically. Ctrl+C copies the recipe; Ctrl+V applies it to another picture.',
  subjectNamed: (id: string): string => `subject ${id}`,
  subjectNamedName: (subject: number): string => `subject ${subject}`,
  thePicture: 'The picture is not in this browser. Open it again.',
  deleteProjectsOrBatchPictures: 'Delete projects or batch pictures to free space.',

  // preset-list
  presets: 'Presets',
  moreForPresets: 'More for presets',
  importPresets: 'Import presets…',
  saveSelectedToFile: 'Save selected to file…',
  saveAllToFile: 'Save all to file…',
  exportWith: (name: string): string => `Export with ${name}`,
  newName: 'New name',
  use: (name: string): string => `Use ${name}`,
  moreFor: (name: string): string => `More for ${name}`,
  rename: 'Rename',
  delete: 'Delete',
  nameOfANewPreset: 'Name of a new preset',
  keepsFormatSizeSharpeningMetadata:
    'Keeps format, size, sharpening, metadata and name pattern as they are set below',
  savePreset: 'Save preset',
  exportPresets: 'Export presets',
  exportNamed: (presets: string): string => `Export ${presets}`,
  preset: (number: number): string => `Preset ${number}`,
  presetDeleted: (name: string): string => `Preset “${name}” deleted.`,
  restore: 'Restore',
  theFileIsTooLarge: 'the file is too large for presets',
  cantBeUsedYourPresets: (name: string, reason: string): string =>
    `“${name}” can’t be used: ${reason}. Your presets are unchanged.`,
  importedFrom: (presets: string, name: string): string => `${presets} imported from “${name}”.`,
  deleteAProjectToMake: 'Delete a project to make room for another preset.',
};
