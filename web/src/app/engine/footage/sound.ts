import {
  ALL_FORMATS,
  BlobSource,
  EncodedAudioPacketSource,
  EncodedPacketSink,
  Input,
  type InputAudioTrack,
  type Output,
} from 'mediabunny';

/** The sound of a part of a clip; times are the clip's own, in seconds. */
export interface Sound {
  file: Blob;
  from: number;
  to: number;
}

/** True where the pace leaves the sound as it is: nothing is faster, turned round or held. */
export function keepsSound(pace: { on: boolean; speed: number; curve: unknown; direction: string }): boolean {
  return !pace.on || (pace.speed === 1 && pace.curve === null && pace.direction === 'forward');
}

/** Copies the sound of a clip into a film, packet by packet, as it is coded. */
export class SoundCopy {
  private constructor(
    private readonly sound: Sound,
    private readonly track: InputAudioTrack,
    private readonly source: EncodedAudioPacketSource,
  ) {}

  /** Gives an output that has not started a track for a sound; null where its kind of file cannot hold it. */
  static async into(output: Output, sound: Sound): Promise<SoundCopy | null> {
    const input = new Input({ source: new BlobSource(sound.file), formats: ALL_FORMATS });
    const track = await input.getPrimaryAudioTrack();
    const codec = await track?.getCodec();
    if (!track || !codec || !output.format.getSupportedAudioCodecs().includes(codec)) return null;
    const source = new EncodedAudioPacketSource(codec);
    output.addAudioTrack(source);
    return new SoundCopy(sound, track, source);
  }

  async write(): Promise<void> {
    const { from, to } = this.sound;
    const decoderConfig = await this.track.getDecoderConfig();
    const origin =
      (await this.track.input.getPrimaryVideoTrack().then((video) => video?.getFirstTimestamp())) ?? 0;
    for await (const packet of new EncodedPacketSink(this.track).packets()) {
      const timestamp = packet.timestamp - origin - from;
      if (timestamp < 0) continue;
      if (timestamp >= to - from) break;
      await this.source.add(packet.clone({ timestamp }), decoderConfig ? { decoderConfig } : undefined);
    }
    this.source.close();
  }
}
