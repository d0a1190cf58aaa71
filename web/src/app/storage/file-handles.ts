/** Whether files outside of this browser may be read: browsers that remember their places ask anew each time. */
type Permission = (how: { mode: 'read' }) => Promise<PermissionState>;

declare global {
  interface FileSystemHandle {
    queryPermission?: Permission;
    requestPermission?: Permission;
  }
  interface DataTransferItem {
    getAsFileSystemHandle?(): Promise<FileSystemHandle | null>;
  }
}

/** True where a file may be read, or where only trying can tell. */
export async function canRead(place: FileSystemFileHandle): Promise<boolean> {
  const state = await place.queryPermission?.({ mode: 'read' }).catch(() => 'prompt');
  return state === undefined || state === 'granted';
}

/** The file at a place. @throws Error with a sentence where it is not there any more. */
export async function readHandle(place: FileSystemFileHandle): Promise<File> {
  try {
    return await place.getFile();
  } catch (error) {
    throw new Error(`its file “${place.name}” has moved. Restore the file, or open it again.`, {
      cause: error,
    });
  }
}

/** Asks the person whether a file may be read: to be called while a click is fresh. */
export async function requestRead(place: FileSystemFileHandle): Promise<void> {
  await place.requestPermission?.({ mode: 'read' }).catch(() => undefined);
}
