import { expose, transfer } from 'comlink';
import { SoundStretcher } from './stretch';

let stretcher: SoundStretcher | null = null;

const moved = (planes: Float32Array<ArrayBuffer>[]): Float32Array<ArrayBuffer>[] =>
  transfer(
    planes,
    planes.map(({ buffer }) => buffer),
  );

/** Stretches one sound, see `SoundStretcher`. */
const worker = {
  async begin(channels: number, sampleRate: number, speed: number): Promise<void> {
    stretcher = await SoundStretcher.open(channels, sampleRate, speed);
  },
  add: (planes: Float32Array[]): Float32Array<ArrayBuffer>[] => moved(stretcher!.add(planes)),
  finish: (samples: number): Float32Array<ArrayBuffer>[] => moved(stretcher!.finish(samples)),
};

export type StretchWorker = typeof worker;

expose(worker);
