export { decodeRow, encodeRow8, encodeRow16 } from './transfer';
export { mirrorRow, weighRows, blurRow, halveRow, resampleRow } from './convolve';
export { startField, bandRow, ellipseRow, irisRow, soundingsRow, keepChanged, levelRow, hazeMapRow } from './field';
export { inkRow, foldRow, overlayRow, keepRow } from './strokes';
export { mixRow } from './mix';
export { saturateRow } from './colour';
