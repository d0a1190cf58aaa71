import { type StretchProcessor, setStretchTime, stretchProcessor } from './stretch-scope';
import 'signalsmith-stretch';

/** Samples that are made at a time, as in an audio worklet: longer ones are heard as a flutter. */
const BLOCK = 128;
/** Seconds that go by before the first sample is made as well as those after it. */
const LEAD_SECONDS = 0.25;
/** Seconds of sound behind, and ahead, that the library may look at. */
const REACH_SECONDS = 0.25;

/** Blocks that are made at a time, at least: each time the library gets anew what it may look at. */
const LEAST_BLOCKS = 64;

/** Makes sound faster or slower at its own pitch, piece by piece. One at a time in each scope. */
export class SoundStretcher {
  /** What came in and may still be looked at, channel by channel, and the place of its first sample. */
  private window: Float32Array[];
  private windowStart = 0;
  /** Blocks that were made, some of them before the sound begins. */
  private made = 0;
  private readonly lead: number;

  private constructor(
    private readonly processor: StretchProcessor,
    channels: number,
    private readonly sampleRate: number,
    private readonly speed: number,
  ) {
    this.window = Array.from({ length: channels }, () => new Float32Array(0));
    this.lead = Math.ceil((LEAD_SECONDS * sampleRate) / BLOCK) * BLOCK;
  }

  /** @param speed how much faster it becomes. */
  static async open(channels: number, sampleRate: number, speed: number): Promise<SoundStretcher> {
    setStretchTime(0);
    const processor = await stretchProcessor(channels, sampleRate);
    return new SoundStretcher(processor, channels, sampleRate, speed);
  }

  /** Takes the next samples, channel by channel. @returns what can be made with them, channel by channel. */
  add(planes: readonly Float32Array[]): Float32Array<ArrayBuffer>[] {
    this.window = this.window.map((plane, c) => joined(plane, planes[c]!));
    const ready = this.windowStart + this.window[0]!.length - REACH_SECONDS * this.sampleRate;
    const blocks = Math.floor((ready / this.speed + this.lead) / BLOCK) - this.made;
    return this.make(blocks < LEAST_BLOCKS ? 0 : blocks);
  }

  /** @returns the rest up to so many samples in all; silence where no more came in. */
  finish(samples: number): Float32Array<ArrayBuffer>[] {
    const given = Math.max(0, this.made * BLOCK - this.lead);
    const rest = this.make(Math.max(0, Math.ceil((samples + this.lead) / BLOCK) - this.made));
    return rest.map((plane) => plane.slice(0, Math.max(0, samples - given)));
  }

  private make(blocks: number): Float32Array<ArrayBuffer>[] {
    const { sampleRate, speed, lead, made: first } = this;
    const planes = this.window.map(() => new Float32Array(blocks * BLOCK));
    if (blocks === 0) return planes;
    // One buffer at a time: the library loses its place where it goes from one to the next.
    const output = (first * BLOCK) / sampleRate;
    const input = ((first * BLOCK - lead) * speed - this.windowStart) / sampleRate;
    setStretchTime(output);
    this.send('dropBuffers');
    if (this.window[0]!.length > 0) this.send('addBuffers', this.window);
    this.send('schedule', { active: true, outputTime: output, output, input, rate: speed });
    for (let i = 0; i < blocks; i++) {
      setStretchTime(((first + i) * BLOCK) / sampleRate);
      const at = i * BLOCK;
      this.processor.process([[]], [planes.map((plane) => plane.subarray(at, at + BLOCK))]);
    }
    this.made += blocks;
    const behind = Math.floor((this.made * BLOCK - lead) * speed - REACH_SECONDS * sampleRate);
    const past = Math.min(this.window[0]!.length, Math.max(0, behind - this.windowStart));
    this.window = this.window.map((plane) => plane.slice(past));
    this.windowStart += past;
    return planes.map((plane) => plane.slice(Math.max(0, lead - first * BLOCK)));
  }

  private send(...message: readonly unknown[]): void {
    this.processor.port.onmessage({ data: [0, ...message] });
  }
}

function joined(one: Float32Array, next: Float32Array): Float32Array {
  const both = new Float32Array(one.length + next.length);
  both.set(one);
  both.set(next, one.length);
  return both;
}
