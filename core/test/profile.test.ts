import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { isSrgbName, isSrgbProfile, profileName } from '../src/index';

/** A profile of four tags at most: one that gives itself a name, as version 2 writes it. */
function named(name: string): Uint8Array {
  const bytes = new Uint8Array(144 + 12 + name.length + 1);
  const view = new DataView(bytes.buffer);
  view.setUint32(128, 1);
  view.setUint32(132, 0x64657363);
  view.setUint32(136, 144);
  view.setUint32(144 + 8, name.length + 1);
  bytes.set(new TextEncoder().encode(name), 144 + 12);
  return bytes;
}

describe('a colour profile', () => {
  it('says its name, old and new', async () => {
    expect(profileName(named('Meadow lamp'))).toBe('Meadow lamp');
    const { data } = await sharp(Buffer.alloc(3), { raw: { width: 1, height: 1, channels: 3 } })
      .withIccProfile('p3')
      .png()
      .toBuffer({ resolveWithObject: true });
    expect(profileName((await sharp(data).metadata()).icc!)).toBe('sP3C');
  });

  it.each(['sRGB', 'sRGB IEC61966-2.1', 'sRGB built-in', 'c2'])('of sRGB is known: %s', (name) => {
    expect(isSrgbName(name)).toBe(true);
    expect(isSrgbProfile(named(name))).toBe(true);
  });

  it.each(['sP3C', 'Wide meadow RGB', 'sRGB linear', 'sRGB gamma 1.0', 'c2ci', 'like sRGB'])(
    'of other colours is not: %s',
    (name) => expect(isSrgbProfile(named(name))).toBe(false),
  );

  it('that is empty, cut or hostile has no name, and is none of sRGB', () => {
    const whole = named('sRGB');
    for (let n = 0; n < 150; n++) expect(isSrgbProfile(whole.subarray(0, n))).toBe(false);
    const far = named('sRGB');
    new DataView(far.buffer).setUint32(136, 0xffffffff);
    expect(profileName(far)).toBe('unnamed profile');
  });
});
