import {
  ALL_FORMATS,
  AudioBufferSource,
  AudioSampleSink,
  AudioSampleSource,
  BlobSource,
  EncodedAudioPacketSource,
  EncodedPacketSink,
  Input,
  type InputAudioTrack,
  type Output,
  canEncodeAudio,
} from 'mediabunny';
import { stretchedPieces } from './stretched-sound';

/** The sound of a part of a clip; times are the clip's own, in seconds. */
export interface Sound {
  file: Blob;
  from: number;
  to: number;
  /** How much faster it is heard, at its own pitch. */
  speed: number;
}

/**
 * Brings the sound of a clip into a film: packet by packet as it is coded, or as Opus where the film cannot hold that, or it
 * is heard at another speed.
 */
export interface SoundTrack {
  /** Writes so many seconds of it, as far as there are, and closes the track. */
  write(seconds: number): Promise<void>;
}

/** Bits a second of a sound that is coded anew. */
const OPUS_BITRATE = 160_000;

/** Gives an output that has not started a track for a sound; null where this browser cannot put it there. */
export async function soundTrack(output: Output, sound: Sound): Promise<SoundTrack | null> {
  const input = new Input({ source: new BlobSource(sound.file), formats: ALL_FORMATS });
  const track = await input.getPrimaryAudioTrack();
  const codec = await track?.getCodec();
  if (!track || !codec) return null;
  const video = await input.getPrimaryVideoTrack();
  const origin = (await video?.getFirstTimestamp()) ?? 0;
  const held = output.format.getSupportedAudioCodecs();
  const inFilm = (timestamp: number): number => timestamp - origin - sound.from;
  const within = (seconds: number): number => Math.min(seconds, sound.to - sound.from);
  if (sound.speed === 1 && held.includes(codec)) {
    const source = new EncodedAudioPacketSource(codec);
    output.addAudioTrack(source);
    return { write: (seconds) => copyPackets(track, source, inFilm, within(seconds)) };
  }
  const { numberOfChannels, sampleRate } = track;
  const asOpus = { numberOfChannels, sampleRate, bitrate: OPUS_BITRATE };
  if (!held.includes('opus') || !(await track.canDecode()) || !(await canEncodeAudio('opus', asOpus)))
    return null;
  if (sound.speed !== 1) {
    const source = new AudioBufferSource({ codec: 'opus', bitrate: OPUS_BITRATE });
    output.addAudioTrack(source);
    const from = origin + sound.from;
    const longest = (sound.to - sound.from) / sound.speed;
    return {
      write: async (seconds) => {
        const to = from + Math.min(seconds, longest) * sound.speed;
        for await (const { buffer } of stretchedPieces(track, from, to, sound.speed))
          await source.add(buffer);
        source.close();
      },
    };
  }
  const source = new AudioSampleSource({ codec: 'opus', bitrate: OPUS_BITRATE });
  output.addAudioTrack(source);
  return { write: (seconds) => encode(track, source, inFilm, within(seconds)) };
}

async function copyPackets(
  track: InputAudioTrack,
  source: EncodedAudioPacketSource,
  inFilm: (timestamp: number) => number,
  length: number,
): Promise<void> {
  const decoderConfig = await track.getDecoderConfig();
  for await (const packet of new EncodedPacketSink(track).packets()) {
    const timestamp = inFilm(packet.timestamp);
    if (timestamp < 0) continue;
    if (timestamp >= length) break;
    await source.add(packet.clone({ timestamp }), decoderConfig ? { decoderConfig } : undefined);
  }
  source.close();
}

async function encode(
  track: InputAudioTrack,
  source: AudioSampleSource,
  inFilm: (timestamp: number) => number,
  length: number,
): Promise<void> {
  for await (const sample of new AudioSampleSink(track).samples()) {
    const timestamp = inFilm(sample.timestamp);
    const isIn = timestamp >= 0 && timestamp < length;
    if (isIn) {
      sample.setTimestamp(timestamp);
      await source.add(sample);
    }
    sample.close();
    if (timestamp >= length) break;
  }
  source.close();
}
