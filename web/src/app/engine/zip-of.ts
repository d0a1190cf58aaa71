import { Zip, ZipPassThrough } from 'fflate';

/** Files as one zip, as they are: pictures are compressed already. Its parts stay where the browser keeps them. */
export async function zipOf(files: readonly { name: string; file: Blob }[]): Promise<Blob> {
  const parts: Blob[] = [];
  let failure: Error | null = null;
  const zip = new Zip((error, chunk) => {
    failure ??= error;
    parts.push(new Blob([chunk as Uint8Array<ArrayBuffer>]));
  });
  for (const { name, file } of files) {
    const entry = new ZipPassThrough(name);
    zip.add(entry);
    entry.push(new Uint8Array(await file.arrayBuffer()), true);
  }
  zip.end();
  if (failure) throw failure;
  return new Blob(parts, { type: 'application/zip' });
}
