/*
 * All address arithmetic lives in this room. An address is a byte offset into the one memory that the workers of a render
 * share; it may be anything below 4 GiB, so it is never shifted as a 32-bit integer.
 */
export { Arena, padded } from './arena';
export { KernelContext, writeBlock } from './context';
export { Heap, createMemory, threadsShareMemory } from './heap';
export { MARGIN, type Rows, type Run, marginAfter, rowAddress, sampleAddress } from './rows';
export { Scratch } from './scratch';
