import { describe, expect, it } from 'vitest';
import { dropHint } from '../src/app/shell/drop-hint';

/** What a browser tells of files that are held over the window. */
const held = (...types: string[]): DataTransfer =>
  ({ items: types.map((type) => ({ kind: 'file', type })) }) as unknown as DataTransfer;

describe('before files are let go, the window says what they will do', () => {
  const plain = { takesElements: false, isBatch: false };

  it('by how many there are and of which types', () => {
    expect(dropHint(held('image/jpeg'), plain)).toBe('Drop to open as a new project');
    expect(dropHint(held('video/mp4'), plain)).toContain('clip');
    expect(dropHint(held('application/json'), plain)).toContain('apply the recipe');
    expect(dropHint(held('image/png', 'image/png', ''), plain)).toBe(
      'Drop 3 files: you choose how they open',
    );
    // A folder, a table of colours, a zip.
    for (const type of ['', 'application/zip'])
      expect(dropHint(held(type), plain)).toContain('recipe or look');
    expect(dropHint(held(), plain)).toContain('Drop');
  });

  it('by what is open', () => {
    expect(dropHint(held('image/png'), { ...plain, takesElements: true })).toContain('element');
    expect(dropHint(held('video/mp4'), { ...plain, takesElements: true })).toContain('clip');
    expect(dropHint(held('image/png'), { takesElements: true, isBatch: true })).toBe(
      'Drop to add to the batch',
    );
  });
});
