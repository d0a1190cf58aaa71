import { transfer } from 'comlink';
import { AudioBufferSink, type InputAudioTrack } from 'mediabunny';
import { WorkerClient } from '../worker-client';
import type { StretchWorker } from './stretch.worker';

/** A piece of sound, and when it is heard, in seconds from the first. */
export interface SoundPiece {
  buffer: AudioBuffer;
  at: number;
}

/** The sound of a part of a track as it is. @param from, to in seconds of the track. */
export async function* soundPieces(
  track: InputAudioTrack,
  from: number,
  to: number,
): AsyncGenerator<SoundPiece> {
  for await (const { buffer, timestamp } of new AudioBufferSink(track).buffers(from, to))
    yield { buffer, at: timestamp - from };
}

/**
 * The sound of a part of a track, so many times as fast at its own pitch; exactly as long as that makes the part.
 * @param from, to in seconds of the track.
 */
export async function* stretchedPieces(
  track: InputAudioTrack,
  from: number,
  to: number,
  speed: number,
): AsyncGenerator<SoundPiece> {
  const { numberOfChannels, sampleRate } = track;
  const worker = new WorkerClient<StretchWorker>(
    () => new Worker(new URL('./stretch.worker', import.meta.url), { type: 'module' }),
  );
  let made = 0;
  const piece = function* (planes: Float32Array<ArrayBuffer>[]): Generator<SoundPiece> {
    const { length } = planes[0]!;
    if (length === 0) return;
    const buffer = new AudioBuffer({ length, numberOfChannels, sampleRate });
    planes.forEach((plane, c) => buffer.copyToChannel(plane, c));
    yield { buffer, at: made / sampleRate };
    made += length;
  };
  try {
    await worker.call.begin(numberOfChannels, sampleRate, speed);
    let taken = 0;
    for await (const { buffer, at } of soundPieces(track, from, to)) {
      const due = Math.round(at * sampleRate);
      const planes = Array.from({ length: numberOfChannels }, (_, c) =>
        inPlace(buffer.getChannelData(c), due - taken),
      );
      taken += planes[0]!.length;
      const moved = planes.map((plane) => plane.buffer);
      yield* piece(await worker.call.add(transfer(planes, moved)));
    }
    yield* piece(await worker.call.finish(Math.round(((to - from) / speed) * sampleRate)));
  } finally {
    worker.end();
  }
}

/** Samples with silence before them where they come late, and without their beginning where they come early. */
function inPlace(samples: Float32Array, late: number): Float32Array<ArrayBuffer> {
  if (late <= 0) return samples.slice(-late);
  const placed = new Float32Array(late + samples.length);
  placed.set(samples, late);
  return placed;
}
