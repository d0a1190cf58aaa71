import { inflateRawSync } from 'node:zlib';
import { type Zippable, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { ZipError, unpacked, zipEntries } from '../src';

const inflate = (packed: Uint8Array, most: number): Uint8Array<ArrayBuffer> =>
  Uint8Array.from(inflateRawSync(packed, { maxOutputLength: Math.max(1, most) }));
const file = Uint8Array.from({ length: 5000 }, (_, i) => i % 251);

/** A zip of a file, with bytes in its directory's entry changed. */
function changed(change: (entry: DataView) => void, files: Zippable = { 'a.png': file }): Uint8Array {
  const zip = zipSync(files);
  const view = new DataView(zip.buffer, zip.byteOffset);
  const at = view.getUint32(zip.length - 6, true);
  change(new DataView(zip.buffer, zip.byteOffset + at));
  return zip;
}
const unpackAll = (zip: Uint8Array): Uint8Array[] => zipEntries(zip).map((entry) => unpacked(entry, inflate));

describe('a zip', () => {
  it('gives its files, stored or deflated, by names in UTF-8', () => {
    const zip = zipSync({ 'über.png': file, 'b/c.txt': [file, { level: 0 }], empty: new Uint8Array() });
    expect(zipEntries(zip).map(({ name, size }) => [name, size])).toEqual([
      ['über.png', 5000],
      ['b/c.txt', 5000],
      ['empty', 0],
    ]);
    expect(unpackAll(zip).map((one) => Buffer.compare(one, file))).toEqual([0, 0, -1]);
    expect(zipEntries(zipSync({}))).toEqual([]);
  });

  it('is refused where it is cut short, lies or overlaps, whatever its bytes are', () => {
    const zip = zipSync({ 'a.png': file, 'b.png': file });
    for (let i = 0; i < zip.length; i += 7)
      expect(() => unpackAll(zip.subarray(0, i)), `cut at ${i}`).toThrow(ZipError);
    for (const [what, bad] of [
      ['a wrong checksum', changed((entry) => entry.setUint32(16, 7, true))],
      ['too small a size', changed((entry) => entry.setUint32(24, 4999, true))],
      ['too large a size', changed((entry) => entry.setUint32(24, 0xfffffff0, true))],
      ['packed beyond the end', changed((entry) => entry.setUint32(20, 1e6, true))],
      ['elsewhere', changed((entry) => entry.setUint32(42, 9, true))],
    ] as const)
      expect(() => unpackAll(bad), what).toThrow(ZipError);
    expect(() => unpackAll(changed((entry) => entry.setUint16(8, 1, true)))).toThrow('It is encrypted');
    expect(() => unpackAll(changed((entry) => entry.setUint16(10, 14, true)))).toThrow('method 14');
    // A thousand entries of the same bytes.
    const one = zipSync({ 'a.png': [file, { level: 0 }] });
    const start = new DataView(one.buffer).getUint32(one.length - 6, true);
    const header = one.slice(start, one.length - 22);
    const end = one.slice(-22);
    new DataView(end.buffer).setUint16(10, 1000, true);
    const overlapping = Buffer.concat([
      one.subarray(0, start),
      ...Array.from({ length: 1000 }, () => header),
      end,
    ]);
    expect(() => zipEntries(overlapping)).toThrow(ZipError);
  });
});
