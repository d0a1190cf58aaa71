import { type Metadata, readMetadata } from '@hazy-lens/core';
import { unzlibSync } from 'fflate';

/** What a file says of its picture. */
export async function metadataOf(file: Blob): Promise<Metadata> {
  return readMetadata(new Uint8Array(await file.arrayBuffer()), (packed) => unzlibSync(packed));
}
