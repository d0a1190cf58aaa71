import { frameRate } from '@hazy-lens/core';
import { Zip, ZipPassThrough } from 'fflate';
import type { Material } from '../engine/material';
import type { FootageInfo } from '../model/project';

/** What is stored of footage beside its file; null for a still. */
export function footageInfo({ footage, frames }: Material): FootageInfo | null {
  if (!footage) return null;
  const { times, codec, sound } = footage;
  return { frames, seconds: times.end, fps: frameRate(times), codec, sound };
}

/** Files as one zip, as they are: pictures are compressed already. */
export async function zipOf(files: readonly File[]): Promise<Blob> {
  const parts: Blob[] = [];
  let failure: Error | null = null;
  const zip = new Zip((error, chunk) => {
    failure ??= error;
    parts.push(new Blob([chunk as Uint8Array<ArrayBuffer>]));
  });
  for (const file of files) {
    const entry = new ZipPassThrough(file.name);
    zip.add(entry);
    entry.push(new Uint8Array(await file.arrayBuffer()), true);
  }
  zip.end();
  if (failure) throw failure;
  return new Blob(parts, { type: 'application/zip' });
}
