export { decodeRow, encodeRow8, encodeRow16 } from './transfer';
export { mirrorRow, weighRows, weighPairs, blurRow, halveRow, resampleRow } from './convolve';
export { startField, bandRow, ellipseRow, irisRow, soundingsRow, keepHaze, levelRow, hazeMapRow, haze16Row } from './field';
export { inkRow, foldRow, overlayRow, keepRow } from './strokes';
export { mixRow, spreadRow, divideRow } from './mix';
export { tintRow, weighLight, admitRow, settleRow, discLevelRow, gatherDiscs } from './lens';
export { packStreakRow, shortStreakRow, streakRow } from './streak';
export { saturateRow, scaleRow, addRow } from './colour';
export { decodeYuvRow, encodeLumaRow, joinChroma } from './yuv';
