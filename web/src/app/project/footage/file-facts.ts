import type { FileFacts } from '../../model/opening';
import { readTags } from './taken-at';

/** Neighbours whose headers are read: enough to tell a timer from a hand. */
const MAX_SAMPLE = 12;

/** Facts of the first of several files, in the order given, by their headers; what a header does not tell is null. */
export function readFacts(files: readonly File[]): Promise<FileFacts[]> {
  return Promise.all(
    files.slice(0, MAX_SAMPLE).map(async (file) => {
      const facts: FileFacts = { name: file.name, size: null, taken: null };
      try {
        const tags = await readTags(file);
        const [width, height] = [tags['Image Width']?.value, tags['Image Height']?.value];
        if (width && height) facts.size = `${String(width)} x ${String(height)}`;
        facts.taken = timeIn(tags['DateTimeOriginal']?.description);
      } catch {
        // A kind that the reader does not know: the names decide.
      }
      return facts;
    }),
  );
}

/** A date as EXIF writes it, "2026:05:01 12:00:00", in milliseconds. */
function timeIn(text: string | undefined): number | null {
  const parts = text
    ?.match(/^(\d{4})[:-](\d\d)[:-](\d\d)[ T](\d\d):(\d\d):(\d\d)/)
    ?.slice(1)
    .map(Number);
  if (!parts) return null;
  const [year, month, ...rest] = parts as [number, number, number, number, number, number];
  return Date.UTC(year, month - 1, ...rest);
}
