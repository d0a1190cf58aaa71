/** Files to try with, one for each window that is open. */
const MAX_WINDOWS = 64;
const PIECE = 1 << 20;
/** Bytes that stay taken: what deleting on a full disk needs. */
const RESERVE = 1 << 20;

/** A file of this window's own: another one has those before it. */
async function ownFile(): Promise<FileSystemSyncAccessHandle> {
  const folder = await navigator.storage.getDirectory();
  for (let k = 0; ; k++)
    try {
      const file = await folder.getFileHandle(`room-${k}`, { create: true });
      return await file.createSyncAccessHandle();
    } catch (error) {
      if ((error as Error).name !== 'NoModificationAllowedError' || k === MAX_WINDOWS) throw error;
    }
}

let file: FileSystemSyncAccessHandle | null = null;

/** Writes so many bytes behind the reserve and takes them back; of 0 bytes, gives the reserve free. */
async function tried(bytes: number): Promise<void> {
  // On a full disk there may be none yet: it is tried again then.
  const handle = (file ??= await ownFile());
  if (bytes === 0) return handle.truncate(0);
  try {
    const piece = new Uint8Array(PIECE);
    for (let at = Math.min(handle.getSize(), RESERVE); at < RESERVE + bytes; at += PIECE)
      if (handle.write(piece, { at }) < PIECE) throw new DOMException('', 'QuotaExceededError');
  } finally {
    if (handle.getSize() > RESERVE) handle.truncate(RESERVE);
  }
}

/** Answers with what went wrong, null where nothing did, in the order of the questions. */
let last = Promise.resolve();
addEventListener('message', ({ data }: MessageEvent<number>) => {
  last = last.then(() =>
    tried(data).then(
      () => postMessage(null),
      (error: Error) => postMessage(error.name),
    ),
  );
});
