import { unzipSync } from 'fflate';
import { FileError } from './sentences';

const isTooMuch = 'The zip holds far more than a recipe and its pictures.';

/**
 * The files in a zip by their names. @throws FileError before anything is unpacked that would go beyond `mostBytes`.
 */
export function unzip(
  bytes: Uint8Array,
  mostBytes: number,
  onProgress: () => void,
): Map<string, Uint8Array<ArrayBuffer>> {
  let total = 0;
  let entries: Record<string, Uint8Array>;
  try {
    entries = unzipSync(bytes, {
      filter: ({ originalSize }) => {
        onProgress();
        total += originalSize;
        if (total > mostBytes) throw new FileError(isTooMuch);
        return true;
      },
    });
  } catch (error) {
    if (error instanceof FileError) throw error;
    throw new FileError('The zip is damaged or cut short.');
  }
  return new Map(Object.entries(entries)) as Map<string, Uint8Array<ArrayBuffer>>;
}
