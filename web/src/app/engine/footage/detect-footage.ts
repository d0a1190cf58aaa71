import { kindOf } from '@hazy-lens/core';

/** Kinds of files that may hold more than one frame. */
export type FootageKind = 'clip' | 'animation' | 'zip';

/** What a file may be by its first bytes, or null for anything that holds no footage. */
export async function detectFootage(file: Blob): Promise<FootageKind | null> {
  const start = new Uint8Array(await file.slice(0, 64).arrayBuffer());
  const text = (from: number, count: number): string =>
    String.fromCharCode(...start.subarray(from, from + count));
  if (text(0, 4) === 'PK\u0003\u0004') return 'zip';
  // Matroska and WebM begin with an EBML header.
  if (text(0, 4) === '\u001aE\u00df\u00a3') return 'clip';
  const picture = kindOf(start);
  // A sequence of pictures says so among the brands of its file.
  const isSequence = text(8, 40).includes('avis');
  if (picture === 'gif' || picture === 'webp' || (picture === 'avif' && isSequence))
    return (await framesIn(file, `image/${picture}`)) > 1 ? 'animation' : null;
  if (picture) return null;
  if (['ftyp', 'moov', 'mdat', 'wide', 'free', 'skip'].includes(text(4, 4))) return 'clip';
  return null;
}

/** The track of an animation, once it is known how many frames it has. */
export async function animatedTrack(decoder: ImageDecoder): Promise<ImageTrack | null> {
  await decoder.tracks.ready;
  // AVIF has its first picture as a track of its own, too.
  const track = Array.from(decoder.tracks).find(({ animated }) => animated);
  if (track) track.selected = true;
  await decoder.completed;
  return track ?? null;
}

async function framesIn(file: Blob, type: string): Promise<number> {
  // Browsers without it read the first frame.
  if (typeof ImageDecoder === 'undefined') return 1;
  const decoder = new ImageDecoder({ data: await file.arrayBuffer(), type });
  try {
    return (await animatedTrack(decoder))?.frameCount ?? 1;
  } catch {
    // What is wrong with it is said by who reads it as a picture.
    return 1;
  } finally {
    decoder.close();
  }
}
