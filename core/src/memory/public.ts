export { Scratch, threadsShareMemory } from './index';
