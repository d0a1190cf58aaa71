export { withPlainMemory } from './plain-memory';
