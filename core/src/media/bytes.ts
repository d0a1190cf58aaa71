/** What all readers and writers of files here need of bytes. */

export const ascii = (bytes: Uint8Array, from: number, count: number): string =>
  String.fromCharCode(...bytes.subarray(from, from + count));

export const bytesOf = (text: string): Uint8Array => Uint8Array.from(text, (c) => c.charCodeAt(0));

export const viewOf = (bytes: Uint8Array): DataView =>
  new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);

export function join(...parts: Uint8Array[]): Uint8Array {
  const out = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}

/** Where a text begins in bytes, from a place on; -1 where it is not. */
export function find(bytes: Uint8Array, text: string, from = 0): number {
  const [first, ...rest] = bytesOf(text);
  for (let at = bytes.indexOf(first!, from); at >= 0; at = bytes.indexOf(first!, at + 1))
    if (rest.every((byte, i) => bytes[at + 1 + i] === byte)) return at;
  return -1;
}

/** What a byte makes of the lowest byte of a CRC-32. */
const CRC_TABLE = Uint32Array.from({ length: 256 }, (_, byte) => {
  let crc = byte;
  for (let k = 0; k < 8; k++) crc = crc & 1 ? (crc >>> 1) ^ 0xedb88320 : crc >>> 1;
  return crc;
});

/** CRC-32 (ISO 3309), as PNG and zip want it. */
export function crc32(bytes: Uint8Array): number {
  let crc = ~0;
  for (let i = 0; i < bytes.length; i++) crc = (crc >>> 8) ^ CRC_TABLE[(crc ^ bytes[i]!) & 0xff]!;
  return ~crc >>> 0;
}
