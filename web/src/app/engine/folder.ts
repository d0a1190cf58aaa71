/** True where the browser writes into folders. */
export const hasFolders = (): boolean => 'showDirectoryPicker' in window;

/** Asks for a folder that may be written to. To be called while the click is fresh. @throws AbortError where it is put away. */
export function pickFolder(): Promise<FileSystemDirectoryHandle> {
  const picker = window as unknown as {
    showDirectoryPicker(how: { mode: 'readwrite' }): Promise<FileSystemDirectoryHandle>;
  };
  return picker.showDirectoryPicker({ mode: 'readwrite' });
}

/** Writes a file into a folder, in place of one of the same name. @param path its name, after those of folders in it. */
export async function writeInto(folder: FileSystemDirectoryHandle, path: string, file: Blob): Promise<void> {
  const [name, ...inner] = path.split('/').reverse() as [string, ...string[]];
  let place = folder;
  for (const one of inner.reverse()) place = await place.getDirectoryHandle(one, { create: true });
  const stream = await (await place.getFileHandle(name, { create: true })).createWritable();
  await stream.write(file);
  await stream.close();
}

/** True where a folder has a file of a name. */
export function hasFile(folder: FileSystemDirectoryHandle, name: string): Promise<boolean> {
  return folder.getFileHandle(name).then(
    () => true,
    () => false,
  );
}
