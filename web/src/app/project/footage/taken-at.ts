import type { Tags } from 'exifreader';

/** When a picture was taken, by its EXIF; else when its file was last changed. Text for people, or null. */
export async function takenAt(file: File): Promise<string | null> {
  const stated = await statedDate(file).catch(() => undefined);
  const match = stated?.match(/^(\d{4})[:-](\d\d)[:-](\d\d)[ T](\d\d:\d\d)/);
  if (match) return `${match[1]}-${match[2]}-${match[3]} ${match[4]}`;
  return file.lastModified ? new Date(file.lastModified).toISOString().slice(0, 16).replace('T', ' ') : null;
}

/** So much of a file holds its header. */
const HEADER_BYTES = 256 * 1024;

/** What the header of a picture says. @throws where the file is of a kind that the reader does not know. */
export async function readTags(file: Blob): Promise<Tags> {
  const { default: ExifReader } = await import('exifreader');
  return ExifReader.load(await file.slice(0, HEADER_BYTES).arrayBuffer(), { async: true });
}

async function statedDate(file: File): Promise<string | undefined> {
  const tags = await readTags(file);
  return tags['DateTimeOriginal']?.description ?? tags['DateTime']?.description;
}
