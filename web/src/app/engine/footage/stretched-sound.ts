import { transfer } from 'comlink';
import { AudioBufferSink, type InputAudioTrack } from 'mediabunny';
import { WorkerClient } from '../worker-client';
import type { StretchWorker } from './stretch.worker';

/** Seconds of sound, as it comes or as it is made, that are stretched at a time. */
const MOST_SECONDS = 10;

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
  const heard = function* (planes: Float32Array<ArrayBuffer>[]): Generator<SoundPiece> {
    const { length } = planes[0]!;
    if (length === 0) return;
    const buffer = new AudioBuffer({ length, numberOfChannels, sampleRate });
    planes.forEach((plane, c) => buffer.copyToChannel(plane, c));
    yield { buffer, at: made / sampleRate };
    made += length;
  };
  let taken = 0;
  // So little at a time that the worker never seems to stand still.
  const most = Math.ceil(sampleRate * Math.min(MOST_SECONDS, MOST_SECONDS * speed));
  const add = async function* (planes: readonly Float32Array[]): AsyncGenerator<SoundPiece> {
    const { length } = planes[0]!;
    for (let from = 0; from < length; from += most) {
      const parts = planes.map((plane) => plane.slice(from, from + most));
      taken += parts[0]!.length;
      const moved = parts.map(({ buffer }) => buffer);
      yield* heard(await worker.call.add(transfer(parts, moved)));
    }
  };
  const each = (plane: (c: number) => Float32Array): Float32Array[] =>
    Array.from({ length: numberOfChannels }, (_, c) => plane(c));
  const addSilence = async function* (until: number): AsyncGenerator<SoundPiece> {
    while (taken < until) {
      const length = Math.min(most, until - taken);
      yield* add(each(() => new Float32Array(length)));
    }
  };
  try {
    await worker.call.begin(numberOfChannels, sampleRate, speed);
    for await (const { buffer, at } of soundPieces(track, from, to)) {
      const due = Math.round(at * sampleRate);
      yield* addSilence(due);
      const early = taken - due;
      yield* add(each((c) => buffer.getChannelData(c).subarray(early)));
    }
    yield* addSilence(Math.round((to - from) * sampleRate));
    yield* heard(await worker.call.finish(Math.round(((to - from) / speed) * sampleRate)));
  } finally {
    worker.end();
  }
}
