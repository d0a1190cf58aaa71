import { describe, expect, it } from 'vitest';
import { requestRead, readHandle, canRead } from '../src/app/storage/file-handles';

const place = (more: object): FileSystemFileHandle => ({ kind: 'file', name: 'clip.mp4', ...more }) as never;

describe('a file outside of the browser', () => {
  it('may be read where the browser says so, or does not know of asking', async () => {
    expect(await canRead(place({}))).toBe(true);
    for (const [state, may] of [
      ['granted', true],
      ['prompt', false],
      ['denied', false],
    ] as const)
      expect(await canRead(place({ queryPermission: async () => state }))).toBe(may);
    const failing = async (): Promise<never> => {
      throw new DOMException('no', 'NotAllowedError');
    };
    expect(await canRead(place({ queryPermission: failing }))).toBe(false);
    await requestRead(place({ requestPermission: failing }));
  });

  it('is named where it is gone', async () => {
    const file = new File(['a'], 'clip.mp4');
    expect(await readHandle(place({ getFile: async () => file }))).toBe(file);
    const gone = async (): Promise<never> => {
      throw new DOMException('not found', 'NotFoundError');
    };
    await expect(readHandle(place({ getFile: gone }))).rejects.toThrow(/“clip\.mp4” has moved\. Restore/);
  });
});
