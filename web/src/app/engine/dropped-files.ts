import type { FileWithHandle } from 'browser-fs-access';

/** More files than this in a folder are not footage but an archive. */
const MAX_FILES = 20_000;

/** The files that are dropped, with their places where the browser tells, those in folders too; null where there are none. To be called while they are dropped. */
export function filesIn(data: DataTransfer): Promise<File[]> | null {
  // Only for as long as the event lasts can entries be had.
  const entries = [...data.items].map((item) => item.webkitGetAsEntry()).filter((entry) => entry !== null);
  const files = [...data.files];
  if (files.length === 0 && entries.length === 0) return null;
  if (!entries.some((entry) => entry.isDirectory)) return withPlaces(files, data);
  return filesOf(entries);
}

async function withPlaces(files: readonly File[], data: DataTransfer): Promise<FileWithHandle[]> {
  const items = [...data.items].filter(({ kind }) => kind === 'file');
  const asked = items.map((item) => item.getAsFileSystemHandle?.().catch(() => null) ?? null);
  const places = await Promise.all(asked);
  return files.map((file, i) => {
    const place = places[i];
    return place?.kind === 'file' ? Object.assign(file, { handle: place as FileSystemFileHandle }) : file;
  });
}

async function filesOf(entries: readonly FileSystemEntry[]): Promise<File[]> {
  const found: File[] = [];
  const waiting = [...entries];
  for (let entry = waiting.shift(); entry && found.length < MAX_FILES; entry = waiting.shift()) {
    if (entry.name.startsWith('.')) continue;
    if (entry.isDirectory) waiting.push(...(await entriesIn(entry as FileSystemDirectoryEntry)));
    else
      found.push(
        await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject)),
      );
  }
  return found;
}

/** A folder is read in portions. */
async function entriesIn(folder: FileSystemDirectoryEntry): Promise<FileSystemEntry[]> {
  const reader = folder.createReader();
  const all: FileSystemEntry[] = [];
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((resolve, reject) =>
      reader.readEntries(resolve, reject),
    );
    if (some.length === 0) return all;
    all.push(...some);
  }
}
