// Parts of a module (WebAssembly core specification 2.0, 5.5.2 and 5.5.5; limits of shared memories: threads proposal).
const HEADER_BYTES = 8;
const IMPORTS = 2;
const MEMORY = 2;
const SHARED = 0b10;

/**
 * A copy of a module whose memory, which it has from outside and shared, is plain memory: the same instructions run on
 * either. @param module as it was compiled. @throws Error where it imports no memory ahead of its tables and globals.
 */
export function withPlainMemory(module: Uint8Array): Uint8Array<ArrayBuffer> {
  const bytes = Uint8Array.from(module);
  let at = HEADER_BYTES;
  /** A whole number of seven bits a byte, the lowest first. */
  const number = (): number => {
    let value = 0;
    for (let factor = 1; ; factor *= 128) {
      const byte = bytes[at++]!;
      value += (byte & 0x7f) * factor;
      if (byte < 0x80) return value;
    }
  };
  while (at < bytes.length) {
    const section = bytes[at++]!;
    const bytesOfSection = number();
    if (section !== IMPORTS) {
      at += bytesOfSection;
      continue;
    }
    for (let left = number(); left > 0; left--) {
      // The names of the module and of what is imported from it.
      for (let names = 0; names < 2; names++) {
        const length = number();
        at += length;
      }
      const kind = bytes[at++]!;
      if (kind === MEMORY) {
        bytes[at] = bytes[at]! & ~SHARED;
        return bytes;
      }
      // Functions come first.
      if (kind !== 0) break;
      number();
    }
    break;
  }
  throw new Error('The module imports no memory.');
}
