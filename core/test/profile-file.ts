import { displayP3Profile } from '../src/index';

/** X, Y and Z of red, green and blue of Adobe RGB (1998), adapted to D50. */
const COLUMNS = {
  rXYZ: [0.60974, 0.31111, 0.01947],
  gXYZ: [0.20528, 0.62567, 0.06087],
  bXYZ: [0.14919, 0.06322, 0.74457],
} as const;

/** A profile of Adobe RGB (1998): its primaries, and a power of 563 / 256. */
export function adobeProfile(): Uint8Array<ArrayBuffer> {
  const profile = displayP3Profile();
  const view = new DataView(profile.buffer);
  for (let i = 0; i < view.getUint32(128); i++) {
    const entry = 132 + 12 * i;
    const tag = String.fromCharCode(...profile.subarray(entry, entry + 4));
    const at = view.getUint32(entry + 4);
    if (tag in COLUMNS)
      COLUMNS[tag as keyof typeof COLUMNS].forEach((value, k) =>
        view.setInt32(at + 8 + 4 * k, Math.round(value * 65536)),
      );
    if (tag === 'rTRC') {
      view.setUint16(at + 8, 0);
      view.setInt32(at + 12, Math.round((563 / 256) * 65536));
    }
  }
  return profile;
}
