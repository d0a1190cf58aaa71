import { ALL_FORMATS, BlobSource, Input, type InputAudioTrack, LogLevel, Logging } from 'mediabunny';
import { soundPieces, stretchedPieces } from './stretched-sound';

// What is wrong with the sound is said by who plays it.
Logging.level = LogLevel.Silent;

/** Seconds of sound that are handed over before they are heard. */
const AHEAD_SECONDS = 1;
/** Seconds from asking for sound until it is heard: the first of it is decoded meanwhile, and stretched. */
const LEAD_SECONDS = { asItIs: 0.06, stretched: 0.25 };
/** Milliseconds in which the sound device must begin. */
const PATIENCE_MS = 1500;

interface Round {
  /** When, on the context's clock, the sound begins to leave it. */
  start: number;
  nodes: Set<AudioBufferSourceNode>;
}

/** Plays the sound of a clip. While it does, its clock is that of the sound device: pictures keep to it. */
export class PlayedSound {
  private readonly gain: GainNode;
  private round: Round | null = null;

  private constructor(
    private readonly context: AudioContext,
    private readonly track: InputAudioTrack,
    /** Where the clip's times begin in those of the file. */
    private readonly origin: number,
  ) {
    this.gain = context.createGain();
    this.gain.connect(context.destination);
  }

  /** Opens the sound of a clip; null where this browser cannot play it. */
  static async open(file: Blob): Promise<PlayedSound | null> {
    const input = new Input({ source: new BlobSource(file), formats: ALL_FORMATS });
    const track = await input.getPrimaryAudioTrack();
    if (!track || !(await track.canDecode())) return null;
    const origin = (await (await input.getPrimaryVideoTrack())?.getFirstTimestamp()) ?? 0;
    return new PlayedSound(new AudioContext({ latencyHint: 'playback' }), track, origin);
  }

  /** @param factor that the sound is multiplied by. */
  setLoudness(factor: number): void {
    this.gain.gain.value = factor;
  }

  /**
   * Plays a part of the clip; what played before ends.
   * @param from, to in seconds of the clip. @param speed how much faster it is heard, at its own pitch.
   * @returns false where the sound device does not begin.
   */
  async start(from: number, to: number, speed: number): Promise<boolean> {
    this.stop();
    const { context } = this;
    const patience = new Promise((resolve) => setTimeout(resolve, PATIENCE_MS));
    await Promise.race([context.resume(), patience]);
    if (context.state !== 'running') return false;
    const lead = speed === 1 ? LEAD_SECONDS.asItIs : LEAD_SECONDS.stretched;
    const round: Round = { start: context.currentTime + lead, nodes: new Set() };
    this.round = round;
    // Where a part of it cannot be decoded there is silence; the clock goes on.
    this.schedule(round, from + this.origin, to + this.origin, speed).catch(() => undefined);
    return true;
  }

  /** Seconds that were heard; below 0 until it begins. Null where nothing plays, or the device stands still. */
  get heard(): number | null {
    const { context, round } = this;
    if (!round || context.state !== 'running') return null;
    return context.currentTime - (context.outputLatency || 0) - round.start;
  }

  stop(): void {
    for (const node of this.round?.nodes ?? []) node.stop();
    this.round = null;
  }

  close(): void {
    this.stop();
    void this.context.close();
  }

  private async schedule(round: Round, from: number, to: number, speed: number): Promise<void> {
    const { context, track } = this;
    const pieces = speed === 1 ? soundPieces(track, from, to) : stretchedPieces(track, from, to, speed);
    for await (const { buffer, at } of pieces) {
      const due = round.start + at;
      const wait = due - AHEAD_SECONDS - context.currentTime;
      if (wait > 0) await new Promise((resolve) => setTimeout(resolve, wait * 1000));
      if (this.round !== round) return;
      // The first begins before the part, and what comes late is heard from where it ought to be by now.
      const late = Math.max(0, round.start - due, context.currentTime - due);
      if (late >= buffer.duration) continue;
      const node = context.createBufferSource();
      node.buffer = buffer;
      node.connect(this.gain);
      node.start(due + late, late, Math.max(0, (to - from) / speed - at - late));
      round.nodes.add(node);
      node.addEventListener('ended', () => round.nodes.delete(node));
    }
  }
}
