/** When a picture was taken, by its EXIF; else when its file was last changed. Text for people, or null. */
export async function takenAt(file: File): Promise<string | null> {
  const stated = await statedDate(file).catch(() => undefined);
  const match = stated?.match(/^(\d{4})[:-](\d\d)[:-](\d\d)[ T](\d\d:\d\d)/);
  if (match) return `${match[1]}-${match[2]}-${match[3]} ${match[4]}`;
  return file.lastModified ? new Date(file.lastModified).toISOString().slice(0, 16).replace('T', ' ') : null;
}

/** @throws where the file is of a kind that the reader of EXIF does not know. */
async function statedDate(file: File): Promise<string | undefined> {
  const { default: ExifReader } = await import('exifreader');
  const tags = await ExifReader.load(await file.slice(0, 256 * 1024).arrayBuffer(), { async: true });
  return tags['DateTimeOriginal']?.description ?? tags['DateTime']?.description;
}
