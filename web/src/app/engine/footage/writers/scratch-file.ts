const FOLDER = 'films';
const DAY_MS = 24 * 3600 * 1000;

/** A file of this application's own on the disk, for what is too large for memory. */
export interface ScratchFile {
  stream: FileSystemWritableFileStream;
  /** What was written, when the stream is closed. */
  file(type: string): Promise<Blob>;
}

/** Begins one; those of yesterday go. Null where the browser has no such files. */
export async function scratchFile(): Promise<ScratchFile | null> {
  const root = await navigator.storage.getDirectory?.().catch(() => null);
  if (!root) return null;
  const folder = await root.getDirectoryHandle(FOLDER, { create: true });
  for await (const file of folder.values())
    if (file instanceof FileSystemFileHandle && (await file.getFile()).lastModified < Date.now() - DAY_MS)
      await folder.removeEntry(file.name);
  const handle = await folder.getFileHandle(crypto.randomUUID(), { create: true });
  const stream = await handle.createWritable();
  return { stream, file: async (type) => new Blob([await handle.getFile()], { type }) };
}
