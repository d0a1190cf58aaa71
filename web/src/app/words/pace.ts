/** The words of Pace, by the parts that show them. */
export const paceWords = {
  // pace-chart
  speedAtS: (time: string): string => `Speed at ${time} s`,
  times: (speed: string): string => `${speed} times`,
  secondsOfTheSource: (source: string, seconds: string): string =>
    `${source} seconds of the source are shown in ${seconds} seconds`,
  speedCurve: 'speed curve',

  // pace-panel
  pace: 'Pace',
  speed: 'Speed',
  constant: 'Constant',
  curve: 'Curve',
  dragTheTabsUp: 'Drag the tabs up to speed up, down to slow down, or use the arrow keys.',
  stretchAudio: 'Stretch audio',
  direction: 'Direction',
  forward: 'Forward',
  reverse: 'Reverse',
  backAndForth: 'Back and forth',
  motion: 'Motion',
  originalRate: 'Original rate',
  deflicker: 'Deflicker',
  brightnessOfTheFramesBefore: 'Brightness of the frames, before and after',
  brightnessOverTimeFaintLine: 'Brightness over time: faint line before, strong line after.',
  measuringTheBrightnessOfAllFrames: 'Measuring the brightness of all frames…',
  trim: 'Trim',
  resetTrim: 'Reset trim',
  sAtFps: (seconds: string, frames: string, fps: number): string => `${seconds} s, ${frames} at ${fps} fps`,
  keepsTheAudioAtAny:
    'Keeps the audio at any speed, at its own pitch. Without it, audio is included at 1× only.',
  audioCanBeKept: 'Audio can be kept only at a constant speed, forward.',
  everyFrameIsNew: 'Every frame is new.',
  newFramesPerSecond: (frames: string): string => `${frames} new frames per second.`,
  fromSToS: (from: string, to: string): string => `From ${from} s to ${to} s`,
  speedAsACurve: 'speed as a curve',
  constantSpeed: 'constant speed',
  stretchAudioNamed: (state: string): string => `stretch audio ${state}`,
  originalRateName: 'original rate',
  resetTrimName: 'reset trim',
};
