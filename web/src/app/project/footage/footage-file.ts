import { frameRate } from '@hazy-lens/core';
import type { MediaSource } from '../../engine/media-source';
import type { FootageInfo } from '../../model/project';

/** What is stored of footage beside its file; null for a still. */
export function footageInfo({ footage, frames }: MediaSource): FootageInfo | null {
  if (!footage) return null;
  const { times, codec, sound } = footage;
  return { frames, seconds: times.end, fps: frameRate(times), codec, sound };
}
