export { decodeRow, encodeRow8, encodeRow16 } from './transfer';
export { mirrorRow, weighRows, blurRow, halveRow, resampleRow } from './convolve';
export { startField, planarRow, levelRow, hazeMapRow } from './field';
export { mixRow } from './mix';
export { saturateRow } from './colour';
