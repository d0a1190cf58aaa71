/** The words of the reel, by the parts that show them. */
export const reelWords = {
  // key-lanes
  curveOf: (label: string): string => `Curve of ${label}`,
  hideTheCurve: 'Hide the curve',
  showTheCurve: 'Show the curve',
  keys: (label: string): string => `${label} keys`,
  keyAt: (label: string, clock: string): string => `${label} key at ${clock}`,
  noKeysYetAdd: 'No keys yet. Add one with the tab beside a number, or follow a band.',

  // lane-curve
  number: 'Number',
  doubleClickToAddAKey: 'Double-click to add a key',
  at: (label: string, clock: string): string => `${label} at ${clock}`,

  // reel
  reel: 'Reel',
  pause: 'Pause',
  play: 'Play',
  pauseSpaceK: 'Pause (Space, K)',
  playSpace: 'Play (Space)',
  previousFrame: 'Previous frame',
  previousFrameHint: 'Previous frame (,)',
  nextFrame: 'Next frame',
  nextFrameHint: 'Next frame (.)',
  timeOrAndAFrame: 'Time, or # and a frame',
  typeATime103: 'Type a time (1:03.2) or a frame (#120)',
  playingAtFps: (speed: string, shown: number): string => `${speed}playing at ${shown} fps`,
  keysNamed: (count: number): string => `${count} keys`,
  easing: 'Easing',
  copyKeyToPlayhead: 'Copy key to playhead',
  deleteKey: 'Delete key',
  previousKey: 'Previous key',
  nextKey: 'Next key',
  mute: 'Mute',
  noAudioAtThisPace: 'No audio at this pace: see Stretch audio in Pace',
  volume: 'Volume',
  playsAtHalfResolution: 'Plays at half resolution on slow computers',
  halfResolution: 'Half resolution',
  loop: 'Loop',
  playhead: 'Playhead',
  frameOf: (frame: number, count: number): string => `frame ${frame} of ${count}`,
  back: 'back ',
  outputAtFps: (length: string, frames: string, fps: number): string =>
    `output ${length} · ${frames} at ${fps} fps`,

  // trim-buffers
  framesToAreMissing: (from: number, count: number): string =>
    `Frames ${from} to ${count} are missing in the file`,
  inPoint: 'In point',
  outPoint: 'Out point',
  dragToSet: 'Drag to set the in point (I)',
  dragToSetTheOut: 'Drag to set the out point (O)',
};
