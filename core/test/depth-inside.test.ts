import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import {
  depthInBoxes,
  depthInside,
  exportedMetadata,
  insertMetadata,
  nearerBrighter,
  readMetadata,
} from '../src/index';
import { depthMessage, heifWith } from './heif-file';

const inflate = (packed: Uint8Array): Uint8Array => packed;
const plain = (value: number, width = 8) =>
  sharp({ create: { width, height: 6, channels: 3, background: { r: value, g: value, b: value } } });

/** A JPEG with a depth map behind it, as the open Dynamic Depth format has it. */
async function withDepth(depth: Uint8Array, about: string, more = ''): Promise<Uint8Array> {
  const xmp = `<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description dc:creator="A. Maker">
<Container:Directory><rdf:Seq>
<rdf:li rdf:parseType="Resource"><Container:Item Item:Mime="image/jpeg" Item:Length="0" Item:DataURI="primary_image"/></rdf:li>
<rdf:li rdf:parseType="Resource"><Container:Item Item:Mime="image/jpeg" Item:Length="${depth.length}" Item:DataURI="depth/map"/></rdf:li>${more}
</rdf:Seq></Container:Directory>
<Device:Profiles><rdf:Seq><rdf:li><DepthMap:DepthMap ${about} DepthMap:DepthURI="depth/map"/></rdf:li></rdf:Seq></Device:Profiles>
</rdf:Description></rdf:RDF></x:xmpmeta>`;
  const first = insertMetadata(await plain(90).jpeg().toBuffer(), { exif: null, xmp });
  return Buffer.concat([first, depth]);
}
const inside = (file: Uint8Array) => depthInside(file, readMetadata(file, inflate));

describe('a depth map inside of a JPEG', () => {
  it('is found behind the picture, with how far it reaches', async () => {
    const depth = await plain(40).jpeg().toBuffer();
    const file = await withDepth(
      depth,
      'DepthMap:Format="RangeInverse" DepthMap:Near="0.5" DepthMap:Far="20"',
    );
    const found = inside(file)!;
    expect(Buffer.compare((found.picture as { file: Uint8Array }).file, depth)).toBe(0);
    expect(found).toMatchObject({ range: { near: 0.5, far: 20 }, coding: 'range-inverse' });
    const linear = await withDepth(depth, "DepthMap:Format='RangeLinear'");
    expect(inside(linear)).toMatchObject({ range: null, coding: 'range-linear' });
  });

  it('is not where another file lies behind it, is cut off, or is no picture', async () => {
    const depth = await plain(40).png().toBuffer();
    const after =
      '<rdf:li rdf:parseType="Resource"><Container:Item Item:Mime="video/mp4" Item:Length="9" Item:DataURI="clip"/></rdf:li>';
    const both = Buffer.concat([
      await withDepth(depth, 'DepthMap:Format="RangeInverse"', after),
      Buffer.alloc(9),
    ]);
    expect(Buffer.compare((inside(both)!.picture as { file: Uint8Array }).file, depth)).toBe(0);
    const whole = await withDepth(depth, 'DepthMap:Format="RangeInverse"');
    expect(inside(whole.subarray(0, whole.length - 20))).toBeNull();
    expect(inside(await withDepth(Buffer.from('not a picture'), ''))).toBeNull();
    expect(inside(await plain(3).jpeg().toBuffer())).toBeNull();
    for (const length of ['-5', '99999999', 'x', ''])
      expect(depthInside(whole, { xmp: `<Container:Directory><rdf:li Item:Length="0"/><rdf:li Item:Semantic="Depth" Item:Length="${length}"/></Container:Directory>` })).toBeNull(); // prettier-ignore
  });

  it('becomes a map whose nearer places are brighter, even in one over the distance', () => {
    const values = (): Uint16Array => Uint16Array.from([0, 16384, 32768, 65535]);
    const range = { near: 1, far: 9 };
    const inverse = values();
    nearerBrighter(inverse, { range, coding: 'range-inverse' });
    expect([...inverse]).toEqual([65535, 49151, 32767, 0]);
    const linear = values();
    nearerBrighter(linear, { range, coding: 'range-linear' });
    // Half-way at 5: of 1 .. 1/9 that is (1/5 - 1/9) / (1 - 1/9).
    expect(linear[2]! / 65535).toBeCloseTo((1 / 5 - 1 / 9) / (1 - 1 / 9), 3);
    expect([linear[0], linear[3]]).toEqual([65535, 0]);
    const unsaid = values();
    nearerBrighter(unsaid, { range: null, coding: 'range-linear' });
    expect([...unsaid]).toEqual([65535, 49151, 32767, 0]);
  });

  it('is not spoken of in a file that no longer has it', async () => {
    const file = await withDepth(await plain(40).jpeg().toBuffer(), 'DepthMap:Format="RangeInverse"');
    const made = { width: 4, height: 4, thumbnail: null } as never;
    const { xmp } = exportedMetadata(readMetadata(file, inflate), made, 'all');
    expect(xmp).toContain('A. Maker');
    expect(xmp).not.toMatch(/Container:|DepthMap:/);
  });
});

describe('a depth map inside of a HEIF file', () => {
  const still = { width: 4, height: 4, hvcC: Uint8Array.of(1), frame: Uint8Array.of(1, 2, 3) };
  const depth = 'urn:mpeg:hevc:2015:auxid:2';

  it('is the picture that is auxiliary to the first; without a word the nearer is brighter', () => {
    const file = heifWith(still, still, depth);
    expect(depthInBoxes(file)).toEqual({ picture: { item: 2 }, coding: 'disparity', range: null });
    const samples = Uint16Array.of(0, 7, 65535);
    nearerBrighter(samples, depthInBoxes(file)!);
    expect([...samples]).toEqual([0, 7, 65535]);
  });

  it('is the way round that its message says', () => {
    const said = (kind: number) => depthInBoxes(heifWith(still, still, depth, depthMessage(kind, 1.5, 40)));
    for (const kind of [0, 1, 3]) expect(said(kind)).toMatchObject({ coding: 'disparity' });
    expect(said(2)).toMatchObject({ coding: 'range-linear', range: { near: 1.5, far: 40 } });
  });

  it('is not a picture of another kind, nor one of a file that is cut or spoiled', () => {
    expect(depthInBoxes(heifWith(still, still, 'urn:mpeg:hevc:2015:auxid:1'))).toBeNull();
    expect(depthInBoxes(Uint8Array.of())).toBeNull();
    const whole = heifWith(still, still, depth, depthMessage(2, 1, 9));
    for (let end = 0; end < whole.length; end++)
      expect([null, 2]).toContain(itemOf(depthInBoxes(whole.slice(0, end))));
    for (let at = 0; at < whole.length; at++) {
      const spoiled = whole.slice();
      spoiled[at] = 255;
      expect(() => depthInBoxes(spoiled)).not.toThrow();
    }
  });
  const itemOf = (found: ReturnType<typeof depthInBoxes>): number | null =>
    found && 'item' in found.picture ? found.picture.item : null;
});
