/*
 * Pictures of WebP made into one that moves, as the container's specification says (WebP Container Specification,
 * developers' documentation of libwebp): RIFF chunks, VP8X, ANIM, then an ANMF for each frame.
 */

const ANIMATION = 0x02;
/** The frame takes the place of the one before, whatever is transparent in it. */
const DO_NOT_BLEND = 0x02;
/** The longest a frame can be shown, and the longest side of one. */
const MAX_24_BITS = 2 ** 24 - 1;

/** The chunks of a WebP that hold pixels, as they are. @throws Error where it is no WebP. */
function pixelChunks(file: Uint8Array): Uint8Array {
  const text = (at: number): string => String.fromCharCode(...file.subarray(at, at + 4));
  const view = new DataView(file.buffer, file.byteOffset, file.byteLength);
  if (file.length < 20 || text(0) !== 'RIFF' || text(8) !== 'WEBP') throw new Error('That is no WebP.');
  const kept: Uint8Array[] = [];
  for (let at = 12; at + 8 <= file.length;) {
    const size = 8 + view.getUint32(at + 4, true);
    const end = at + size + (size % 2);
    if (['VP8 ', 'VP8L', 'ALPH'].includes(text(at))) kept.push(file.subarray(at, end));
    at = end;
  }
  if (kept.length === 0) throw new Error('That WebP holds no pixels.');
  return joined(kept);
}

function joined(parts: readonly Uint8Array[]): Uint8Array<ArrayBuffer> {
  const all = new Uint8Array(parts.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const part of parts) {
    all.set(part, at);
    at += part.length;
  }
  return all;
}

function chunk(name: string, body: Uint8Array): Uint8Array<ArrayBuffer> {
  const head = new Uint8Array(8);
  head.set([...name].map((letter) => letter.charCodeAt(0)));
  new DataView(head.buffer).setUint32(4, body.length, true);
  return joined([head, body, new Uint8Array(body.length % 2)]);
}

const threeBytes = (value: number): number[] => [value & 255, (value >> 8) & 255, (value >> 16) & 255];

/** A frame of a picture that moves. @param file a WebP of one picture. @param durationMs how long it is shown. */
export function animationFrame(
  file: Uint8Array,
  { width, height }: { width: number; height: number },
  durationMs: number,
): Uint8Array<ArrayBuffer> {
  const head = [0, 0, width - 1, height - 1, Math.min(MAX_24_BITS, durationMs)].flatMap(threeBytes);
  return chunk('ANMF', joined([Uint8Array.from([...head, DO_NOT_BLEND]), pixelChunks(file)]));
}

/** What stands before the frames of a picture that moves without end. @param framesBytes bytes of all its frames. */
export function animationHead(
  { width, height }: { width: number; height: number },
  framesBytes: number,
): Uint8Array<ArrayBuffer> {
  const extended = chunk(
    'VP8X',
    Uint8Array.from([ANIMATION, 0, 0, 0, ...threeBytes(width - 1), ...threeBytes(height - 1)]),
  );
  // White behind it, and again and again.
  const animation = chunk('ANIM', Uint8Array.from([255, 255, 255, 255, 0, 0]));
  const riff = new Uint8Array(12);
  riff.set([...'RIFF'].map((letter) => letter.charCodeAt(0)));
  riff.set(
    [...'WEBP'].map((letter) => letter.charCodeAt(0)),
    8,
  );
  new DataView(riff.buffer).setUint32(4, 4 + extended.length + animation.length + framesBytes, true);
  return joined([riff, extended, animation]);
}
