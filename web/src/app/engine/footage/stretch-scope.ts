/*
 * The library that stretches sound is written for an audio worklet, whose scope this one lends it: so it runs at its own
 * pace, as fast as it can, in any worker. To be imported before the library.
 */

/** The library's processor, as a worklet would make one. */
export interface StretchProcessor {
  port: { onmessage: (event: { data: readonly unknown[] }) => void };
  /** @param outputs planes of one block, to be filled. */
  process(inputs: readonly Float32Array[][], outputs: readonly Float32Array[][]): boolean;
}

type StretchProcessorClass = new (options: {
  numberOfOutputs: number;
  outputChannelCount: number[];
}) => StretchProcessor;

class Processor {
  readonly port = {
    onmessage: null,
    postMessage: (message: readonly unknown[]): void => {
      if (message[0] === 'ready') readyOf.get(this)?.();
    },
  };
}

const readyOf = new WeakMap<object, () => void>();
let processorClass: StretchProcessorClass | null = null;

const scope = Object.assign(globalThis, {
  AudioWorkletProcessor: Processor,
  registerProcessor: (_: string, made: StretchProcessorClass): void => void (processorClass = made),
  sampleRate: 0,
  currentTime: 0,
});

/** A processor for sound of so many channels and samples a second, when it is ready. */
export async function stretchProcessor(channels: number, sampleRate: number): Promise<StretchProcessor> {
  scope.sampleRate = sampleRate;
  const made = new processorClass!({ numberOfOutputs: 1, outputChannelCount: [channels] });
  await new Promise<void>((resolve) => readyOf.set(made, resolve));
  return made;
}

/** Sets the clock that processors read, in seconds. */
export const setStretchTime = (seconds: number): void => void (scope.currentTime = seconds);
