/** The words of files and formats, and what can be wrong with them, by the parts that show them. */
export const filesWords = {
  // assets
  theRecipeNeedsWhichIsnt: (name: string): string =>
    `The recipe needs “${name}”, which isn’t stored here. Import the file again.`,

  // codec
  thePartOfHazyLens:
    'The part of Hazy Lens that reads pictures can’t be reached. Is there a connection? Try again.',
  theExport: 'the export',

  // decode
  aChecksumIsWrong: 'a checksum is wrong',
  theTiffHoldsNoPixels: 'The TIFF holds no pixels.',

  // heic
  noPictureCanBeFound: 'no picture can be found in it',
  itsPictureCantBeDecoded: 'its picture can’t be decoded',

  // native-decode
  framesOfThisBrowserCant: 'Frames of this browser can’t be read.',

  // raw
  displayP3: 'Display P3',

  // zip
  cantBeUnpacked: (foreign: string, message: string): string => `“${foreign}” can’t be unpacked. ${message}`,

  // farm-client
  theFarmsAnswerCould: 'the farm’s answer couldn’t be read. Check that it runs the same version',
  theFarmCantBeReached: 'the farm can’t be reached. Check that it is served, and try again',

  // clip-reader
  opus: 'Opus',
  vorbis: 'Vorbis',
  anUnknownCodec: 'an unknown codec',
  isCutShortItsIndex: 'is cut short: its index of frames is missing. Copy it again, or record it again.',
  cantBeRead: 'can’t be read as a clip. It may be damaged.',
  hasNoPictures: 'has no pictures in it, only sound. Choose a clip with pictures.',
  isInWhichThisBrowser: (called: string, othersThan: string): string =>
    `is in ${called}, which this browser doesn’t decode. Convert it to ${othersThan}.`,
  hasNoFrames: 'has no frames in it. It may be cut short or damaged.',
  cantBeDecodedItMay: 'can’t be decoded. It may be cut short or damaged.',
  hasNoFrameThatCan: 'has no frame that can be decoded. It may be cut short or damaged.',
  theFileIsCutShort: (from: number, to: number): string =>
    `The file is cut short: frames ${from} to ${to} are missing. Copy it again if you can.`,
  frameOfCantBeRead: (frame: number, name: string): string => `Frame ${frame} of “${name}” can’t be read.`,

  // image-readers
  cantBeDecodedItMayNamed: (name: string): string => `“${name}” can’t be decoded. It may be damaged.`,
  numberedPictures: (count: number): string => `${count} numbered pictures`,
  missingFramesLaterFramesMoveUp: (missing: string): string =>
    `Missing frames: ${missing}. Later frames move up.`,
  isPxNotAsTheFirst: (
    name: string,
    width: number,
    height: number,
    firstWidth: number,
    firstHeight: number,
  ): string => `“${name}” is ${width} × ${height} px, not ${firstWidth} × ${firstHeight} as the first.`,
  hasBitsPerChannel: (name: string, bits: number, firstBits: number): string =>
    `“${name}” has ${bits} bits per channel, not ${firstBits} as the first.`,
  cantBeReadItMay: (name: string): string => `“${name}” can’t be read. It may be cut short or damaged.`,

  // render-frames
  trimThatPartAway: (reason: string): string =>
    `${reason}: trim that part away, or tick “Repeat the frame before” in Output`,
  range: (from: number, to: number): string => `${from} to ${to}`,
  couldntReadFrames: (names: string): string =>
    `Couldn’t read frames ${names}: each repeats the frame before it.`,

  // worker-source
  thePictures: 'the pictures',
  thereIsNoFrame: (frames: number, frame: number): string =>
    `The footage has ${frames} frames; there is no frame ${frame}.`,
  noFrameOfCan: (name: string): string => `No frame of “${name}” can be read. It may be damaged.`,

  // index
  thisBrowserCantExport: (label: string, width: number, height: number): string =>
    `This browser can’t export ${label} at ${width} × ${height}. Choose another format.`,

  // load
  thePicturesInUnpack: (name: string, gigabytes: number): string =>
    `The pictures in “${name}” unpack to more than ${gigabytes} GB. Make a clip of them, or use fewer.`,
  holdsNoJpegPngWebp: (name: string): string => `“${name}” holds no JPEG, PNG, WebP or TIFF pictures.`,

  // lut-cache
  isTooLargeForALut: (fileName: string): string => `“${fileName}” is too large for a LUT.`,
  cantBeUsedAsALook: (fileName: string, sentence: string): string =>
    `“${fileName}” can’t be used as a look. ${sentence}`,

  // media-source
  aStillHasOneFrame: (frame: number): string => `A still has one frame, not a frame ${frame}.`,

  // render-thread
  itStoodStill: 'it stood still',
  itCouldntBeStarted: 'it couldn’t be started',
  aPartOfHazyLens: (why: string): string => `a part of Hazy Lens that renders was lost: ${why}`,

  // worker-client
  aPartOfHazyLensStood: 'a part of Hazy Lens stood still',
};
