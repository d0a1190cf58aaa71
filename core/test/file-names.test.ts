import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { namesByPattern } from '../src/index';

const DAY = new Date(2031, 4, 6);

describe('names of files', () => {
  const filledPattern = (pattern: string, sources: { name: string; recipe: string }[]) =>
    namesByPattern(
      pattern,
      sources.map(({ name, recipe }) => ({ name: name.replace(/\.[^.]+$/, ''), file: name, recipe })),
      DAY,
    );
  const all = (names: readonly string[], recipe: string) => names.map((name) => ({ name, recipe }));

  it('follow the pattern', () => {
    const names = ['roof.jpg', 'kite.v2.png'];
    expect(filledPattern('{name} {recipe}', all(names, 'noon'))).toEqual(['roof noon', 'kite.v2 noon']);
    expect(filledPattern('{recipe}-{number}', all(names, 'noon'))).toEqual(['noon-01', 'noon-02']);
    // The same picture with another recipe is another file.
    const twice = [...all(['roof.jpg'], 'noon'), ...all(['roof.jpg'], 'dusk')];
    expect(filledPattern('{name} {recipe}', twice)).toEqual(['roof noon', 'roof dusk']);
    expect(filledPattern('{name} {date}', twice)).toEqual(['roof 2031-05-06', 'roof 2031-05-06 2']);
  });

  it('are never those of their sources, and words that come in by a name stay as they are', () => {
    expect(filledPattern('{name}', all(['roof.jpg', 'Roof.png'], 'noon'))).toEqual([
      'roof edit',
      'Roof edit 2',
    ]);
    expect(filledPattern('{name}', all(['{date}.jpg'], 'noon'))).toEqual(['{date} edit']);
    expect(filledPattern('{recipe}', all(['roof.jpg'], '{name}'))).toEqual(['{name}']);
    const project = [{ name: 'Yard 2.1', file: 'yard.jpg', recipe: 'noon' }];
    expect(namesByPattern('{name}', project, DAY)).toEqual(['Yard 2.1']);
  });

  it('are each their own, safe, and not empty, whatever the pictures and the pattern are', () => {
    const part = fc.constantFrom(
      '{name}',
      '{date}',
      '{recipe}',
      '{number}',
      ' ',
      'a',
      '/',
      '..',
      '{name',
      '☼',
      '2',
    );
    const pattern = fc.array(part, { maxLength: 4 }).map((parts) => parts.join(''));
    const name = fc.oneof(fc.constantFrom('a.png', 'A.png', 'a 2.png', '家.jpg', '.png', ''), fc.string());
    fc.assert(
      fc.property(pattern, fc.array(name, { maxLength: 12 }), fc.string(), (wanted, names, recipe) => {
        const made = filledPattern(wanted, all(names, recipe));
        expect(made.length).toBe(names.length);
        expect(new Set(made.map((one) => one.toLowerCase())).size).toBe(names.length);
        for (const one of made) {
          expect(one).not.toMatch(/[\\/:*?"<>|]/);
          expect(one.trim()).not.toBe('');
        }
      }),
    );
  });
});
