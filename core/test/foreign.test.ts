import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { foreignText, messageLine, readRecipe, safeName, textOf } from '../src';

describe('text of others', () => {
  it('is shown in one line of at most 80 characters, its end kept, none of them cut in half', () => {
    expect(foreignText('roofs at noon.png')).toBe('roofs at noon.png');
    const long = foreignText(`${'a'.repeat(1000)}.recipe.json`);
    expect(long).toMatch(/^a{59}…a{8}\.recipe\.json$/);
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 400 }), (text) => {
        const shown = foreignText(text);
        expect(Array.from(shown).length).toBeLessThanOrEqual(80);
        expect(Buffer.from(shown).toString()).toBe(shown);
        // eslint-disable-next-line no-control-regex
        expect(shown).not.toMatch(/[\u0000-\u001f\u007f-\u009f\u200b-\u200f\u2028-\u202e\u2066-\u2069]/);
      }),
    );
  });

  it('has what cannot be seen written out', () => {
    expect(foreignText('photo\u202egnp.exe')).toBe('photo\\u{202e}gnp.exe');
    expect(foreignText('a\u001b[31mred\nb')).toBe('a\\u{001b}[31mred b');
  });

  it('is bounded within messages, too, at whatever length', () => {
    expect(messageLine(`“${'x'.repeat(500)}” was not opened.\nPlease try again.`)).toMatch(
      /^“x{59}…x{20}” was not opened\. Please try again\.$/,
    );
    expect(messageLine('y'.repeat(50_000_000)).length).toBeLessThanOrEqual(1500);
  });

  it('names a field of a recipe by its start and its end', () => {
    const key = 'k'.repeat(1_000_000);
    const text = JSON.stringify({ format: 'hazy-lens-recipe', version: 1, [key]: 1 });
    expect(() => readRecipe(text)).toThrow(/^k{59}…k{20}: isn’t a field of a recipe\.$/);
  });
});

describe('a text file', () => {
  it('is read in UTF-8, with a mark or without, and in UTF-16 of either order', () => {
    const text = '{"format": "hazy-lens-recipe", "version": 1}';
    const utf16 = (swap: boolean): Uint8Array => {
      const bytes = Buffer.from(`\ufeff${text}`, 'utf16le');
      return swap ? bytes.swap16() : bytes;
    };
    for (const bytes of [Buffer.from(text), Buffer.from(`\ufeff${text}`), utf16(false), utf16(true)])
      expect(readRecipe(textOf(bytes)).version).toBe(1);
  });
});

describe('a file name', () => {
  it('is what every system takes, and never empty', () => {
    for (const [name, safe] of [
      ['roofs', 'roofs'],
      ['a/b\\c:d*e?f', 'a b c d e f'],
      ['..', 'picture'],
      [' .hidden. ', 'hidden'],
      ['', 'picture'],
      ['\u202e\u0000', 'picture'],
      ['CON', 'CON picture'],
      ['con.tent', 'con picture.tent'],
      ['console', 'console'],
    ] as const)
      expect(safeName(name), JSON.stringify(name)).toBe(safe);
    expect(Array.from(safeName('😀'.repeat(300)))).toHaveLength(120);
  });
});
