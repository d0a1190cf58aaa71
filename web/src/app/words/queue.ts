/** The words of the queue of exports, by the parts that show them. */
export const queueWords = {
  // batch-renderer
  batch: 'Batch',
  anotherWindowIsRenderingThem: 'another window is rendering them. They appear here as they are done.',
  pictureOf: (number: number, count: number): string => `Picture ${number} of ${count}`,
  waitingForRoomOnTheDisk: 'Waiting for room on the disk',
  isFootageOpenTheClip: (name: string): string => `“${name}” is footage. Open the clip on its own.`,

  // clip-exports
  itsFootageIsNoLonger: 'its footage is no longer in this browser',
  itsFootageIsAFile: 'its footage is a file on disk, and reading it needs your permission',
  assemblingTheClip: 'Assembling the clip',
  preparing: 'Preparing',
  anotherWindowIsWorkingOnIt: 'another window is working on it',
  onlyFramesAsPictures: 'Only frames exported as pictures can go into a folder.',
  frameOfFps: (frame: number, frames: number, rate: number): string =>
    `Frame ${frame} of ${frames}, ${rate} fps`,
  theRenderedPart: 'The rendered part of this clip is no longer in this browser.',
  isntFootage: (fileName: string): string => `“${fileName}” isn’t footage`,
  thisClipFormatIsNo: 'This clip format is no longer supported.',

  // farm-exports
  fetchingFromTheFarm: 'Fetching from the farm',
  sendingToTheFarm: 'Sending to the farm',
  itWasCancelledOnTheFarm: 'it was cancelled on the farm',
  frameOfOnTheFarm: (done: number, frames: number): string => `Frame ${done} of ${frames} on the farm`,
  framesToFailedOnTheFarm: (from: number, to: number, reason: string): string =>
    `frames ${from} to ${to} failed on the farm: ${reason}`,

  // job-queue
  waiting: 'Waiting',

  // layer-order
  layers: 'Layers',
  renderingLayers: 'Rendering layers',

  // picture-order
  reading: 'Reading',
  rendering: 'Rendering',
  savingTheFile: 'Saving the file',
  picture: (label: string): string => `${label} picture`,

  // time-left
  nearlyDone: 'nearly done',
  aboutLeft: (roughly: string): string => `about ${roughly} left`,
};
