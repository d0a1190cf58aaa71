/** The words of Source, by the parts that show them. */
export const sourceWords = {
  // source-panel
  source: 'Source',
  file: 'File',
  format: 'Format',
  duration: 'Duration',
  sFramesFps: (seconds: string, frames: number, fps: string): string =>
    `${seconds} s, ${frames} frames, ${fps} fps`,
  audio: 'Audio',
  none: 'None',
  colourSpace: 'Colour space',
  dimensions: 'Dimensions',
  fileSize: 'File size',
  date: 'Date',
  unknown: 'Unknown',
  nothingIsOpen: 'Nothing is open.',
  openFile: 'Open file',
  openShelf: 'Open shelf',
  batch: 'Batch',
  orDropOrPaste:
    'Or drop or paste a file anywhere. JPEG, PNG, WebP, AVIF, HEIC, TIFF, raw; MP4, MOV, WebM, MKV, GIF; numbered frames as files, a folder or a zip. Each opens as a new project; your files are never changed.',
  newPictures: 'New pictures',
  newPicturesStartWith: 'New pictures start with',
  suggestedBand: 'Suggested band',
  noChanges: 'No changes',
  suitability: 'Suitability',
  picturesAndClips: 'Pictures and clips',
  displayP3: 'Display P3',
  convertedTo: (profile: string, own: string): string => `${profile}, converted to ${own}`,
  theFirstOfPictures: (pages: number): string => `, the first of ${pages} pictures`,
  bitsPerChannel: (type: string, bits: number, pages: string): string =>
    `${type}, ${bits} bits per channel${pages}`,
  frameRate: 'Frame rate',

  // suit-section
  placeSuggestedBand: 'Place suggested band',
  cutItOut: 'Cut it out as a standing subject',
  thePictureCantBeAnalysed: 'The picture can’t be analysed.',
  readingThePicture: 'Reading the picture…',
  newStandingSubject: 'new standing subject',
  suggestedBandName: 'suggested band',
};
